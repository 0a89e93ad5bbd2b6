import { eased, whole, type TransitionKindEntry } from './kind';
import { coveringSize, outlineOf } from './outlines';

/** The new picture is seen in a shape that grows: one of ours, or one drawn by hand. */
export const shape: TransitionKindEntry = {
  takes: ['shape', 'soft'],
  draw(p, from, to, frame, { soft, shape: name, drawn }) {
    const points = outlineOf(name, drawn);
    const mask = { kind: 'outline' as const, points, size: coveringSize(points, frame), soft };
    return to.length === 0
      ? whole(from, 1, { mask: { ...mask, at: 1 - eased(p) } })
      : [...from, ...whole(to, 1, { mask: { ...mask, at: eased(p) } })];
  },
};
