import fc from 'fast-check';
import { copyClips } from '../edits';
import { evaluate, pictureLayers } from '../frame';
import { between, clipEnd, materialAt, materialStart, slipped, timelineAt, type Piece } from '../piece';
import { mix, through, type PcmReader, type Processor, type Stereo } from '../sound';
import { frameLength, RATES, toSamples } from '../time';
import { addFrames, does, emptyPiece, MUSIC, SILENT, VIDEO } from './making';
import { F, id, main, three } from './three';

/** Material in which every sample tells its own place, to the sample. */
const read: PcmReader = (media, from, count) => {
  const left = Float32Array.from({ length: count }, (_, i) => ((((from + i) * 7919) % 9973) / 9973 - 0.5) * (media === 'm' ? 0.5 : 1));
  return { left, right: left };
};
const heard = (piece: Piece, frames: number) => mix(piece, 0, toSamples(frames * frameLength(piece.format.rate)), read).left;

describe('what is heard', () => {
  it('is the same, to the sample, after any number of splits at any rate', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...RATES),
        fc.integer({ min: 0, max: 40 }),
        fc.integer({ min: 0, max: 25 }),
        fc.array(fc.integer({ min: 1, max: 49 }), { maxLength: 4 }),
        (rate, at, from, cuts) => {
          const frame = frameLength(rate);
          const params = { track: 'main', media: VIDEO, from: from * frame, length: 50 * frame };
          const whole = does(does(emptyPiece(rate), 'setSound', { limited: false }), 'add', { ...params, at: at * frame });
          const cut = cuts.reduce((piece, n) => {
            const time = (at + n) * frame;
            const clip = main(piece).find((one) => one.start < time && clipEnd(one) > time);
            return clip ? does(piece, 'split', { clips: [clip.id], at: time }) : piece;
          }, whole);
          expect(Buffer.compare(Buffer.from(heard(cut, at + 60).buffer), Buffer.from(heard(whole, at + 60).buffer))).toBe(0);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('is never two neighbours at full level, however far a sound edge reaches over what was trimmed', () => {
    const led = does(three(), 'soundEdge', { clip: id(three(), 2), edge: 'head', to: 110 * F, blend: 0 });
    const short = does(led, 'trim', { clip: id(led, 1), edge: 'head', to: 130 * F, rest: 'stay' });
    const longer = does(short, 'trim', { clip: id(short, 0), edge: 'tail', to: 130 * F, rest: 'stay' });
    expect(main(longer).map((clip) => [clip.start / F, clipEnd(clip) / F])).toEqual([
      [0, 130],
      [130, 150],
      [150, 180],
    ]);
    const alone = { ...longer, tracks: [longer.tracks[0]!] };
    const constant: PcmReader = (_, __, count) => ({ left: new Float32Array(count).fill(0.5), right: new Float32Array(count).fill(0.5) });
    const loud = mix(alone, 0, toSamples(180 * F), constant).left;
    expect(loud.reduce((most, one) => Math.max(most, one), 0)).toBeLessThanOrEqual(0.5);
    const last = main(alone)[2]!;
    const sample = toSamples(140 * F);
    expect(mix(alone, sample, sample + 1, read).left[0]).toBe(read('v', sample - toSamples(materialStart(last)), 1)!.left[0]);
  });

  it('keeps its sound edges when a clip gets other material, or is pasted into another piece', () => {
    const led = does(three(), 'soundEdge', { clip: id(three(), 1), edge: 'head', to: 50 * F });
    const edges = (piece: Piece, n: number) => [main(piece)[n]!.lead, main(piece)[n]!.trail, main(piece)[n]!.blend];
    const newer = { ...VIDEO, id: 'newer', name: 'Again' };
    const replaced = does(led, 'replaceMedia', { old: 'v', media: newer, clips: null });
    for (const n of [0, 1, 2]) expect(edges(replaced, n)).toEqual(edges(led, n));
    const copied = copyClips(led, [id(led, 0), id(led, 1)])!;
    const pasted = does(emptyPiece(), 'paste', { copied, track: null, at: 0, how: 'place' });
    for (const n of [0, 1]) expect(edges(pasted, n)).toEqual(edges(led, n));
    expect(edges(led, 1)[0]).toBe(10 * F);
  });

  it('goes through a chain the same however the range is cut, though a processor looks around each sample', () => {
    const smooth = (reach: number): Processor => ({
      before: reach,
      after: reach,
      process: (input, from) => ({ left: smoothed(input, input.left, reach, from), right: smoothed(input, input.right, reach, from) }),
    });
    const chain = [smooth(3), smooth(20)];
    const source = (from: number, to: number) => read('v', from, to - from);
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 5000 }), fc.integer({ min: 2, max: 400 }), fc.nat(1000), (from, length, cut) => {
        const at = from + 1 + (cut % (length - 1));
        const whole = through(chain, source, from, from + length)!;
        const [a, b] = [through(chain, source, from, at)!, through(chain, source, at, from + length)!];
        expect([...a.left, ...b.left]).toEqual([...whole.left]);
        expect(whole.left).toHaveLength(length);
      }),
      { numRuns: 60 },
    );
  });
});

