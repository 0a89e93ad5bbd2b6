import type { Piece } from '@flimzy/core/piece';
import type { Flicks } from '@flimzy/core/time';
import { useEffect, useRef } from 'react';
import { useEditor } from '../open/editor';

/** One exact frame of a piece, with a label unless what it stands in has one, drawn apart from the preview. A later time overtakes an earlier one; the old frame stays until then. */
export function Still({
  piece,
  time,
  width,
  label,
  testID,
}: {
  piece: Piece;
  time: Flicks;
  width: number;
  label: string;
  testID?: string;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const engine = useEditor((s) => s.engine);
  const height = Math.round((width * piece.format.height) / piece.format.width);
  useEffect(() => {
    let over = false;
    const sharp = Math.min(2, window.devicePixelRatio || 1);
    const drawn = Math.round(Math.min(width * sharp, 720) / 2) * 2;
    void engine?.still(piece, time, drawn).then((picture) => {
      const node = canvas.current;
      if (!picture || over || !node) return picture?.close();
      [node.width, node.height] = [picture.width, picture.height];
      node.getContext('2d')?.drawImage(picture, 0, 0);
      node.dataset.time = String(time);
      picture.close();
    });
    return () => {
      over = true;
    };
  }, [engine, piece, time, width]);
  return (
    <canvas
      ref={canvas}
      {...(label === '' ? { 'aria-hidden': true } : { role: 'img', 'aria-label': label })}
      data-testid={testID}
      style={{ width, height, display: 'block', borderRadius: 10, background: '#000' }}
    />
  );
}
