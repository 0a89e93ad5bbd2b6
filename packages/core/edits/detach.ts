import { z } from 'zod';
import { between, clipEnd, flowsOn, isHeard, roomToPull, soundSpan, type Clip, type Piece } from '../piece';
import { SELDOM, SOUND_PROPERTIES } from '../properties';
import { frameLength, toSampleGrid } from '../time';
import { clipNames, defineEdit, EditRefused } from './edit';
import { roomForSound } from './lanes';
import { ClipIds } from './params';
import type { Plan } from './plan';

/**
 * Makes a picture's own sound a clip of its own on a sound track, linked with the picture. Sound edges become the new clip's
 * ends, to the frame. Returns the new clip's id, or null when the picture has no sound of its own.
 */
export function detachSound(plan: Plan, draft: Piece, id: string, newId: () => string): string | null {
  const { clip, lane } = plan.find(id);
  const media = plan.mediaOf(clip);
  if (lane.track.kind !== 'picture' || !isHeard(clip, media)) return null;
  const frame = frameLength(plan.piece.format.rate);
  const span = soundSpan(clip);
  const whole = (time: number) => Math.round(time / frame) * frame;
  const room = roomToPull(clip, media);
  const start = Math.max(whole(span.start), clip.start - Math.floor(room.head / frame) * frame);
  const most = clipEnd(clip) + Math.floor(room.tail / frame) * frame;
  const end = Math.max(start + frame, Math.min(whole(span.end), most));
  const link = clip.link ?? { group: newId(), anchor: 0 };
  const { lead: _lead, trail: _trail, ...plain } = clip;
  const sound = { ...plain, id: newId(), ...between(clip, start, end), link };
  plan.put(roomForSound(plan, draft, lane.inside, start, end, newId), sound, id);
  plan.set(id, { ...PLAIN_SOUND, silent: true, lead: undefined, trail: undefined, blend: undefined, link });
  return sound.id;
}

/** Makes the sound of pictures clips of their own, still linked with them. */
export const detach = defineEdit({
  params: z.object({ clips: ClipIds }),
  title: ({ clips }, piece) => `Detach the sound of ${clipNames(piece, clips)}`,
  apply(draft, { clips }, { plan, newId }) {
    const made = clips.flatMap((id) => detachSound(plan, draft, id, newId) ?? []);
    if (made.length === 0) throw new EditRefused('There is no sound there to detach: it has none, or it is detached already.');
  },
});

/** Gives pictures their detached sound back as their own: the linked clip of the same material goes. */
export const attach = defineEdit({
  params: z.object({ clips: ClipIds }),
  title: ({ clips }, piece) => `Attach the sound of ${clipNames(piece, clips)}`,
  apply(_draft, { clips }, { plan }) {
    let done = 0;
    for (const id of clips) {
      const { clip, lane } = plan.find(id);
      const sound = plan.group(id).find((one) => one.lane.track.kind === 'sound' && one.clip.media === clip.media);
      if (lane.track.kind !== 'picture' || !clip.silent || !sound) continue;
      if (!flowsOn(clip, sound.clip)) throw new EditRefused(`The sound of “${clip.name}” is out of step. Bring it back in step first.`);
      plan.remove(sound.clip.id);
      const lead = clip.start - sound.clip.start;
      const trail = clipEnd(sound.clip) - clipEnd(clip);
      const alone = plan.group(id).length === 1;
      plan.set(id, {
        silent: undefined,
        ...soundOf(sound.clip),
        ...edges(lead, trail),
        ...(alone ? { link: undefined } : {}),
      });
      done += 1;
    }
    if (done === 0) throw new EditRefused('There is no detached sound linked to this picture.');
  },
});

/** What is set of a clip's sound, whether it says anything or not. */
const soundOf = (clip: Clip): Partial<Clip> => Object.fromEntries(SOUND_PROPERTIES.map((name) => [name, clip[name]]));

/** What a picture keeps of its sound's properties when that goes: nothing but its level. */
const PLAIN_SOUND: Partial<Clip> = Object.fromEntries(
  SELDOM.filter((name) => SOUND_PROPERTIES.includes(name)).map((name) => [name, undefined]),
);

/** Sound edges from frames to samples: the nearest sample. */
function edges(lead: number, trail: number): { lead: number | undefined; trail: number | undefined } {
  const samples = (flicks: number) => toSampleGrid(flicks) || undefined;
  return { lead: samples(lead), trail: samples(trail) };
}
