import fc from 'fast-check';
import { EditRefused } from '../edits';
import { evaluate, pictureLayers } from '../frame';
import { clipEnd, pieceLength, timelines, type Clip, type Piece, type Track } from '../piece';
import { heardAt } from '../sound';
import { frameLength, frameStart, toSamples } from '../time';
import { does, emptyPiece, MUSIC, PHOTO, rates, SILENT, VIDEO } from './making';

/** What a random piece is made of: tracks with what is said of them, and clips with places in frames. */
const tracks = fc.record({
  hidden: fc.boolean(),
  muted: fc.boolean(),
  solo: fc.constantFrom(true, false, false, false),
  level: fc.constantFrom(0, 0, -6, -60, 3),
  pan: fc.constantFrom(0, 0, -0.5, 1),
});
const clips = fc.record({
  track: fc.nat(5),
  at: fc.integer({ min: 0, max: 120 }),
  from: fc.integer({ min: 0, max: 20 }),
  frames: fc.integer({ min: 1, max: 40 }),
  level: fc.integer({ min: -30, max: 0 }),
  what: fc.nat(3),
});

function random(rate: Piece['format']['rate'], flags: Flags[], list: Wanted[]): Piece {
  let piece = emptyPiece(rate);
  for (const kind of ['picture', 'picture', 'sound', 'sound'] as const) piece = does(piece, 'addTrack', { kind });
  const F = frameLength(rate);
  for (const { track, at, from, frames, level, what } of list) {
    const { id, kind } = piece.tracks[track % piece.tracks.length]!;
    const media = kind === 'picture' ? [VIDEO, SILENT, PHOTO, VIDEO][what]! : [VIDEO, MUSIC][what % 2]!;
    piece = tried(piece, (p) => {
      const made = does(p, 'add', { track: id, media, at: at * F, from: from * F, length: frames * F, how: 'place', level });
      return made;
    });
  }
  piece.tracks.forEach(({ id }, i) => (piece = does(piece, 'setTrack', { track: id, set: flags[i % flags.length]! })));
  return piece;
}
type Flags = { hidden: boolean; muted: boolean; solo: boolean; level: number; pan: number };
type Wanted = { track: number; at: number; from: number; frames: number; level: number; what: number };

/** What an edit comes to, or the piece as it was when it is refused. */
function tried(piece: Piece, edit: (piece: Piece) => Piece): Piece {
  try {
    return edit(piece);
  } catch (error) {
    if (error instanceof EditRefused) return piece;
    throw error;
  }
}

/** All that is seen at frames and heard at samples, without the names of clips. */
function seenAndHeard(piece: Piece, frames: number): unknown {
  const { rate } = piece.format;
  return Array.from({ length: Math.ceil(frames / 3) }, (_, n) => {
    const time = frameStart(n * 3, rate);
    const layers = pictureLayers(evaluate(piece, time).layers).map(({ picture: { clip: _clip, ...picture }, ...layer }) => ({
      ...layer,
      picture,
    }));
    const sounds = heardAt(piece, toSamples(time) + 700)
      .map(({ media, sample, left, right }) => `${media} ${sample} ${left.toFixed(6)} ${right.toFixed(6)}`)
      .sort();
    return { layers, sounds };
  });
}

const length = (piece: Piece) => Math.ceil(pieceLength(piece) / frameLength(piece.format.rate)) + 2;

/** Whether clips that stay would come to lie under what they covered: their track stands between those of the clips that are nested. */
function between(piece: Piece, ids: readonly string[]): boolean {
  const pictures = piece.tracks.filter((track) => track.kind === 'picture');
  const inside = (track: Track) => track.clips.filter((clip) => ids.includes(clip.id));
  const all = piece.tracks.flatMap(inside);
  const [start, end] = [Math.min(...all.map((c) => c.start)), Math.max(...all.map(clipEnd))];
  const places = pictures.flatMap((track, i) => (inside(track).length > 0 ? [i] : []));
  return pictures.some(
    (track, i) =>
      i >= Math.min(...places) &&
      i <= Math.max(...places) &&
      track.clips.some((clip: Clip) => !ids.includes(clip.id) && clip.start < end && clipEnd(clip) > start),
  );
}

describe('nesting', () => {
  it('leaves what is seen and heard as it is, and so does unnesting, whatever is hidden, muted, on solo or quiet', () => {
    let nested = 0;
    fc.assert(
      fc.property(
        rates,
        fc.array(tracks, { minLength: 6, maxLength: 6 }),
        fc.array(clips, { minLength: 2, maxLength: 14 }),
        fc.array(fc.nat(13), { minLength: 1, maxLength: 8 }),
        (rate, flags, list, chosen) => {
          const piece = random(rate, flags, list);
          const all = piece.tracks.flatMap((track) => track.clips.map((clip) => clip.id));
          const ids = [...new Set(chosen.map((n) => all[n % all.length]!))];
          if (all.length === 0 || between(piece, ids)) return;
          const made = tried(piece, (p) => does(p, 'nest', { clips: ids, name: 'Inside' }));
          if (made === piece) return;
          nested += 1;
          const frames = length(piece);
          expect(seenAndHeard(made, frames)).toEqual(seenAndHeard(piece, frames));
          const nest = made.tracks.flatMap((track) => track.clips).find((clip) => made.nests?.[clip.media])!;
          const flat = tried(made, (p) => does(p, 'unnest', { clip: nest.id }));
          expect(seenAndHeard(flat, frames)).toEqual(seenAndHeard(made, frames));
        },
      ),
      { numRuns: 150 },
    );
    expect(nested).toBeGreaterThan(30);
  });

  it('unnesting leaves it so too when the nest was trimmed, made quieter, frozen, or stands in another', () => {
    let apart = 0;
    fc.assert(
      fc.property(
        rates,
        fc.array(clips, { minLength: 2, maxLength: 10 }),
        fc.integer({ min: -24, max: 0 }),
        fc.nat(20),
        fc.nat(20),
        fc.constantFrom('plain', 'frozen', 'twice'),
        (rate, list, level, head, tail, how) => {
          const base = random(rate, [{ hidden: false, muted: false, solo: false, level: 0, pan: 0 }], list);
          const F = frameLength(rate);
          const find = (piece: Piece) => piece.tracks.flatMap((track) => track.clips).find((clip) => piece.nests?.[clip.media])!;
          const all = (piece: Piece) => piece.tracks.flatMap((track) => track.clips.map((clip) => clip.id));
          let piece = tried(base, (p) => does(p, 'nest', { clips: all(p), name: 'Inside' }));
          if (piece === base) return;
          if (how === 'twice') piece = does(piece, 'nest', { clips: all(piece), name: 'Around' });
          piece = does(piece, 'set', { clips: [find(piece).id], values: { level } });
          for (const [edge, by] of [['head', head] as const, ['tail', -tail] as const])
            piece = tried(piece, (p) => {
              const clip = find(p);
              const to = (edge === 'head' ? clip.start : clipEnd(clip)) + by * F;
              return does(p, 'trim', { clip: clip.id, edge, to, rest: 'stay' });
            });
          if (how === 'frozen') piece = tried(piece, (p) => does(p, 'freeze', { clip: find(p).id, at: find(p).start, length: 9 * F }));
          const frames = length(piece);
          const flat = does(piece, 'unnest', { clip: find(piece).id });
          apart += 1;
          expect(seenAndHeard(flat, frames)).toEqual(seenAndHeard(piece, frames));
          expect(timelines(flat).length).toBe(timelines(piece).length);
        },
      ),
      { numRuns: 120 },
    );
    expect(apart).toBeGreaterThan(40);
  });
});
