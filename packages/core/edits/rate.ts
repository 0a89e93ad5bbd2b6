import { z } from 'zod';
import { RATES, rateName, Rate, sameRate } from '../time';
import { pieceLength, type MediaFacts } from '../piece';
import { defineEdit, EditRefused } from './edit';

/** Sets the frame rate of a piece that has no clips yet: later, every cut would fall between frames. */
export const rate = defineEdit({
  params: z.object({ rate: Rate }),
  title: (params) => `${rateName(params.rate)} frames a second`,
  apply(piece, params) {
    if (pieceLength(piece) > 0) throw new EditRefused('The frame rate can be set only while the piece is empty.');
    if (!RATES.some((r) => sameRate(r, params.rate))) throw new EditRefused('A piece cannot have that frame rate.');
    piece.format.rate = params.rate;
    piece.rateChosen = true;
  },
});

/** The rate that most of some media items have, or null when none is a video. On a draw the first one's. */
export function commonRate(items: readonly Pick<MediaFacts, 'rate'>[]): Rate | null {
  const count = new Map<string, { rate: Rate; n: number }>();
  for (const { rate: r } of items) {
    if (!r || !RATES.some((known) => sameRate(known, r))) continue;
    const key = `${r.num}/${r.den}`;
    count.set(key, { rate: r, n: (count.get(key)?.n ?? 0) + 1 });
  }
  let best: { rate: Rate; n: number } | null = null;
  for (const one of count.values()) if (!best || one.n > best.n) best = one;
  return best?.rate ?? null;
}
