import { z } from 'zod';
import { BLEND_MAX, clipEnd, EDGE_MAX, isHeard, roomToPull, soundSpan } from '../piece';
import { FLICKS_PER_SAMPLE, toSampleGrid } from '../time';
import { at, clipName, defineEdit, EditRefused } from './edit';
import { joined } from './seam';
import type { Plan } from './plan';

/** The crossfade where sound changes hands when nobody has said: 40 ms, in flicks. */
export const BLEND_LENGTH = FLICKS_PER_SAMPLE * 1_920;

const heard = (plan: Plan, id: string) => {
  const { clip } = plan.find(id);
  return isHeard(clip, plan.mediaOf(clip));
};

/**
 * Moves where a clip's sound starts or ends, apart from its picture. Where a neighbour joins, the sound changes hands there: the
 * neighbour's sound ends (or starts) at the same moment, with a crossfade.
 */
export const soundEdge = defineEdit({
  params: z.object({
    clip: z.string(),
    edge: z.enum(['head', 'tail']),
    /** Where its sound is to start or end, in flicks on the timeline; put on the nearest sample. */
    to: z.number().int(),
    /** Crossfade in flicks; by default 40 ms, or as it was. */
    blend: z.number().int().min(0).max(BLEND_MAX).optional(),
  }),
  title: ({ clip, edge }, piece) => `Sound ${edge === 'head' ? 'start' : 'end'} of ${clipName(piece, clip)}`,
  apply(_draft, { clip: id, edge, to, blend }, { plan }) {
    const { clip, lane } = plan.find(id);
    if (lane.track.kind !== 'picture' || !heard(plan, id)) throw new EditRefused(`“${clip.name}” has no sound of its own here.`);
    const mate = joined(plan, id, edge === 'head' ? 'before' : 'after');
    const other = mate && heard(plan, mate.id) ? mate : null;
    const [first, second] = edge === 'head' ? [other, clip] : [clip, other];
    const join = edge === 'head' ? clip.start : clipEnd(clip);
    const later = toSampleGrid(to - join);
    const length = blend ?? second?.blend ?? BLEND_LENGTH;
    if (first) needMaterial(plan, first.id, 'tail', join + later);
    if (second) needMaterial(plan, second.id, 'head', join + later);
    if (first) plan.set(first.id, { trail: later || undefined });
    if (second) plan.set(second.id, { lead: -later || undefined, blend: toSampleGrid(length) || undefined });
  },
});

/** Refuses a sound edge past the material or past the sound's other end. */
function needMaterial(plan: Plan, id: string, edge: 'head' | 'tail', to: number): void {
  const { clip } = plan.find(id);
  const span = soundSpan(clip);
  const left = roomToPull(clip, plan.mediaOf(clip))[edge];
  const wish = edge === 'head' ? clip.start - to : to - clipEnd(clip);
  if (wish > EDGE_MAX) throw new EditRefused('A sound edge reaches at most 30 s past its picture.');
  if (wish > left)
    throw new EditRefused(
      `“${clip.name}” has only ${at(plan.piece, left)} of sound left ${edge === 'head' ? 'before' : 'after'} its picture.`,
    );
  if (edge === 'head' ? to >= span.end : to <= span.start) throw new EditRefused(`No sound of “${clip.name}” would be left.`);
}
