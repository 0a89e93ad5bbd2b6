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
  const wanted = useRef<(() => Promise<void>) | null>(null);
  const busy = useRef(false);
  useEffect(() => {
    const sharp = Math.min(2, window.devicePixelRatio || 1);
    const drawn = Math.round(Math.min(width * sharp, 720) / 2) * 2;
    // One at a time: while it plays, what is wanted last is drawn as soon as it can be, and nothing queues up.
    wanted.current = async () => {
      const picture = (await engine?.still(piece, time, drawn, useEditor.getState().playing)) ?? null;
      const node = canvas.current;
      if (!picture || !node) return picture?.close();
      [node.width, node.height] = [picture.width, picture.height];
      node.getContext('2d')?.drawImage(picture, 0, 0);
      node.dataset.time = String(time);
      picture.close();
    };
    const drain = async () => {
      if (busy.current) return;
      busy.current = true;
      for (let next = wanted.current; next; next = wanted.current) {
        wanted.current = null;
        await next();
      }
      busy.current = false;
    };
    void drain();
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
