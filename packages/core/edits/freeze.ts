import { z } from 'zod';
import { allMaterial, clipEnd, flowsOn, materialAt, NO_FADE, type Clip } from '../piece';
import { heldAt } from '../properties';
import { frameLength } from '../time';
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
    const { link: _link, lead: _lead, trail: _trail, blend: _blend, silent: _silent, covers: _covers, ...plain } = clip;
    const hold = materialAt(clip, at);
    const ends = { ...NO_FADE.head, ...NO_FADE.tail };
    const still: Clip = { ...plain, ...ends, ...heldAt(clip, hold), id: newId(), start: at, length, from: 0, hold };
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
      const media = plan.mediaOf(clip);
      if (!media || plan.isStill(clip)) continue;
      const whole = allMaterial(clip, media, frame);
      const mates = plan.group(id).filter(({ clip: c }) => flowsOn(clip, c));
      plan.shift(plan.after(plan.reach([lane], tracks), clipEnd(clip)), Math.max(...mates.map(({ clip: c }) => whole.length - c.length)));
      for (const { clip: c } of mates) plan.set(c.id, { ...whole, start: clip.start, lead: undefined, trail: undefined });
      plan.sort(mates.map((one) => one.lane));
    }
  },
});
