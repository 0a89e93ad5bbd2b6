import { baseOf, covers, isColour, isPlain, type Base, type Layer, type Size } from '../frame';
import type { Effect } from '../properties';

/** What a frame is made of where nothing has to be drawn but titles: each step goes over what those before it have made, which begins black. */
export type Step =
  /** A picture as its decoder brings it into the frame, its colours changed, so much of it seen. */
  | { kind: 'picture'; base: Base; share: number }
  | { kind: 'titles'; layers: Layer[] }
  /** Effects of colour on all of it. */
  | { kind: 'colours'; effects: Effect[] };

/** What is under all else in a segment, where one decoder can make it alone: a picture, its backdrop, its colours; null where it is drawn. */
export function plainBase(layers: readonly Layer[]): Base | null {
  const base = baseOf(layers);
  return base && base.picture.opacity === 1 && !base.picture.picture.alpha && isPlain(base.picture) ? base : null;
}

/** The first of some layers as a picture of which so much is seen; null where it is anything else. */
function pictureOf(layers: readonly Layer[]): { base: Base; share: number } | null {
  const base = plainBase(layers);
  if (base) return { base, share: 1 };
  const [first] = layers;
  if (first?.kind !== 'group' || first.placed || first.mask || first.soft || !(first.effects ?? []).every(isColour)) return null;
  const inner = plainBase(first.layers);
  if (!inner || inner.over.length > 0) return null;
  const effects = [...inner.effects, ...(first.effects ?? [])];
  return { base: { ...inner, effects, over: layers.slice(1) }, share: first.opacity };
}

/** Whether a picture's part of the frame lies on whole samples of colour, of which there is one for two by two pixels. */
const isEven = ({ picture: { rect } }: Base) => [rect.x, rect.y, rect.width, rect.height].every((n) => n % 2 === 0);

const fills = ({ picture, behind }: Base, frame: Size) => behind !== null || covers(picture, frame);

/** Layers as steps; null where more has to be drawn. @param frame size of the piece */
export function stepsOf(layers: readonly Layer[], frame: Size): Step[] | null {
  const steps: Step[] = [];
  for (let rest = layers; rest.length > 0;) {
    const first = rest[0] as Layer;
    const last = steps.at(-1);
    const seen = pictureOf(rest);
    if (first.kind === 'overlay') {
      if (last?.kind === 'titles') last.layers.push(first);
      else steps.push({ kind: 'titles', layers: [first] });
      rest = rest.slice(1);
    } else if (seen) {
      const { base, share } = seen;
      if (!fills(base, frame) && (steps.length > 0 || (base.effects.length > 0 && !isEven(base)))) return null;
      steps.push({ kind: 'picture', base: { ...base, over: [] }, share });
      rest = base.over;
    } else if (first.kind === 'group' && steps.length === 0) {
      const { opacity, placed, mask, soft, effects = [] } = first;
      const inner = stepsOf(first.layers, frame);
      // Where nothing was drawn there is nothing to change: it stays black.
      const [lowest] = inner ?? [];
      if (!inner || lowest?.kind !== 'picture' || lowest.share < 1 || !fills(lowest.base, frame)) return null;
      if (opacity !== 1 || placed || mask || soft || !effects.every(isColour)) return null;
      steps.push(...inner, { kind: 'colours', effects });
      rest = rest.slice(1);
    } else return null;
  }
  return steps;
}
