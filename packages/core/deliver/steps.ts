import {
  baseOf,
  cornersOf,
  covers,
  isColour,
  isEven,
  isLaid,
  isPlain,
  type Base,
  type Layer,
  type Mask,
  type Placed,
  type PictureRef,
  type Size,
} from '../frame';
import type { Effect } from '../properties';

/** What a frame is made of where little of it has to be drawn: each step goes over what those before it have made, which begins black. */
export type Step =
  /** A picture as its decoder brings it into the frame, its colours changed, so much of it seen. */
  | { kind: 'picture'; base: Base; share: number }
  /** A picture laid anywhere, its colours changed, so much of it seen: placed in a frame that is placed in the next, the piece's last. */
  | { kind: 'placed'; picture: PictureRef; places: Placed[]; effects: Effect[]; share: number }
  /** A colour, or one going over into another from top to bottom, so much of it seen. */
  | { kind: 'fill'; colour: string; to?: string; share: number }
  /** What is drawn: titles, and pictures through which something shines. */
  | { kind: 'titles'; layers: Layer[] }
  /** A picture made soft, behind one that does not fill the frame. */
  | { kind: 'backdrop'; layer: Extract<Layer, { kind: 'backdrop' }> }
  /** Effects of colour on all of it. */
  | { kind: 'colours'; effects: Effect[] }
  /** Any other effect on all of it, and what its chance begins with. */
  | { kind: 'effect'; effect: Effect; seed: number }
  /** Steps that make a frame of their own, out of focus, so much of it seen, through a mask, or laid anywhere. */
  | { kind: 'group'; steps: Step[]; share: number; soft?: number; mask?: Mask; placed?: Placed };

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
  if (first?.kind === 'picture' && first.opacity < 1) {
    const whole = plainBase([{ ...first, opacity: 1 }]);
    return whole && { base: { ...whole, over: layers.slice(1) }, share: first.opacity };
  }
  if (first?.kind !== 'group' || first.placed || first.mask || first.soft || !(first.effects ?? []).every(isColour)) return null;
  const inner = plainBase(first.layers);
  if (!inner || inner.over.length > 0) return null;
  const effects = [...inner.effects, ...(first.effects ?? [])];
  return { base: { ...inner, effects, over: layers.slice(1) }, share: first.opacity };
}

const fills = ({ picture, behind }: Base, frame: Size) => behind !== null || covers(picture, frame);

/** Steps, and whether they leave nothing open of what is under them. */
interface Made {
  steps: Step[];
  full: boolean;
}

/** Something placed with what reaches past the frame cut off; null where that cannot be told by cutting its edges. */
function cutTo(placed: Placed, { width, height }: Size): Placed | null {
  if (cornersOf(placed).every(({ x, y }) => x >= -1e-6 && y >= -1e-6 && x <= width + 1e-6 && y <= height + 1e-6)) return placed;
  if (!isLaid(placed)) return null;
  const { rect } = placed;
  const past = (out: number, long: number) => Math.max(0, Math.min(1, out / long));
  const crop = {
    left: past(-rect.x, rect.width),
    top: past(-rect.y, rect.height),
    right: past(rect.x + rect.width - width, rect.width),
    bottom: past(rect.y + rect.height - height, rect.height),
  };
  return { ...placed, crop };
}

/** What a group comes to that leaves something open: its only picture, as the group is laid and seen. */
function onlyPicture(steps: readonly Step[], group: Extract<Layer, { kind: 'group' }>, frame: Size): Step | null {
  const [only, ...more] = steps;
  if (!only || more.length > 0 || group.mask) return null;
  if (only.kind === 'picture' && !group.placed) {
    const effects = [...only.base.effects, ...(group.effects ?? [])];
    return { ...only, base: { ...only.base, effects }, share: only.share * group.opacity };
  }
  if (only.kind !== 'placed') return null;
  const last = only.places.at(-1) as Placed;
  const cut = group.placed && only.places.length === 1 ? cutTo(last, frame) : last;
  if (!cut || (group.placed && only.places.length > 1)) return null;
  return {
    ...only,
    places: group.placed ? [cut, group.placed] : only.places,
    effects: [...only.effects, ...(group.effects ?? [])],
    share: only.share * group.opacity,
  };
}

