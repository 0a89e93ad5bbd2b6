import { contrast, luminanceOf } from '../../analyse';
import { clipEnd, findClip, roomToPull, seenTracks, type Clip, type Piece } from '../../piece';
import { overlayName, partsOf, readingTime, type Part, type TextPart } from '../../properties';
import { formatTimecode, frameLength, fromSeconds } from '../../time';
import { isRead, isWithin, movedInto, safeArea } from '../inShape';
import type { Check, Finding, Mend } from './check';

/** The titles of a piece's own timeline that are seen and to be read. */
const titlesOf = (piece: Piece): { clip: Clip; next: Clip | undefined }[] =>
  seenTracks(piece).flatMap(({ clips }) => clips.map((clip, i) => ({ clip, next: clips[i + 1] })).filter(({ clip }) => isRead(clip)));

const called = (clip: Clip) => `“${overlayName(clip.overlay ?? 'none')}”`;

/** Words where the platform lays its own things over the picture. */
export const wordsOutside: Check = ({ piece, sent, format, boxOf }) => {
  const area = safeArea(format, sent.format);
  return titlesOf(sent).flatMap(({ clip }): Finding[] => {
    const box = boxOf(partsOf(clip.overlay ?? 'none'), sent.format);
    if (isWithin(box, area)) return [];
    const own = findClip(piece, clip.id)?.clip.overlay;
    const into = own && own !== 'none' ? movedInto(own, safeArea(format, piece.format), piece.format, boxOf) : null;
    return [
      {
        says: `${called(clip)} reaches to where ${format.platform || 'the platform'} puts its own things.`,
        why: 'Part of it cannot be read there.',
        weight: 'hurts',
        at: clip.start,
        mends: into
          ? [
              {
                label: 'Move it into sight',
                edits: {
                  title: `Move ${called(clip)} into sight`,
                  steps: [{ name: 'set', params: { clips: [clip.id], values: { overlay: into } } }],
                },
              },
            ]
          : [],
      },
    ];
  });
};

/** Words that are gone before they are read. */
export const wordsBrief: Check = ({ sent, length }) => {
  const frame = frameLength(sent.format.rate);
  return titlesOf(sent).flatMap(({ clip, next }): Finding[] => {
    const needed = Math.ceil(fromSeconds(readingTime(clip.overlay ?? 'none')) / frame) * frame;
    if (clip.length >= needed) return [];
    const time = (t: number) => formatTimecode(t, sent.format.rate);
    const room = Math.min((next?.start ?? Infinity) - clipEnd(clip), roomToPull(clip, sent.media[clip.media]).tail);
    const to = clip.start + needed;
    const mends: Mend[] =
      room >= needed - clip.length && to <= length && !clip.link
        ? [
            {
              label: `Show it for ${time(needed)}`,
              edits: {
                title: `Show ${called(clip)} for ${time(needed)}`,
                steps: [{ name: 'trim', params: { clip: clip.id, edge: 'tail', to, rest: 'stay', tracks: 'own' } }],
              },
            },
          ]
        : [];
    return [
      {
        says: `${called(clip)} is there for ${time(clip.length)}; reading it takes ${time(needed)}.`,
        why: 'Most people will not get to its end.',
        weight: 'hurts',
        at: clip.start,
        mends,
      },
    ];
  });
};

/** The least contrast at which large letters are read without trouble (WCAG 2.2). */
const READABLE = 3;

/** Whether a text stands out by itself: by a panel, an outline or a shadow in another tone. Else what lies behind it decides. */
export function standsOut({ colour, panel, outline, shadow }: TextPart): boolean {
  const grounds = [panel && panel.opacity >= 0.5 ? panel.colour : null, outline?.colour ?? null, shadow?.colour ?? null];
  return grounds.some((one) => one !== null && contrast(luminanceOf(one), luminanceOf(colour)) >= READABLE);
}

/** Words in hardly another tone than what lies behind them. */
export const wordsFaint: Check = ({ piece, sent, groundOf }) =>
  titlesOf(sent).flatMap(({ clip }): Finding[] => {
    const ground = groundOf(clip.id);
    if (!ground) return [];
    const isFaint = (part: Part) => {
      if (part.kind !== 'text' || standsOut(part)) return false;
      const own = luminanceOf(part.colour);
      return Math.min(contrast(own, ground.dark), contrast(own, ground.light)) < READABLE;
    };
    if (!partsOf(clip.overlay ?? 'none').some(isFaint)) return [];
    const own = findClip(piece, clip.id)?.clip.overlay;
    const parts = partsOf(own ?? 'none').map((part): Part => {
      if (part.kind !== 'text' || !isFaint(part)) return part;
      const bright = luminanceOf(part.colour) > 0.18;
      return { ...part, panel: { colour: bright ? '#17191a' : '#efece4', opacity: 0.8, round: 0.2, by: 'lines' } };
    });
    return [
      {
        says: `${called(clip)} is in hardly another tone than what lies behind it.`,
        why: 'It is not seen in sunlight, nor by everyone.',
        weight: 'hurts',
        at: clip.start,
        mends: [
          {
            label: 'Put a panel behind it',
            edits: {
              title: `Panel behind ${called(clip)}`,
              steps: [{ name: 'set', params: { clips: [clip.id], values: { overlay: { parts } } } }],
            },
          },
        ],
      },
    ];
  });
