import { z } from 'zod';
import { itemsOf, MediaFacts, timelines, type Clip } from '../piece';
import { PROPERTY_NAMES, PropertyValues, propertyOf, SELDOM, withinLevels } from '../properties';
import { bringIn } from './add';
import { clipNames, defineEdit, EditRefused } from './edit';
import { ClipIds } from './params';
import type { Plan } from './plan';

/** The clips that are ganged with some whose level is set, and the level that each comes to: louder by as much as the first of its gang. */
function withGangs(plan: Plan, clips: readonly string[], level: number): Map<string, number> {
  const louder = new Map<string, number>();
  for (const id of clips) {
    const { clip } = plan.find(id);
    if (clip.gang !== undefined && !louder.has(clip.gang)) louder.set(clip.gang, level - clip.level);
  }
  if (louder.size === 0) return new Map();
  const all = [...timelines(plan.piece)].flatMap(([inside]) => plan.unlocked(inside).flatMap((lane) => lane.clips));
  const others = all.filter((clip) => clip.gang !== undefined && louder.has(clip.gang) && !clips.includes(clip.id));
  return new Map(others.map((clip) => [clip.id, withinLevels(clip.level + (louder.get(clip.gang ?? '') ?? 0))]));
}

/** Sets properties of clips: the same values on all of them; a level takes along what is ganged with them, and what a value plays is brought in. */
export const set = defineEdit({
  params: z.object({
    clips: ClipIds,
    values: PropertyValues,
    /** Media items that the values name, where the piece may not know them yet. */
    bring: z.array(MediaFacts).max(200).default([]),
  }),
  title: ({ clips, values }, piece) => {
    const [first] = PROPERTY_NAMES.filter((name) => values[name] !== undefined);
    const value = first && values[first];
    return first === undefined || value === undefined ? 'Set nothing' : propertyOf(first).title(value, clipNames(piece, clips));
  },
  apply(draft, { clips, values, bring }, { plan }) {
    const given = PROPERTY_NAMES.filter((name) => values[name] !== undefined);
    if (given.length === 0) throw new EditRefused('There is nothing to set.');
    const change = Object.fromEntries(
      given.map((name) => [name, SELDOM.includes(name) && values[name] === propertyOf(name).plain ? undefined : values[name]]),
    );
    for (const media of bring) bringIn(plan, draft, media);
    const unknown = itemsOf({ media: '', ...values } as Clip)
      .slice(1)
      .find((id) => plan.mediaOf({ media: id })?.hasSound !== true);
    if (unknown !== undefined) throw new EditRefused('What is to cover it is no sound of this piece.');
    const { level } = values;
    if (level !== undefined) for (const [id, louder] of withGangs(plan, clips, level)) plan.set(id, { level: louder });
    for (const id of clips) plan.set(id, change);
  },
});
