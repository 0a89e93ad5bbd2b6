import { z } from 'zod';
import { clipEnd, type Clip } from '../piece';
import { frameLength } from '../time';
import { usableLength } from './add';
import { clipName, clipNames, defineEdit, EditRefused } from './edit';
import { ClipIds, ReachParam, Time } from './params';

/** Shows the frame at a time for a length: the clip is cut there, and what follows moves later. */
export const freeze = defineEdit({
  params: z.object({ clip: z.string(), at: Time, length: z.number().int().positive(), tracks: ReachParam }),
  title: ({ clip }, piece) => `Freeze a frame of ${clipName(piece, clip)}`,
  apply(_draft, { clip: id, at, length, tracks }, { plan, newId }) {
    const { clip, lane } = plan.find(id);
    if (lane.track.kind !== 'picture') throw new EditRefused('Only a picture can be frozen.');
    if (plan.isStill(clip)) throw new EditRefused('This picture stands still already; pull its end to make it longer.');
    if (at < clip.start || at >= clipEnd(clip)) throw new EditRefused('Put the playhead inside the clip.');
    const { link: _link, lead: _lead, trail: _trail, blend: _blend, silent: _silent, ...plain } = clip;
    const still: Clip = { ...plain, id: newId(), start: at, length, from: 0, hold: clip.from + at - clip.start };
    plan.open(plan.reach([lane], tracks), at, length);
    plan.put(lane, still);
  },
});

/** Gives clips their whole material back; what follows moves later. */
export const reset = defineEdit({
  params: z.object({ clips: ClipIds, tracks: ReachParam }),
  title: ({ clips }, piece) => `Reset ${clipNames(piece, clips)} to the whole material`,
  apply(_draft, { clips, tracks }, { plan }) {
    const frame = frameLength(plan.piece.format.rate);
    for (const id of clips) {
      const { clip, lane } = plan.find(id);
      const media = plan.piece.media[clip.media];
      if (!media || plan.isStill(clip)) continue;
      const whole = usableLength(plan.piece, media);
      const earlier = Math.floor(clip.from / frame) * frame;
      const mates = plan.group(id).filter(({ clip: c }) => c.media === clip.media && c.start - c.from === clip.start - clip.from);
      const grown = Math.max(...mates.map(({ clip: c }) => whole - c.length));
      plan.shift(plan.after(plan.reach([lane], tracks), clipEnd(clip)), grown);
      for (const { clip: c } of mates) {
        const start = Math.max(0, c.start);
        plan.set(c.id, { start, from: c.from - earlier, length: whole, lead: undefined, trail: undefined });
      }
    }
  },
});
