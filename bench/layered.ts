import type { OpenedPiece, PieceSummary } from '@flimzy/contract';
import type { MediaFacts } from '@flimzy/core/piece';
import { frameStart } from '@flimzy/core/time';
import type { Served } from './served';

const RATE = { num: 30, den: 1 };
const at = (frame: number) => frameStart(frame, RATE);

/** Makes new vertical pieces with three picture tracks, by edits that are given those tracks from below; gives their ids. */
export const layeredOn =
  ({ api, together }: Served) =>
  async (name: string, steps: (tracks: string[]) => unknown[]): Promise<string> => {
    const { id } = await api<PieceSummary>('POST', '/api/pieces', { name, format: { width: 1080, height: 1920, rate: RATE } });
    await together(
      id,
      [1, 2].map(() => ({ name: 'addTrack', params: { kind: 'picture' } })),
    );
    const { piece } = await api<OpenedPiece>('GET', `/api/pieces/${id}`);
    await together(id, steps(piece.tracks.filter(({ kind }) => kind === 'picture').map((track) => track.id)));
    return id;
  };

/** An edit that puts something on a track: from a frame on, so many frames long, from a frame of its own. @param more other parameters */
export const add = (
  track: string | undefined,
  media: MediaFacts,
  start: number,
  length: number,
  values: object = {},
  from = 0,
  more: object = {},
) => ({
  name: 'add',
  params: { track, media, at: at(start), from: at(from), length: at(length), how: 'over', values, ...more },
});
