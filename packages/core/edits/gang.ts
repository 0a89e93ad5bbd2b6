import { z } from 'zod';
import { clipNames, defineEdit, EditRefused } from './edit';
import { ClipIds } from './params';

/** Gangs clips: making one of them louder or softer takes the others along, by as much each. */
export const gang = defineEdit({
  params: z.object({ clips: ClipIds }),
  title: ({ clips }, piece) => `Gang ${clipNames(piece, clips)}`,
  apply(_draft, { clips }, { plan, newId }) {
    if (new Set(clips).size < 2) throw new EditRefused('It takes two clips or more.');
    const name = newId();
    for (const id of clips) plan.set(id, { gang: name });
  },
});

/** Takes clips out of their gangs. */
export const ungang = defineEdit({
  params: z.object({ clips: ClipIds }),
  title: ({ clips }, piece) => `Take ${clipNames(piece, clips)} out of the gang`,
  apply(_draft, { clips }, { plan }) {
    for (const id of clips) plan.set(id, { gang: undefined });
  },
});
