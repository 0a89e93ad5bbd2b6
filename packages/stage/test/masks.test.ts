import { createCanvas } from '@napi-rs/canvas';
import { seenThrough, TRANSITIONS, type Layer, type Mask } from '@flimzy/core/frame';
import { Transition } from '@flimzy/core/properties';
import { drawMask } from '../masks';
import type { DrawContext, Scratch } from '../context';

const FRAME = { width: 54, height: 96 };
const canvas = () => {
  const image = createCanvas(FRAME.width, FRAME.height);
  return { image, context: image.getContext('2d') as unknown as DrawContext<typeof image> };
};

/** How much is seen at each pixel of what a mask is drawn as, 0 to 1. */
function drawn(mask: Mask): number[] {
  const { image, context } = canvas();
  const layers = new Map<number, ReturnType<typeof canvas>>();
  const layer = (n: number) => layers.get(n) ?? layers.set(n, canvas()).get(n)!;
  drawMask(context, mask, { ...FRAME, scale: 1, scratch: { layer } as unknown as Scratch<typeof image> });
  const { data } = image.getContext('2d').getImageData(0, 0, FRAME.width, FRAME.height);
  return Array.from({ length: FRAME.width * FRAME.height }, (_, n) => data[n * 4 + 3]! / 255);
}

/** A line that crosses itself, as a finger may draw it: what it goes round twice is in it as well. */
const LOOP = [
  [-0.8, -0.6],
  [0.8, -0.6],
  [0.8, 0.7],
  [-0.4, 0.7],
  [-0.4, -0.9],
  [0.5, -0.9],
  [0.5, 0.3],
  [-0.8, 0.3],
] as const;

const masksOf = (layers: readonly Layer[]): Mask[] =>
  layers.flatMap((layer) => (layer.kind === 'group' ? [...(layer.mask ? [layer.mask] : []), ...masksOf(layer.layers)] : []));

describe('what a mask lets be seen', () => {
  const fill: Layer[] = [{ kind: 'fill', colour: '#ffffff' }];
  const wishes = [
    ...(['left', 'right', 'up', 'down'] as const).map((direction) => ({ kind: 'wipe', direction })),
    { kind: 'circle' },
    ...(['star', 'heart', 'diamond', 'burst', 'kite'] as const).map((shape) => ({ kind: 'shape', shape })),
    { kind: 'shape', shape: 'drawn', drawn: LOOP.map(([x, y]) => [x, y]) },
  ];

  it.each(wishes)('is worked out as it is drawn: $kind $direction $shape', (wish) => {
    let edges = 0;
    for (const soft of [0, 0.4])
      for (const at of [0, 0.3, 0.8])
        for (const to of [fill, []]) {
          const transition = Transition.parse({ length: 1, ...wish, soft });
          const [mask] = masksOf(TRANSITIONS[transition.kind].draw(at, fill, to, FRAME, transition));
          if (!mask) continue;
          const looked = drawn(mask).flatMap((seen, n) => (n % 5 === 0 ? [{ seen, n }] : []));
          const far = looked.filter(({ seen, n }) => {
            const point = { x: (n % FRAME.width) + 0.5, y: Math.floor(n / FRAME.width) + 0.5 };
            const said = seenThrough(mask, point, FRAME);
            if (said > 0.05 && said < 0.95) edges += 1;
            // A pixel on a hard edge is seen in part.
            return Math.abs(said - seen) > (soft ? 0.08 : 0.5);
          });
          expect([mask, far.length / looked.length < 0.03]).toEqual([mask, true]);
        }
    expect(edges).toBeGreaterThan(60);
  });
});
