import { z } from 'zod';
import { BLEND_MAX, crossfadeRoom, isHeard, seamAt } from '../piece';
import { sayFade } from '../properties';
import { toSampleGrid } from '../time';
import { clipNames, defineEdit, EditRefused } from './edit';
import { ClipIds } from './params';

/** Gives the joins before some clips a crossfade of the same length, or of as much as their material has room for; 0 makes plain cuts of them. */
export const crossfade = defineEdit({
  params: z.object({ /** The clip after each join. */ clips: ClipIds, length: z.number().int().min(0).max(BLEND_MAX) }),
  title: ({ clips, length }, piece) =>
    length === 0
      ? `No crossfade before ${clipNames(piece, clips)}`
      : clips.length === 1
        ? `Crossfade of ${sayFade(length)} before ${clipNames(piece, clips)}`
        : `Crossfades of ${sayFade(length)} at ${clips.length} joins`,
  apply(_draft, { clips, length }, { plan }) {
    let any = false;
    for (const id of clips) {
      const { clip } = plan.find(id);
      const seam = seamAt(plan.piece, id);
      if (!seam || !isHeard(clip, plan.mediaOf(clip))) continue;
      any = true;
      const blend = toSampleGrid(Math.min(length, crossfadeRoom(plan.piece, seam)));
      plan.set(id, { blend: blend || undefined });
    }
    if (!any) throw new EditRefused('There is no join there at which sound changes hands.');
  },
});
