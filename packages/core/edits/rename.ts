import { z } from 'zod';
import { PieceName } from '../piece';
import { defineEdit } from './edit';

/** Gives the piece, or one clip, another name. */
export const rename = defineEdit({
  params: z.object({
    /** The clip to rename; null for the piece itself. */
    clip: z.string().nullable(),
    name: PieceName,
  }),
  title: ({ name }) => `Rename to ${name}`,
  apply(piece, { clip, name }, { plan }) {
    if (clip === null) piece.name = name;
    else plan.set(clip, { name });
  },
});
