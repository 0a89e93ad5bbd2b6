import { z } from 'zod';
import { Effects, sayEffects } from '../properties';
import { defineEdit } from './edit';

/** Sets what is done to the picture of the whole piece. */
export const setLook = defineEdit({
  params: z.object({ effects: Effects }),
  title: ({ effects }) => (effects === 'none' ? 'No look on the piece' : `Look of the piece: ${sayEffects(effects)}`),
  apply(draft, { effects }) {
    if (effects === 'none') delete draft.effects;
    else draft.effects = effects;
  },
});
