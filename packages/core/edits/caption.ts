import { z } from 'zod';
import { PLAIN_CAPTION } from '../frame';
import { findClip, isCaptions, isRead, OVERLAY, timelineOf, timelines, type Clip, type Piece } from '../piece';
import { TEXT_MOST, TextLook, type Overlay } from '../properties';
import { bringIn, clear } from './add';
import { defineEdit, EditRefused } from './edit';
import { newTrack } from './lanes';
import { Inside, Time } from './params';
import type { Lane, Plan } from './plan';

/** The lane that captions stand on: the first that is for them, else a new one over all pictures. */
function captionsLane(plan: Plan, draft: Piece, inside: string | null, newId: () => string): Lane {
  const there = plan.lanesOf(inside).find(({ track }) => isCaptions(track));
  if (there) return there;
  const lane = newTrack(plan, draft, inside, 'picture', newId, 'Captions');
  const track = timelineOf(draft, inside)?.tracks.find((one) => one.id === lane.track.id);
  if (track) track.role = 'captions';
  return lane;
}

/** How the text of a caption looks. */
function lookOf(overlay: Overlay | 'none' | undefined): TextLook | undefined {
  const part = overlay && overlay !== 'none' ? overlay.parts.find(({ kind }) => kind === 'text') : undefined;
  return part && TextLook.parse(part);
}

/** Writes captions: on the track for them, over those that stand there at the same time or instead of all. They look as the first there does. */
export const caption = defineEdit({
  params: z.object({
    inside: Inside,
    /** In flicks, on frames, none over another. */
    cues: z
      .array(z.object({ at: Time, length: z.number().int().positive(), text: z.string().max(TEXT_MOST) }))
      .min(1)
      .max(5_000),
    instead: z.boolean().default(false),
    /** How they look; missing: as those that are there. */
    look: TextLook.optional(),
  }),
  title: ({ cues }) => (cues.length === 1 ? `Caption “${cues[0]?.text ?? ''}”` : `${cues.length} captions`),
  apply(draft, { inside, cues, instead, look }, { plan, newId }) {
    const lane = captionsLane(plan, draft, inside, newId);
    const captions = lane.clips.filter(isRead);
    const text = look ?? lookOf(captions[0]?.overlay) ?? PLAIN_CAPTION;
    if (instead) for (const { id } of captions) plan.remove(id);
    bringIn(plan, draft, OVERLAY);
    for (const { at, length, text: words } of cues) {
      clear(plan, lane, at, length, instead ? 'place' : 'over', 'own');
      const overlay: Overlay = { parts: [{ ...text, text: words }] };
      const plain: Pick<Clip, 'fit' | 'backdrop' | 'level'> = { fit: 'fill', backdrop: 'blur', level: 0 };
      plan.put(lane, { id: newId(), media: OVERLAY.id, name: OVERLAY.name, start: at, length, from: 0, ...plain, overlay });
    }
  },
});

/** Makes all captions of a piece look alike: their words stay. */
export const lookOfCaptions = defineEdit({
  params: z.object({ look: TextLook }),
  title: () => 'Look of all captions',
  apply(_draft, { look }, { plan }) {
    const all = timelines(plan.piece).flatMap(([, timeline]) => timeline.tracks.filter((track) => isCaptions(track) && !track.locked));
    const captions = all.flatMap(({ clips }) => clips.filter(isRead));
    if (captions.length === 0) throw new EditRefused('There are no captions.');
    for (const { id } of captions) {
      const overlay = findClip(plan.piece, id)?.clip.overlay;
      if (!overlay || overlay === 'none') continue;
      plan.set(id, { overlay: { parts: overlay.parts.map((part) => (part.kind === 'text' ? { ...look, text: part.text } : part)) } });
    }
  },
});
