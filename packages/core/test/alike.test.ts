import fc from 'fast-check';
import { planSegments } from '../deliver';
import { evaluate, pictureLayers, type Layer } from '../frame';
import { pieceLength, type Piece } from '../piece';
import { mix, neededSound, type PcmReader } from '../sound';
import { frameLength, frameStart, toSamples, type Rate } from '../time';
import { addFrames, does, emptyPiece, MUSIC, PHOTO, play, rates, SILENT, VIDEO, wishes } from './making';

/** A layer some frames on in a run: what moves shows later material. */
function later(layer: Layer, by: number): Layer {
  if (layer.kind === 'group') return { ...layer, layers: layer.layers.map((one) => later(one, by)) };
  if (!('picture' in layer)) return layer;
  const { picture } = layer;
  return picture.still ? layer : { ...layer, picture: { ...picture, time: picture.time + Math.round(by * (picture.pace ?? 1)) } };
}

/** Material in which every sample tells its own place. */
const read: PcmReader = (media, from, count) => {
  const of = (side: number) =>
    Float32Array.from({ length: count }, (_, i) => ((((from + i) * side + media.charCodeAt(0)) % 9973) / 9973) * 0.4);
  return { left: of(7919), right: of(104_729) };
};

/** Something to begin with: three clips, one over them, music under them, a nest. */
function started(rate: Rate): Piece {
  let piece = does(emptyPiece(rate), 'addTrack', { kind: 'picture' });
  for (const [media, frames] of [
    [VIDEO, 50],
    [SILENT, 40],
    [PHOTO, 30],
    [VIDEO, 45],
  ] as const)
    piece = addFrames(piece, media, 7, frames);
  piece = addFrames(piece, SILENT, 3, 20, piece.tracks[1]!.id);
  piece = addFrames(piece, MUSIC, 11, 140, 'sound-1');
  return does(piece, 'nest', { clips: [piece.tracks[0]!.clips[0]!.id, piece.tracks[1]!.clips[0]!.id], name: 'Inside' });
}

describe('what the export is told to draw', () => {
  it('is in every frame what the preview draws, whatever the piece is made of', () => {
    let frames = 0;
    fc.assert(
      fc.property(rates, wishes(30), (rate, list) => {
        const piece = play(started(rate), list);
        const frame = frameLength(rate);
        for (const segment of planSegments(piece, pieceLength(piece))) {
          let began = 0;
          for (const run of segment.runs) {
            // Both ends of a run, and one between them: what changes within would be another run.
            for (const n of new Set([0, run.frames >> 1, run.frames - 1])) {
              const seen = evaluate(piece, frameStart(segment.start + began + n, rate)).layers;
              expect(run.layers.map((layer) => later(layer, n * frame))).toEqual(seen);
              for (const { picture } of pictureLayers(seen)) {
                const needed = segment.pictures.find((one) => one.picture.clip === picture.clip);
                expect(needed && began + n >= needed.first && began + n < needed.first + needed.frames).toBe(true);
                const passed = (began + n - needed!.first) * frame * (picture.pace ?? 1);
                // Two paces, one within the other, are rounded one after the other.
                if (!picture.still) expect(Math.abs(picture.time - needed!.picture.time - passed)).toBeLessThanOrEqual(1);
              }
              frames += 1;
            }
            began += run.frames;
          }
          expect(began).toBe(segment.frames);
        }
      }),
      { numRuns: 150 },
    );
    expect(frames).toBeGreaterThan(500);
  });
});

describe('what the export mixes', () => {
  it('is to the sample what the preview plays, from whatever moment, and needs no sound that was not fetched', () => {
    let heard = 0;
    fc.assert(
      fc.property(rates, wishes(30), fc.nat(), (rate, list, where) => {
        const piece = play(started(rate), list);
        const length = Math.min(toSamples(pieceLength(piece)), 80_000);
        if (length < 3) return;
        const whole = mix(piece, 0, length, read);
        const from = where % length;
        const to = Math.min(length, from + 8_192);
        const fetched = neededSound(piece, from, to);
        const played = mix(piece, from, to, (media, first, count) => {
          expect(fetched.some((one) => one.media === media && one.from <= first && one.to >= first + count)).toBe(true);
          return read(media, first, count);
        });
        expect(Buffer.compare(Buffer.from(played.left.buffer), Buffer.from(whole.left.slice(from, to).buffer))).toBe(0);
        expect(Buffer.compare(Buffer.from(played.right.buffer), Buffer.from(whole.right.slice(from, to).buffer))).toBe(0);
        if (played.left.some((v) => v !== 0)) heard += 1;
      }),
      { numRuns: 30 },
    );
    expect(heard).toBeGreaterThan(15);
  });
});
