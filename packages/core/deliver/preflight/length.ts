import { isHeard, seenTracks, type Clip, type Piece } from '../../piece';
import { formatTimecode, fromSeconds, toGridBelow, type Flicks } from '../../time';
import type { Check, Mend } from './check';

/** Clips of the main picture track whose going would be enough, the shortest of them first; else the longest there are. None where it is the only one. */
function couldGo(piece: Piece, over: Flicks): Clip[] {
  const clips = seenTracks(piece)[0]?.clips ?? [];
  if (clips.length < 2) return [];
  const enough = clips.filter((clip) => clip.length >= over).sort((a, b) => a.length - b.length);
  const longest = [...clips].sort((a, b) => b.length - a.length);
  return (enough.length > 0 ? enough : longest).slice(0, 2);
}

/** Longer than the format takes. */
export const tooLong: Check = ({ piece, length, format }) => {
  if (format.length.most === null) return [];
  const { rate } = piece.format;
  const most = toGridBelow(fromSeconds(format.length.most), rate);
  if (length <= most) return [];
  const over = length - most;
  const time = (t: Flicks) => formatTimecode(t, rate);
  const spoken = piece.tracks.flatMap((track) => track.clips).filter((clip) => isHeard(clip, piece.media[clip.media]));
  const mends: Mend[] = couldGo(piece, over).map((clip) => ({
    label: `Take out “${clip.name}” (${time(clip.length)})`,
    edits: {
      title: `Take out ${clip.name}, close the gap`,
      steps: [{ name: 'remove', params: { clips: [clip.id], rest: 'close', tracks: 'all' } }],
    },
  }));
  mends.push({
    label: `End it at ${time(most)}`,
    edits: {
      title: `End the piece at ${time(most)}`,
      steps: [{ name: 'takeOutStretch', params: { inside: null, from: most, to: length } }],
    },
  });
  if (spoken.length > 0) mends.unshift({ label: 'Look for pauses', open: 'pauses', select: spoken.map((clip) => clip.id) });
  return [
    {
      says: `${time(over)} too long: ${time(length)}, and it takes ${time(most)}.`,
      why: 'It is refused, or cut off at its end.',
      weight: 'refused',
      at: most,
      mends,
    },
  ];
};

/** Shorter than the format takes. */
export const tooShort: Check = ({ piece, length, format }) => {
  const { rate } = piece.format;
  const least = fromSeconds(format.length.least);
  if (length >= least || length === 0) return [];
  return [
    {
      says: `${formatTimecode(least - length, rate)} too short: it takes ${formatTimecode(least, rate)} and more.`,
      why: 'It is refused.',
      weight: 'refused',
      at: null,
      mends: [],
    },
  ];
};
