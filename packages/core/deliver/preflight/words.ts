import { contrast, luminanceOf } from '../../analyse';
import type { TogetherStep } from '../../edits';
import { placeOf, type Rect } from '../../frame';
import { clipEnd, findClip, isCaptions, isRead, keyTime, roomToPull, seenClips, type Clip, type Piece, type SeenClip } from '../../piece';
import { lettersWithout, overlayName, partsOf, readingTime, sayLetters, textOf, type Part, type TextPart } from '../../properties';
import { formatTimecode, frameLength, fromSeconds } from '../../time';
import { isWithin, movedInto, safeArea } from '../inShape';
import type { Check, Finding } from './check';

/** The titles and captions of a piece that are seen and to be read, in nests too. */
export const wordsOf = (piece: Piece): SeenClip[] => seenClips(piece).filter(({ clip }) => isRead(clip));

export const called = (clip: Clip) => `“${overlayName(clip.overlay ?? 'none')}”`;

/** Captions are spoken of together, since they are many and made alike; each title by itself. */
export function each(words: readonly SeenClip[], find: (some: [SeenClip, ...SeenClip[]], name: string) => Finding): Finding[] {
  const captions = words.filter(({ track }) => isCaptions(track));
  const others = words.filter(({ track }) => !isCaptions(track));
  const [first, ...rest] = captions;
  const name = captions.length === 1 && first ? `The caption ${called(first.clip)}` : `${captions.length} captions`;
  return [...others.map((one) => find([one], called(one.clip))), ...(first ? [find([first, ...rest], name)] : [])];
}

/** Where what lies within nests is drawn in the frame, but for what they are turned. */
export function boxIn(box: Rect, through: readonly Clip[], frame: Piece['format']): Rect {
  return [...through].reverse().reduce((now, outer) => {
    const { rect } = placeOf(outer, frame, frame, keyTime(outer, outer.start));
    const [across, down] = [rect.width / frame.width, rect.height / frame.height];
    return { x: rect.x + now.x * across, y: rect.y + now.y * down, width: now.width * across, height: now.height * down };
  }, box);
}

/** Words where the platform lays its own things over the picture. */
export const wordsOutside: Check = ({ piece, sent, format, boxOf }) => {
  const area = safeArea(format, sent.format);
  const outside = wordsOf(sent).filter(
    ({ clip, through }) => !isWithin(boxIn(boxOf(partsOf(clip.overlay ?? 'none'), sent.format), through, sent.format), area),
  );
  return each(outside, (some, name): Finding => {
    const [{ clip: first }] = some;
    const steps = some.flatMap(({ clip, through }): TogetherStep[] => {
      const own = through.length === 0 ? findClip(piece, clip.id)?.clip.overlay : undefined;
      if (!own || own === 'none') return [];
      const overlay = movedInto(own, safeArea(format, piece.format), piece.format, boxOf);
      return [{ name: 'set', params: { clips: [clip.id], values: { overlay } } }];
    });
    const one = some.length === 1;
    return {
      says: `${name} ${one ? 'reaches' : 'reach'} to where ${format.platform || 'the platform'} puts its own things.`,
      why: `Part of ${one ? 'it' : 'them'} cannot be read there.`,
      weight: 'hurts',
      at: first.start,
      mends:
        steps.length > 0 ? [{ label: `Move ${one ? 'it' : 'them'} into sight`, edits: { title: `Move ${name} into sight`, steps } }] : [],
    };
  });
};

/** Words that are gone before they are read. */
export const wordsBrief: Check = ({ sent, length }) => {
  const frame = frameLength(sent.format.rate);
  const time = (t: number) => formatTimecode(t, sent.format.rate);
  const neededFor = ({ clip, track }: SeenClip) =>
    Math.ceil(fromSeconds(readingTime(clip.overlay ?? 'none', isCaptions(track))) / frame) * frame;
  const brief = wordsOf(sent).filter((one) => one.clip.length < neededFor(one));
  return each(brief, (some, name): Finding => {
    const [first] = some;
    const steps = some.flatMap((one): TogetherStep[] => {
      const { clip, next, through } = one;
      if (through.length > 0 || clip.link) return [];
      const room = Math.min((next?.start ?? Infinity) - clipEnd(clip), roomToPull(clip, sent.media[clip.media]).tail);
      const to = clip.start + neededFor(one);
      if (room < to - clipEnd(clip) || to > length) return [];
      return [{ name: 'trim', params: { clip: clip.id, edge: 'tail', to, rest: 'stay', tracks: 'own' } }];
    });
    const one = some.length === 1;
    const needed = time(neededFor(first));
    return {
      says: one
        ? `${name} is there for ${time(first.clip.length)}; reading it takes ${needed}.`
        : `${name} are gone too soon, the first at ${time(first.clip.start)}: there for ${time(first.clip.length)}, reading it takes ${needed}.`,
      why: 'Most people will not get to the end.',
      weight: 'hurts',
      at: first.clip.start,
      mends:
        steps.length === 0
          ? []
          : [
              one
                ? { label: `Show it for ${needed}`, edits: { title: `Show ${name} for ${needed}`, steps } }
                : { label: `Show ${steps.length} of them longer`, edits: { title: `Show ${steps.length} captions longer`, steps } },
            ],
    };
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
  wordsOf(sent).flatMap(({ clip }): Finding[] => {
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

/** Words with letters that cannot be drawn. */
export const wordsBoxed: Check = ({ sent }) => {
  const lettersOf = ({ clip }: SeenClip) => lettersWithout(textOf(clip.overlay ?? 'none'));
  const boxed = wordsOf(sent).filter((one) => lettersOf(one).length > 0);
  return each(boxed, (some, name): Finding => {
    const letters = [...new Set(some.flatMap(lettersOf))];
    return {
      says: `${name} ${some.length === 1 ? 'has' : 'have'} letters that no font here has: ${sayLetters(letters)}`,
      why: 'Empty boxes are seen in their place.',
      weight: 'hurts',
      at: some[0].clip.start,
      mends: [],
    };
  });
};