/** Steps that fill the frame with effects on them, in their order: those of colour that follow each other in one go. */
function affected(steps: Step[], effects: readonly Effect[], seed: number): Step[] {
  let made = steps;
  for (const effect of effects) {
    const last = made.at(-1);
    if (effect.kind === 'blur') made = [{ kind: 'group', steps: made, share: 1, soft: effect.amount }];
    else if (!isColour(effect)) made = [...made, { kind: 'effect', effect, seed }];
    else if (last?.kind === 'colours' && made !== steps)
      made = [...made.slice(0, -1), { kind: 'colours', effects: [...last.effects, effect] }];
    else made = [...made, { kind: 'colours', effects: [effect] }];
  }
  return made;
}

function groupSteps(group: Extract<Layer, { kind: 'group' }>, frame: Size): Made | null {
  const { opacity, placed, mask, soft = 0, effects = [], seed = 0 } = group;
  if (mask && (placed || opacity < 1)) return null;
  const inner = stepsIn(group.layers, frame, false);
  if (!inner) return null;
  if (!inner.full) {
    if (opacity === 1 && !placed && !mask && soft === 0 && effects.length === 0) return inner;
    const only = soft > 0 || !effects.every(isColour) ? null : onlyPicture(inner.steps, group, frame);
    return only && { steps: [only], full: false };
  }
  const blurred: Step[] = soft > 0 ? [{ kind: 'group', steps: inner.steps, share: 1, soft }] : inner.steps;
  const steps = affected(blurred, effects, seed);
  if (opacity === 1 && !placed && !mask) return { steps, full: true };
  const step: Step = { kind: 'group', steps, share: opacity, ...(mask && { mask }), ...(placed && { placed }) };
  return { steps: [step], full: opacity === 1 && !mask && (!placed || covers(placed, frame)) };
}

/** @param full nothing is open under the first of the layers */
function stepsIn(layers: readonly Layer[], frame: Size, full: boolean): Made | null {
  const made: Made = { steps: [], full };
  const add = (step: Step, all: boolean) => {
    made.steps.push(step);
    made.full ||= all;
  };
  for (let rest = layers; rest.length > 0;) {
    const first = rest[0] as Layer;
    const seen = pictureOf(rest);
    const alone =
      seen &&
      (fills(seen.base, frame) || (full && made.steps.length === 0 && (seen.base.effects.length === 0 || isEven(seen.base.picture.rect))));
    if (alone) {
      add({ kind: 'picture', base: { ...seen.base, over: [] }, share: seen.share }, seen.share === 1);
      rest = seen.base.over;
      continue;
    }
    if (first.kind === 'overlay' || (first.kind === 'picture' && first.picture.alpha)) {
      const last = made.steps.at(-1);
      if (last?.kind === 'titles') last.layers.push(first);
      else add({ kind: 'titles', layers: [first] }, false);
    } else if (first.kind === 'fill') {
      const { colour, to, opacity = 1 } = first;
      add({ kind: 'fill', colour, ...(to !== undefined && { to }), share: opacity }, opacity === 1);
    } else if (first.kind === 'backdrop' && !first.picture.alpha) {
      add({ kind: 'backdrop', layer: first }, true);
    } else if (first.kind === 'picture') {
      const { kind: _, picture, opacity, ...placed } = first;
      add({ kind: 'placed', picture, places: [placed], effects: [], share: opacity }, opacity === 1 && covers(placed, frame));
    } else if (first.kind === 'group') {
      const inner = groupSteps(first, frame);
      if (!inner) return null;
      made.steps.push(...inner.steps);
      made.full ||= inner.full;
    } else return null;
    rest = rest.slice(1);
  }
  return made;
}

/** Layers as steps; null where more has to be drawn. @param frame size of the piece */
export const stepsOf = (layers: readonly Layer[], frame: Size): Step[] | null => stepsIn(layers, frame, true)?.steps ?? null;

/** All steps, those within others too, and not what holds them. */
export const flatSteps = (steps: readonly Step[]): Exclude<Step, { kind: 'group' }>[] =>
  steps.flatMap((step) => (step.kind === 'group' ? flatSteps(step.steps) : [step]));
