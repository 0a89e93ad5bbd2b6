import { z } from 'zod';
import { defineEdit } from './edit';

/** Says which platform formats a piece is made for. */
export const setFormats = defineEdit({
  params: z.object({
    formats: z.array(z.string().min(1).max(64)).max(20),
    /** What they are called, for the history. */
    named: z.string().max(400),
  }),
  title: ({ formats, named }) => (formats.length === 0 ? 'Made for no platform in particular' : `Made for ${named}`),
  apply(draft, { formats }) {
    if (formats.length > 0) draft.formats = [...new Set(formats)];
    else delete draft.formats;
  },
});
