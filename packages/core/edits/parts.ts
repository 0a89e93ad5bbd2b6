import { z } from 'zod';
import { clipEnd } from '../piece';
import { defineEdit, EditRefused } from './edit';
import { ReachParam, Time } from './params';

/** Takes parts out of clips (pauses, bad takes), linked sound along, and closes up. */
export const takeOutParts = defineEdit({
  params: z.object({
    /** Stretches of the timeline within a clip each, in flicks on frames; they must not overlap. */
    parts: z
      .array(z.object({ clip: z.string(), from: Time, to: Time }))
      .min(1)
      .max(20_000),
    rest: z.enum(['close', 'leave']).default('close'),
    tracks: ReachParam,
  }),
  title: ({ parts }) => `Take out ${parts.length === 1 ? 'a pause' : `${parts.length} pauses`}`,
  apply(_draft, { parts, rest, tracks }, { plan }) {
    for (const { clip: id, from, to } of [...parts].sort((a, b) => b.from - a.from)) {
      const { clip, lane } = plan.find(id);
      if (from < clip.start || to > clipEnd(clip) || to <= from)
        throw new EditRefused(`“${clip.name}” does not cover that stretch any more.`);
      const middle = plan.part(lane, from, to);
      if (!middle) throw new EditRefused('The pause could not be cut out.');
      const inside = plan.group(middle.id).filter((one) => one.clip.start >= from && clipEnd(one.clip) <= to);
      for (const one of inside) plan.remove(one.clip.id);
      if (rest === 'close') plan.shift(plan.after(plan.reach([lane], tracks), to), from - to);
    }
  },
});
