import { pieceLength, type Piece } from '../piece';
import { mix, type PcmReader } from '../sound';
import { frameLength, toSamples } from '../time';
import { addFrames, does, emptyPiece, MUSIC, VIDEO } from './making';

export const F = frameLength({ num: 30, den: 1 });
export const on = (piece: Piece, track: number) => piece.tracks[track]!.clips;
export const main = (piece: Piece) => on(piece, 0);
/** Start, length and source in-point of the clips of a track, in frames. */
export const layout = (piece: Piece, track = 0) => on(piece, track).map((c) => [c.start / F, c.length / F, c.from / F]);
export const id = (piece: Piece, n: number, track = 0) => on(piece, track)[n]!.id;

/** Three joined clips of 60, 90 and 30 frames with material on either side, over music; not limited, so that sums are sums. */
const made = ((): Piece => {
  const free = does(emptyPiece(), 'setSound', { limited: false });
  const picture = addFrames(addFrames(addFrames(free, VIDEO, 30, 60), VIDEO, 120, 90), VIDEO, 240, 30);
  return addFrames(picture, MUSIC, 0, 200, 'sound-1');
})();
export const three = () => made;
/** The same with all sound detached onto a track of its own. */
const apart = does(three(), 'detach', { clips: main(three()).map((c) => c.id) });
export const detached = () => apart;

export const ramp: PcmReader = (media, from, count) => {
  const left = Float32Array.from({ length: count }, (_, i) => (((from + i) * (media === 'm' ? 7 : 3)) % 2000) / 4000);
  return { left, right: left };
};
export const heard = (piece: Piece, read = ramp) => [...mix(piece, 0, toSamples(pieceLength(piece)), read).left];

/** Whether two mixes are equal but for the order in which floats were summed. */
export const soundsLike = (a: Piece, b: Piece) => {
  const [one, two] = [heard(a), heard(b)];
  expect(one.length).toBe(two.length);
  expect(one.reduce((worst, v, i) => Math.max(worst, Math.abs(v - two[i]!)), 0)).toBeLessThan(1e-6);
};
