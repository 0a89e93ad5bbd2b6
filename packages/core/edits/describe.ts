import { z } from 'zod';
import { About, pieceLength } from '../piece';
import { at, defineEdit, EditRefused } from './edit';

const WORDS = { title: 'Title', description: 'Description', tags: 'Tags' } as const;

/** What is said of a piece where it is posted: what is given of it is changed, the rest stays. */
export const describe = defineEdit({
  params: About.partial(),
  title: (params) => {
    const [first, ...more] = (Object.keys(WORDS) as (keyof typeof WORDS)[]).filter((name) => params[name] !== undefined);
    return first && more.length === 0 ? `${WORDS[first]} of the piece` : 'What is said of the piece';
  },
  apply(draft, params) {
    const plain: About = { title: '', description: '', tags: [] };
    const next: About = { ...plain, ...draft.about };
    if (params.title !== undefined) next.title = params.title.trim();
    if (params.description !== undefined) next.description = params.description.trim();
    if (params.tags !== undefined) next.tags = [...new Set(params.tags)];
    if (next.title || next.description || next.tags.length > 0) draft.about = next;
    else delete draft.about;
  },
});

/** Chooses the moment that the picture of a piece shows; null: one a third in. */
export const setPoster = defineEdit({
  params: z.object({ time: z.number().int().nonnegative().nullable() }),
  title: ({ time }, piece) => (time === null ? 'Picture of the piece as it was' : `Picture of the piece: ${at(piece, time)}`),
  apply(draft, { time }) {
    if (time === null) return void delete draft.poster;
    if (time >= pieceLength(draft)) throw new EditRefused('The piece is not that long.');
    draft.poster = time;
  },
});
