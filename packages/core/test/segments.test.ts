import fc from 'fast-check';
import { fileName, planSegments, segmentKey, SEGMENT_FRAMES } from '../deliver';
import { pieceLength, type Piece } from '../piece';
import { frameLength } from '../time';
import { addFrames, does, emptyPiece, MUSIC, PHOTO, play, VIDEO, wishes } from './making';

const F = frameLength({ num: 30, den: 1 });
const keys = (piece: Piece, hash: (id: string) => string = (id) => id) =>
  planSegments(piece, pieceLength(piece)).map((s) => segmentKey(piece, s, hash, 'x264'));

describe('segments of an export', () => {
  it('cover every frame once, in order', () => {
    fc.assert(
      fc.property(wishes(30), (list) => {
        const piece = play(emptyPiece(), list);
        const frame = frameLength(piece.format.rate);
        let next = 0;
        for (const segment of planSegments(piece, pieceLength(piece))) {
          expect(segment.start).toBe(next);
          expect(segment.frames).toBeGreaterThan(0);
          expect(segment.frames).toBeLessThanOrEqual(SEGMENT_FRAMES * 1.25);
          next += segment.frames;
        }
        expect(next * frame).toBe(pieceLength(piece));
      }),
      { numRuns: 80 },
    );
  });

  it('change only where the piece did', () => {
    let piece = emptyPiece();
    for (let i = 0; i < 8; i += 1) piece = addFrames(piece, VIDEO, i * 10, 40);
    const before = keys(piece);
    const changed = does(piece, 'set', { clips: [piece.tracks[0]!.clips[3]!.id], values: { fit: 'fit', backdrop: 'black' } });
    expect(keys(changed).filter((key) => !before.includes(key))).toHaveLength(1);
    const removed = does(piece, 'remove', { clips: [piece.tracks[0]!.clips[0]!.id], rest: 'close' });
    expect(keys(removed).filter((key) => !before.includes(key))).toHaveLength(0);
    const louder = does(piece, 'set', { clips: [piece.tracks[0]!.clips[3]!.id], values: { level: -9 } });
    expect(keys(louder)).toEqual(before);
  });

  it('are others when the material is, though it has the same name', () => {
    const piece = addFrames(emptyPiece(), VIDEO, 0, 40);
    expect(keys(piece, () => 'a')).not.toEqual(keys(piece, () => 'b'));
  });

  it('go straight through for one picture, before its own backdrop or a colour too, in planes over a gradient, and black in a gap', () => {
    const two = addFrames(addFrames(addFrames(emptyPiece(), VIDEO, 0, 40), VIDEO, 50, 40), PHOTO, 0, 40);
    const [first, second] = two.tracks[0]!.clips;
    const gap = does(two, 'remove', { clips: [first!.id], rest: 'leave' });
    const ways = (backdrop: 'blur' | 'colour' | 'gradient') => {
      const one = does(gap, 'set', { clips: [second!.id], values: { fit: 'fit', backdrop } });
      return planSegments(one, pieceLength(one)).map((segment) => segment.way);
    };
    expect(ways('blur')).toEqual(['black', 'straight', 'straight']);
    expect(ways('colour')).toEqual(['black', 'straight', 'straight']);
    expect(ways('gradient')).toEqual(['black', 'planes', 'straight']);
  });

  it('run on in black under music that is longer than the picture', () => {
    const piece = addFrames(addFrames(emptyPiece(), VIDEO, 0, 40), MUSIC, 0, 100, 'sound-1');
    expect(planSegments(piece, pieceLength(piece)).map((s) => [s.start, s.frames, s.way])).toEqual([
      [0, 40, 'straight'],
      [40, 60, 'black'],
    ]);
  });

  it('of a long clip stay as they are when its head is trimmed', () => {
    const long = { ...VIDEO, length: VIDEO.length * 100 };
    const piece = addFrames(emptyPiece(), long, 0, 3000);
    const before = keys(piece);
    const trimmed = does(piece, 'trim', { clip: piece.tracks[0]!.clips[0]!.id, edge: 'head', to: 37 * F, rest: 'follow' });
    expect(keys(trimmed).filter((key) => !before.includes(key))).toHaveLength(1);
  });

  it('are the same ones for a piece whose fields come back from a database in another order', () => {
    const otherOrder = (value: unknown): unknown => {
      if (Array.isArray(value)) return value.map(otherOrder);
      if (typeof value !== 'object' || value === null) return value;
      return Object.fromEntries(
        Object.entries(value)
          .reverse()
          .map(([name, field]) => [name, otherOrder(field)]),
      );
    };
    fc.assert(
      fc.property(wishes(30), (list) => {
        const piece = play(emptyPiece(), list);
        expect(keys(otherOrder(piece) as Piece)).toEqual(keys(piece));
      }),
      { numRuns: 60 },
    );
  });
});

describe('the name of the file', () => {
  it.each([
    ['First flight', 'First-flight.mp4'],
    ['../../etc/passwd', 'etc-passwd.mp4'],
    ['Drachen über dem Hügel!', 'Drachen-über-dem-Hügel.mp4'],
    ['///', 'piece.mp4'],
  ])('of “%s” is %s', (name, file) => {
    expect(fileName(name, 'mp4')).toBe(file);
  });
});
