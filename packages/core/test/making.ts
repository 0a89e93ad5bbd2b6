import fc from 'fast-check';
import { applyEdit, copyClips, EDITS, EditRefused, type EditName, type EditParams } from '../edits';
import { PLAIN_CAPTION } from '../frame';
import { findClip, newPiece, OVERLAY, SHAPES, timelines, type MediaFacts, type Piece } from '../piece';
import { frameLength, fromSeconds, RATES, type Rate } from '../time';

/** Media for tests: a video, a silent one, a photo and a sound, with lengths on no grid at all. */
export const VIDEO: MediaFacts = {
  id: 'v',
  name: 'Hill',
  kind: 'video',
  length: fromSeconds(12.3456),
  width: 1920,
  height: 1080,
  rate: { num: 30_000, den: 1_001 },
  hasSound: true,
};
export const SILENT: MediaFacts = { ...VIDEO, id: 's', name: 'Shadow', hasSound: false, length: fromSeconds(4.01) };
export const PHOTO: MediaFacts = {
  id: 'p',
  name: 'Bench',
  kind: 'photo',
  length: 0,
  width: 1600,
  height: 1600,
  rate: null,
  hasSound: false,
};
export const MUSIC: MediaFacts = {
  id: 'm',
  name: 'Wind',
  kind: 'sound',
  length: fromSeconds(30),
  width: 0,
  height: 0,
  rate: null,
  hasSound: true,
};
export const ALL_MEDIA = [VIDEO, SILENT, PHOTO, MUSIC, OVERLAY];

export function emptyPiece(rate: Rate = { num: 30, den: 1 }): Piece {
  return newPiece('piece', 'Test', { width: 1080, height: 1920, rate });
}

let count = 0;
/** A new UUID each time. */
export function uuid(): string {
  count += 1;
  return `00000000-0000-4000-8000-${String(count).padStart(12, '0')}`;
}

/** Applies an edit by name, checked by the compiler. */
export function does<N extends EditName>(piece: Piece, name: N, params: EditParams<N>): Piece {
  return applyEdit(piece, uuid(), name, params).piece;
}

/** Adds a stretch of a media item at the end of the main track; lengths in frames. */
export function addFrames(piece: Piece, media: MediaFacts, from: number, frames: number, track = 'main'): Piece {
  const frame = frameLength(piece.format.rate);
  return does(piece, 'add', { track, media, at: null, from: from * frame, length: frames * frame });
}

/** One random wish for an edit: mostly sensible, sometimes not. */
export interface Wish {
  name: EditName;
  a: number;
  b: number;
  c: number;
  flag: boolean;
}

export const wishes = (most: number) =>
  fc.array(
    fc.record({
      name: fc.oneof(
        {
          weight: 2,
          arbitrary: fc.constantFrom<EditName>('add', 'add', 'detach', 'split', 'move', 'trim', 'remove', 'nest', 'unnest', 'attach'),
        },
        { weight: 3, arbitrary: fc.constantFrom(...(Object.keys(EDITS) as EditName[])) },
      ),
      a: fc.nat(1000),
      b: fc.nat(600),
      c: fc.nat(300),
      flag: fc.boolean(),
    }),
    { maxLength: most },
  );

export const rates = fc.constantFrom(...RATES);

