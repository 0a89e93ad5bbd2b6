import { isMoving, panZoom } from '../../frame';
import { clipEnd, emptyStretches, isFile, isStill, itemsOf, seenTracks, timelines, type Clip, type Piece } from '../../piece';
import { formatTimecode, frameLength, fromSeconds, type Flicks } from '../../time';
import { isSoundOnly } from '../platform';
import type { Check, Finding } from './check';

/** Where no picture track shows anything, in order. */
export function blackStretches(piece: Piece, length: Flicks): { from: Flicks; to: Flicks }[] {
  const clips = seenTracks(piece).flatMap((track) => track.clips.filter((clip) => !clip.overlay));
  const end = Math.max(0, ...clips.map(clipEnd));
  return [...emptyStretches(clips), ...(end < length ? [{ from: end, to: length }] : [])];
}

/** Black, where nothing lies. */
export const black: Check = ({ piece, length, format }) => {
  if (isSoundOnly(format)) return [];
  const { rate } = piece.format;
  const shown = blackStretches(piece, length);
  if (shown.length === 1 && shown[0]?.from === 0 && shown[0].to === length)
    return [{ says: 'There is no picture in it.', why: 'It would be black from start to end.', weight: 'refused', at: null, mends: [] }];
  return shown.map(({ from, to }): Finding => {
    const where = from === 0 ? 'at its start' : to === length ? 'at its end' : `at ${formatTimecode(from, rate)}`;
    return {
      says: `Black ${where} for ${formatTimecode(to - from, rate)}: no picture lies there.`,
      why: from === 0 ? 'Black is what people see of it before they touch it.' : 'It looks as if it had stopped.',
      weight: 'hurts',
      at: from,
      mends: [
        {
          label: 'Take that stretch out',
          edits: { title: `Take out the black ${where}`, steps: [{ name: 'takeOutStretch', params: { inside: null, from, to } }] },
        },
      ],
    };
  });
};

/** A still picture is looked at for so long before it seems to have stopped, in seconds. */
const STILL_MOST = 5;

const isFrozen = (piece: Piece, clip: Clip) => {
  const media = piece.media[clip.media];
  return media !== undefined && media.kind !== 'overlay' && isStill(clip, media) && !isMoving(clip);
};

/** A picture that stands still for long. */
export const frozen: Check = ({ piece, format }) => {
  if (isSoundOnly(format)) return [];
  const frame = frameLength(piece.format.rate);
  const stills = (seenTracks(piece)[0]?.clips ?? []).filter((clip) => isFrozen(piece, clip) && clip.length > fromSeconds(STILL_MOST));
  return stills.map((clip, n): Finding => ({
    says: `“${clip.name}” stands still for ${formatTimecode(clip.length, piece.format.rate)}.`,
    why: 'After some seconds it looks as if it had stopped.',
    weight: 'hurts',
    at: clip.start,
    mends: [
      {
        label: 'Let it move gently',
        edits: {
          title: `Pan and zoom over ${clip.name}`,
          steps: [{ name: 'set', params: { clips: [clip.id], values: panZoom(clip, 'towards', frame, n) } }],
        },
      },
    ],
  }));
};

/** Media whose file is not there. */
export const missing: Check = ({ piece, isThere }) => {
  const used = new Set(timelines(piece).flatMap(([, { tracks }]) => tracks.flatMap(({ clips }) => clips.flatMap(itemsOf))));
  return [...used].flatMap((id): Finding[] => {
    const media = piece.media[id];
    if (!media || !isFile(media) || isThere(id)) return [];
    return [
      {
        says: `“${media.name}” is not there, or not ready.`,
        why: 'Nothing can be exported without it.',
        weight: 'refused',
        at: piece.tracks.flatMap((track) => track.clips).find((clip) => itemsOf(clip).includes(id))?.start ?? null,
        mends: [{ label: 'Look at the shelf', open: 'shelf' }],
      },
    ];
  });
};
