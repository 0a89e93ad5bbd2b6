import { z } from 'zod';
import { clipEnd } from '../piece';
import { clipNames, defineEdit, EditRefused } from './edit';
import { ClipIds, Time } from './params';

/** Cuts clips in two at a time, linked sound along; nothing moves, and what is seen and heard stays the same. */
export const split = defineEdit({
  params: z.object({
    clips: ClipIds,
    /** Where on the timeline, in flicks. */
    at: Time,
    /** False: only the clips named are cut, what is linked to them stays whole. */
    linked: z.boolean().default(true),
  }),
  title: ({ clips }, piece) => `Split ${clipNames(piece, clips)}`,
  apply(_piece, { clips, at, linked }, { plan }) {
    const found = linked ? plan.expand(clips) : clips.map((id) => plan.find(id));
    const cut = found.filter(({ clip }) => at > clip.start && at < clipEnd(clip));
    if (cut.length === 0) throw new EditRefused('Put the playhead inside the clip, at least one frame from its ends.');
    plan.cut([...new Set(cut.map(({ lane }) => lane))], at);
  },
});