/** A mean over the samples around each one, and something that depends on where it stands. */
function smoothed(_: Stereo, input: Float32Array, reach: number, from: number): Float32Array {
  return Float32Array.from({ length: input.length - 2 * reach }, (_one, i) => {
    let sum = 0;
    for (let k = -reach; k <= reach; k += 1) sum += input[i + reach + k]!;
    return (sum / (2 * reach + 1)) * (1 + ((from + i) % 7) / 7);
  });
}

describe('the time of the material', () => {
  it('is the same moment at the same time however a clip is cut or grown, and goes there and back', () => {
    const times = fc.integer({ min: -10_000, max: 10_000 });
    fc.assert(
      fc.property(
        times,
        times,
        fc.integer({ min: 1, max: 10_000 }),
        times,
        fc.integer({ min: 1, max: 5000 }),
        times,
        (start, from, length, at, more, by) => {
          const clip = { start, from, length };
          expect(timelineAt(clip, materialAt(clip, at))).toBe(at);
          const other = between(clip, at, at + more);
          expect([other.start, other.length]).toEqual([at, more]);
          expect(materialStart(other)).toBe(materialStart(clip));
          expect(materialAt(other, by)).toBe(materialAt(clip, by));
          expect(materialAt({ ...clip, ...slipped(clip, by) }, at)).toBe(materialAt(clip, at) + by);
          const frozen = { ...clip, hold: 77 };
          expect([materialAt(frozen, at), materialAt({ ...frozen, ...between(frozen, at, at + more) }, by)]).toEqual([77, 77]);
        },
      ),
    );
  });

  it('stands still within a nest that is frozen, whatever moves in there', () => {
    const inner = does(three(), 'nest', { clips: [id(three(), 0), id(three(), 1)], name: 'Inside' });
    const frozen = does(inner, 'freeze', { clip: id(inner, 0), at: 70 * F, length: 30 * F });
    const shown = [70, 80, 99].map((n) => pictureLayers(evaluate(frozen, n * F).layers).at(-1)!.picture);
    expect(shown.map(({ time, still }) => [time, still])).toEqual(
      [0, 1, 2].map(() => [pictureLayers(evaluate(inner, 70 * F).layers).at(-1)!.picture.time, true]),
    );
  });

  it('is given back whole by a reset, also to a clip that begins between two frames of the grid', () => {
    const off = does(emptyPiece(), 'add', { track: 'main', media: SILENT, at: 0, from: 10 * F + 12_345, length: 20 * F });
    const whole = main(does(off, 'reset', { clips: [id(off, 0)] }))[0]!;
    expect([whole.start, whole.from, whole.length]).toEqual([0, 12_345, Math.floor((SILENT.length - 12_345) / F) * F]);
    const music = addFrames(emptyPiece(), MUSIC, 30, 60, 'sound-1');
    expect(does(music, 'reset', { clips: [id(music, 0, 1)] }).tracks[1]!.clips[0]).toMatchObject({ from: 0, length: 900 * F });
  });
});
