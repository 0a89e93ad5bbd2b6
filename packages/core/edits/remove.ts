import { z } from 'zod';
import { clipNames, defineEdit } from './edit';
import { detachSound } from './detach';
import { takeOut } from './hole';
import { ClipIds, ReachParam } from './params';

/** Takes clips out, linked sound along. */
export const remove = defineEdit({
  params: z.object({
    clips: ClipIds,
    /** `close`: what follows moves up. `leave`: a gap stays, and nothing moves. */
    rest: z.enum(['close', 'leave']),
    tracks: ReachParam,
    /** Whether what is linked to them, such as their detached sound, goes along or stays where it is. */
    linked: z.enum(['along', 'stay']).default('along'),
    /** True: the sound of removed pictures stays in place, on a sound track; only with `leave`. */
    keepSound: z.boolean().default(false),
  }),
  title: ({ clips, rest, linked, keepSound }, piece) => {
    const what = `${clipNames(piece, clips)}${linked === 'stay' ? ' alone' : ''}`;
    if (keepSound) return `Delete the picture of ${what}, keep the sound`;
    return rest === 'close' ? `Delete ${what}, close the gap` : `Delete ${what}, leave a gap`;
  },
  apply(draft, { clips, rest, tracks, linked, keepSound }, { plan, newId }) {
    if (!keepSound) return takeOut(plan, clips, rest, tracks, linked);
    for (const id of clips) {
      const { clip, lane } = plan.find(id);
      if (lane.track.kind !== 'picture') continue;
      detachSound(plan, draft, id, newId);
      const group = plan.group(id).filter((one) => one.clip.id !== id);
      plan.remove(clip.id);
      if (group.length === 1) for (const other of group) plan.set(other.clip.id, { link: undefined });
    }
  },
});