/** Turns a wish into parameters that speak of what is in the piece. Times are on the grid, except now and then. */
export function paramsFor(piece: Piece, { name, a, b, c, flag }: Wish): unknown {
  const frame = frameLength(piece.format.rate);
  const all = timelines(piece).flatMap(([, timeline]) => timeline.tracks);
  const clips = all.flatMap((track) => track.clips);
  const clip = clips[a % Math.max(1, clips.length)]?.id ?? 'none';
  const other = clips[c % Math.max(1, clips.length)]?.id ?? 'none';
  const some = c % 3 === 0 && other !== clip ? [clip, other] : [clip];
  const track = all[b % all.length]?.id ?? 'none';
  const off = a % 37 === 0 ? 1 : 0;
  const time = b * frame + off;
  const tracks = c % 4 === 0 ? 'all' : 'own';
  const how = (['place', 'insert', 'over'] as const)[c % 3];
  const stretch = { inside: null, from: b * frame, to: (b + 1 + (c % 60)) * frame };
  const start = findClip(piece, clip)?.clip.start ?? 0;
  const marker = piece.markers?.[0]?.id ?? 'none';
  const media = ALL_MEDIA[a % ALL_MEDIA.length] ?? VIDEO;
  const params: Record<EditName, unknown> = {
    add: {
      track: c % 11 === 0 ? null : track,
      top: c % 2 === 0,
      media,
      at: flag ? null : time,
      from: (c % 60) * frame,
      length: (1 + (a % 90)) * frame,
      how,
      parts: (['both', 'picture', 'sound'] as const)[b % 3],
    },
    addTrack: { kind: flag ? 'picture' : 'sound', index: c % 5 },
    attach: { clips: c % 2 ? some : [clips.find((one) => one.silent && one.link)?.id ?? clip] },
    bringInStep: { clip },
    caption: {
      cues: [1, 2, 3]
        .slice(0, 1 + (a % 3))
        .map((n) => ({ at: (b + n * 20) * frame + off, length: (1 + (c % 20)) * frame, text: `Words ${n}` })),
      instead: flag,
    },
    closeGap: { track, at: time, tracks },
    closeGaps: { track: flag ? null : track },
    crossfade: { clips: some, length: (c % 5) * 10 * frame },
    detach: { clips: some },
    duplicate: { clips: some, tracks },
    freeze: { clip, at: start + (c % 20) * frame, length: (1 + (b % 40)) * frame },
    gang: { clips: some },
    keepStretch: { ...stretch, from: 0, to: stretch.to + 300 * frame },
    keepTake: { media: { ...MUSIC, id: `take-${c % 4}` }, take: { of: 'one', at: time - off } },
    liftStretch: stretch,
    link: { clips: [clip, other] },
    lookOfCaptions: { look: { ...PLAIN_CAPTION, size: 0.03 + (a % 10) / 100 } },
    mark: { place: {}, time, name: 'here', letter: 'B' },
    move: { clips: some, track: c % 13 === 0 ? null : track, to: time, how, rest: flag ? 'close' : 'leave', tracks },
    narrate: {
      media: { ...MUSIC, id: `take-${c % 4}`, name: `Take ${c % 4}`, length: (30 + (a % 60)) * frame + 7 },
      take: { of: flag ? 'one' : 'two', at: time - off },
      instead: flag ? clip : null,
    },
    nest: { clips: some, name: 'Inside' },
    orderShelf: { media: media.id, to: c },
    orderTrack: { track, to: c % 4 },
    paste: { copied: copyClips(piece, some) ?? {}, track: flag ? null : track, at: time, how, tracks },
    rate: { rate: RATES[a % RATES.length] },
    remove: { clips: some, rest: flag ? 'close' : 'leave', tracks, keepSound: !flag && c % 5 === 0 },
    removeTracks: { tracks: [c % 3 === 0 ? track : 'none'] },
    rename: { clip: flag ? null : clip, name: `Name ${a}` },
    renameNest: { nest: Object.keys(piece.nests ?? {})[0] ?? 'none', name: 'Other' },
    replaceMedia: { old: media.id, media: ALL_MEDIA[c % ALL_MEDIA.length], clips: flag ? null : [clip], ...(a % 2 ? { height: -20 } : {}) },
    reset: { clips: some, tracks },
    roll: { clip, also: some.slice(1), to: start + ((c % 30) - 15) * frame },
    set: {
      clips: some,
      values: [
        { fit: flag ? 'fit' : 'fill', backdrop: a % 2 ? 'blur' : 'black' },
        { level: (a % 72) - 60, pan: ((b % 5) - 2) / 2, fadeIn: c * 1_000_000, fadeInCurve: flag ? 'even' : 'slowStart' },
        flag
          ? {
              scale: 0.3 + (a % 9) / 4,
              x: ((b % 9) - 4) / 8,
              turn: c % 3 === 1 ? b : 0,
              cropTop: (a % 4) / 8,
              flip: c % 5 === 1 ? 'across' : 'none',
            }
          : { opacity: (a % 11) / 10 },
        c % 8 === 3
          ? {
              covers: [
                {
                  from: b * 1_000_000,
                  to: (b + 30) * 1_000_000,
                  level: -20,
                  ...(a % 6 === 5
                    ? { with: 'own' as const, item: { media: MUSIC.id, length: MUSIC.length, height: -18 } }
                    : { with: (['tone', 'garble', 'silence', 'horn', 'birds'] as const)[a % 6] }),
                },
              ],
            }
          : flag
            ? {
                envelope: { keys: [0, 1, 2].map((n) => ({ at: (b + n * (1 + c)) * 1_000_000, value: 0 - n * 6, ease: 'even' })) },
                fadeOut: a * 1_000_000,
              }
            : {
                [a % 2 ? 'opacity' : 'scale']: {
                  keys: [0, 1, 2].map((n) => ({ at: (b + n * (1 + c)) * 100_000, value: (n + 1) / 3, ease: 'slowBoth' })),
                },
              },
      ][c % 4],
      bring: c % 8 === 3 && a % 6 === 5 ? [MUSIC] : [],
    },
    setMark: { place: {}, id: marker, change: { time, note: 'moved' } },
    describe: [{ title: `Hill ${a}` }, { tags: ['kite', 'wind'] }, { title: '', description: '', tags: [] }][c % 3] ?? {},
    setPoster: { time: flag ? null : time },
    setFormats: { formats: flag ? ['vertical-short', 'story'] : [], named: 'Vertical short' },
    setLook: { effects: flag ? 'none' : [{ kind: 'look', look: 'meadow', strength: 0.5 }] },
    setSpeed: {
      clips: some,
      wish: flag ? { speed: (c % 2 ? -1 : 1) * (0.2 + (b % 30) / 7) } : { length: (1 + (b % 200)) * frame },
      within: c % 5 === 0 ? { from: stretch.from, to: stretch.to } : null,
      rest: c % 3 === 0 ? 'stay' : 'follow',
      tracks,
      sound: (['along', 'along', 'stay', 'off'] as const)[a % 4],
    },
    setSound: [{ fadeIn: c * 1_000_000 }, { fadeOut: a * 1_000_000 }, { limited: flag }][b % 3],
    setRanges: { media: media.id, ranges: [{ name: '', from: c * frame, to: (c + 5) * frame }] },
    setTrack: {
      track,
      set:
        c % 5 === 0
          ? { locked: flag }
          : c % 5 === 1
            ? { level: (a % 20) - 10, pan: flag ? 0.5 : 0 }
            : c % 5 === 2
              ? { gang: flag }
              : c % 5 === 3
                ? { effects: flag ? 'none' : [{ kind: 'vignette', amount: (a % 10) / 10 }] }
                : { muted: flag, hidden: !flag },
    },
    shelve: { media: [media] },
    shape: SHAPES[a % SHAPES.length],
    slide: { clip, also: some.slice(1), by: ((c % 30) - 15) * frame },
    slip: { clips: some, by: ((c % 30) - 15) * frame },
    soundEdge: { clip, edge: flag ? 'head' : 'tail', to: start + ((c % 40) - 20) * frame },
    split: { clips: some, at: flag ? time : start + (1 + (c % 30)) * frame, linked: c % 7 !== 0 },
    swap: { a: clip, b: other },
    swapTake: { clip: clips.find((one) => one.media.startsWith('take-'))?.id ?? clip, media: `take-${a % 4}` },
    takeOutParts: { parts: [{ clip, from: start + 2 * frame, to: start + (3 + (c % 9)) * frame }], rest: flag ? 'close' : 'leave' },
    takeOutStretch: stretch,
    trim: {
      clip,
      also: some.slice(1),
      edge: flag ? 'head' : 'tail',
      to: c % 2 ? time : start + ((c % 50) - 10) * frame,
      rest: c % 2 ? 'stay' : 'follow',
      tracks,
    },
    ungang: { clips: some },
    unlink: { clips: some },
    unmark: { place: {}, ids: [marker] },
    unnest: { clip: c % 2 ? clip : (clips.find((one) => piece.nests?.[one.media])?.id ?? clip) },
    unshelve: { media: [media.id] },
  };
  return params[name];
}

/** Applies wishes in turn; those that are refused change nothing. Calls back after each one made. */
export function play(
  start: Piece,
  list: readonly Wish[],
  onMade: (before: Piece, after: Piece, wish: Wish, id: string) => void = () => undefined,
): Piece {
  let piece = start;
  for (const wish of list) {
    const id = uuid();
    try {
      const next = applyEdit(piece, id, wish.name, paramsFor(piece, wish)).piece;
      onMade(piece, next, wish, id);
      piece = next;
    } catch (error) {
      if (!(error instanceof EditRefused)) throw error;
    }
  }
  return piece;
}
