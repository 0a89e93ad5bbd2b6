import type { DrawnPart } from '@flimzy/core/frame';
import type { Overlay } from '@flimzy/core/properties';
import { drawFrame, filesFor, type Scratch } from '@flimzy/stage';
import { useEffect, useRef } from 'react';
import { getFonts } from '../material/fonts';

/** A title has no pictures and no groups: nothing is drawn on the side. */
const none = () => {
  throw new Error('a title needs no scratch canvas');
};
const NO_SCRATCH: Scratch<CanvasImageSource> = { canvas: none, layer: none, pixels: none };

/** A title in a frame of its own, small. */
export function TitleThumb({ overlay, format, width }: { overlay: Overlay; format: { width: number; height: number }; width: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const height = Math.round((width * format.height) / format.width);
  useEffect(() => {
    let over = false;
    const parts: DrawnPart[] = overlay.parts.map((part) =>
      part.kind === 'shape' && part.shape === 'progress' ? { ...part, share: 0.6 } : part,
    );
    const whole = { x: 0, y: 0, width: format.width, height: format.height };
    const layers = [
      { kind: 'fill' as const, colour: '#5a6a70', to: '#39434a' },
      { kind: 'overlay' as const, parts, opacity: 1, rect: whole },
    ];
    const draw = () => {
      const node = canvas.current;
      const context = node?.getContext('2d');
      if (!node || !context || over) return;
      [node.width, node.height] = [width * 2, height * 2];
      drawFrame<CanvasImageSource>(
        context,
        { width: format.width, height: format.height, layers },
        node.width / format.width,
        () => null,
        NO_SCRATCH,
      );
    };
    void getFonts(filesFor(layers)).then(draw, draw);
    return () => {
      over = true;
    };
  }, [overlay, format.width, format.height, width, height]);
  return <canvas ref={canvas} aria-hidden style={{ width, height, display: 'block', borderRadius: 8 }} />;
}
