import { z } from 'zod';
import { linkedClips, materialStart, stepOffset, timelineOf } from '../piece';
import { clear } from './add';
import { clipName, clipNames, defineEdit, EditRefused } from './edit';
import { ClipIds } from './params';
import type { Plan } from './plan';

/** Links clips, so that they move, split and trim together. As they stand now is in step; clips of one material keep theirs. */
export const link = defineEdit({
  params: z.object({ clips: ClipIds.min(2) }),
  title: ({ clips }, piece) => `Link ${clipNames(piece, clips)}`,
  apply(_draft, { clips }, { plan, newId }) {
    const group = newId();
    const found = clips.map((id) => plan.find(id));
    if (new Set(found.map((one) => one.lane.inside)).size > 1) throw new EditRefused('Only clips of one timeline can be linked.');
    // A picture and a sound of one recording have a true step of their own; anything else is in step as it stands.
    const kinds = new Set(found.map((one) => one.lane.track.kind));
    const same = kinds.size === 2 && new Set(found.map((one) => one.clip.media)).size === 1;
    leave(plan, clips);
    for (const { clip } of found) plan.set(clip.id, { link: { group, anchor: same ? 0 : materialStart(clip) } });
  },
});

/** Takes links apart. */
export const unlink = defineEdit({
  params: z.object({ clips: ClipIds }),
  title: ({ clips }, piece) => `Unlink ${clipNames(piece, clips)}`,
  apply(_draft, { clips }, { plan }) {
    if (clips.every((id) => !plan.find(id).clip.link)) throw new EditRefused('Nothing there is linked.');
    leave(plan, clips);
    for (const id of clips) plan.set(id, { link: undefined });
  },
});

/** Frees those who would be alone in their group once some clips leave it. */
function leave(plan: Plan, ids: readonly string[]): void {
  for (const id of ids) {
    const others = plan.group(id).filter(({ clip }) => !ids.includes(clip.id));
    if (others.length === 1 && others[0]) plan.set(others[0].clip.id, { link: undefined });
  }
}

/** Moves linked clips that stand apart back in step with their picture. */
export const bringInStep = defineEdit({
  params: z.object({ clip: z.string() }),
  title: ({ clip }, piece) => `Bring ${clipName(piece, clip)} back in step`,
  apply(_draft, { clip: id }, { plan }) {
    const { clip, lane } = plan.find(id);
    const timeline = timelineOf(plan.piece, lane.inside);
    if (!timeline) return;
    const apart = linkedClips(timeline, clip).flatMap((one) => {
      const offset = stepOffset(timeline, one);
      return offset === 0 ? [] : [{ one, offset }];
    });
    const chosen = apart.filter(({ one }) => one.id === id);
    const moving = chosen.length > 0 ? chosen : apart;
    if (moving.length === 0) throw new EditRefused('It is in step already.');
    for (const { one, offset } of moving) {
      const home = plan.find(one.id).lane;
      plan.remove(one.id);
      const start = one.start - offset;
      if (start < 0) throw new EditRefused('In step it would begin before the timeline does.');
      clear(plan, home, start, one.length, 'place', 'own');
      plan.put(home, { ...one, start });
    }
  },
});
