import { z } from 'zod';
import { PROPERTY_NAMES, PropertyValues, propertyOf, SELDOM } from '../properties';
import { clipNames, defineEdit, EditRefused } from './edit';
import { ClipIds } from './params';

/** Sets properties of clips: the same values on all of them. */
export const set = defineEdit({
  params: z.object({ clips: ClipIds, values: PropertyValues }),
  title: ({ clips, values }, piece) => {
    const [first] = PROPERTY_NAMES.filter((name) => values[name] !== undefined);
    const value = first && values[first];
    return first === undefined || value === undefined ? 'Set nothing' : propertyOf(first).title(value, clipNames(piece, clips));
  },
  apply(_draft, { clips, values }, { plan }) {
    const given = PROPERTY_NAMES.filter((name) => values[name] !== undefined);
    if (given.length === 0) throw new EditRefused('There is nothing to set.');
    const change = Object.fromEntries(
      given.map((name) => [name, SELDOM.includes(name) && values[name] === propertyOf(name).plain ? undefined : values[name]]),
    );
    for (const id of clips) plan.set(id, change);
  },
});
