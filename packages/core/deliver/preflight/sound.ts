import { clipLoudness, doubledSound, levelFor } from '../../analyse';
import type { TogetherStep } from '../../edits';
import { findClip, isHeard, isMusicTrack } from '../../piece';
import { LEVEL_MIN, sayTenths } from '../../properties';
import { formatTimecode } from '../../time';
import { sayOffTarget } from '../heardLoud';
import { isSilent } from '../platform';
import type { Check, Finding } from './check';

/** Louder or softer than the platform plays. */
export const otherLoudness: Check = ({ format, loud }) => {
  if (!loud || !format.loudness || isSilent(format) || !Number.isFinite(loud.integrated)) return [];
  const { target, within } = format.loudness;
  const off = loud.integrated - target;
  if (Math.abs(off) <= within) return [];
  return [
    {
      says: `${sayOffTarget(loud.integrated, target)}: ${format.platform || 'it'} plays at ${sayTenths(target)}.`,
      why:
        off > 0
          ? 'It is turned down there, and its peaks have been pressed for nothing.'
          : 'It is softer than everything before and after it.',
      weight: 'hurts',
      at: null,
      mends: [{ label: `Bring it to ${sayTenths(target)} LUFS`, bringTo: target }],
    },
  ];
};

/** Peaks that are higher than the platform's encoder bears. */
export const tooHigh: Check = ({ piece, format, loud }) => {
  if (!loud || !format.loudness || isSilent(format) || loud.peak <= format.loudness.peak + 0.1) return [];
  const steps: TogetherStep[] = piece.sound?.unlimited ? [{ name: 'setSound', params: { limited: true } }] : [];
  return [
    {
      says: `Its highest peak is ${sayTenths(loud.peak)} dBTP; ${sayTenths(format.loudness.peak)} is safe.`,
      why: 'It is distorted when it is encoded once more.',
      weight: 'hurts',
      at: null,
      mends: [
        steps.length > 0
          ? { label: 'Switch the limiter on', edits: { title: 'Switch the limiter on', steps } }
          : { label: 'Look at the loudness', open: 'loudness' },
      ],
    },
  ];
};

/** The same sound twice at almost the same time. */
export const doubled: Check = ({ piece, format }) => {
  if (isSilent(format)) return [];
  return doubledSound(piece).map(({ clips: [first, second], from, to }): Finding => {
    const on = findClip(piece, second.id)?.track.name ?? '';
    return {
      says: `“${first.name}” sounds twice at ${formatTimecode(from, piece.format.rate)}, for ${formatTimecode(to - from, piece.format.rate)}.`,
      why: 'It is louder there, and hollow.',
      weight: 'hurts',
      at: from,
      mends: [
        {
          label: `Silence the one on ${on}`,
          edits: {
            title: `Silence ${second.name} on ${on}`,
            steps: [{ name: 'set', params: { clips: [second.id], values: { level: LEVEL_MIN } } }],
          },
        },
      ],
    };
  });
};

/** How much louder or softer than the others a clip is let be, in LU. */
const UNEVEN = 6;

/** Clips in which someone speaks that are much louder or softer than the others. */
export const uneven: Check = ({ piece, format, hearing }) => {
  if (isSilent(format)) return [];
  const spoken = piece.tracks.flatMap((track) =>
    track.muted || isMusicTrack(track) || track.role === 'effects'
      ? []
      : track.clips
          .filter((clip) => isHeard(clip, piece.media[clip.media]) && (hearing(clip.media)?.speech.length ?? 0) > 0)
          .map((clip) => ({ clip, track, loudness: clipLoudness(clip, track, hearing) }))
          .filter(({ loudness }) => Number.isFinite(loudness)),
  );
  const inOrder = spoken.map(({ loudness }) => loudness).sort((a, b) => a - b);
  const middle = inOrder[Math.floor(inOrder.length / 2)];
  if (middle === undefined || inOrder.length < 2) return [];
  const off = spoken.filter(({ loudness }) => Math.abs(loudness - middle) > UNEVEN);
  const [worst] = [...off].sort((a, b) => Math.abs(b.loudness - middle) - Math.abs(a.loudness - middle));
  if (!worst) return [];
  const steps = off.flatMap(({ clip, track }): TogetherStep[] => {
    const level = levelFor(clip, track, hearing, middle);
    return level === null || level === clip.level ? [] : [{ name: 'set', params: { clips: [clip.id], values: { level } } }];
  });
  const by = worst.loudness - middle;
  return [
    {
      says: `“${worst.clip.name}” is ${sayTenths(Math.abs(by))} LU ${by > 0 ? 'louder' : 'softer'} than most that is said${off.length > 1 ? `, and ${off.length - 1} more are as far off` : ''}.`,
      why: 'One turns it up and down while listening.',
      weight: 'hurts',
      at: worst.clip.start,
      mends:
        steps.length > 0
          ? [
              {
                label: `Bring ${off.length === 1 ? 'it' : 'them'} to ${sayTenths(middle)} LUFS`,
                edits: { title: 'Bring what is said to one loudness', steps },
              },
            ]
          : [],
    },
  ];
};
