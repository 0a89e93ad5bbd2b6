import { cuesOf } from '../../piece';
import { speechOf } from '../../sound';
import { formatTimecode, fromSeconds } from '../../time';
import { isSilent } from '../platform';
import type { Check } from './check';

/** So much speech without a caption is no matter: a word here, a sigh there. */
const LITTLE = fromSeconds(2);

/** What is said and not written. */
export const uncaptioned: Check = ({ piece, format, hearing }) => {
  if (format.captions === 'none' || isSilent(format)) return [];
  const spoken = speechOf(piece, piece, hearing).spans;
  const cues = cuesOf(piece);
  const missing = spoken.map(([from, to]) => {
    const written = cues.reduce((sum, cue) => sum + Math.max(0, Math.min(cue.to, to) - Math.max(cue.from, from)), 0);
    return { from, left: Math.max(0, to - from - written) };
  });
  const left = missing.reduce((sum, one) => sum + one.left, 0);
  const all = spoken.reduce((sum, [from, to]) => sum + to - from, 0);
  const first = missing.find((one) => one.left > fromSeconds(0.5)) ?? missing[0];
  // Captions end a little before the words do, or begin after them.
  if (!first || left < LITTLE || left < 0.15 * all) return [];
  const time = (t: number) => formatTimecode(t, piece.format.rate);
  return [
    {
      says: cues.length === 0 ? 'There are no captions.' : `${time(left)} of what is said has no captions, first at ${time(first.from)}.`,
      why: 'Many watch without sound, and some cannot hear it.',
      weight: 'hurts',
      at: first.from,
      mends: [{ label: 'Write captions', open: 'captions' }],
    },
  ];
};
