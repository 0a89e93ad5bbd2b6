import type { MediaItem } from '@flimzy/contract';
import { frameLength } from '@flimzy/core/time';
import { addFrames, does, emptyPiece, MUSIC, PHOTO, SILENT, VIDEO } from '../../../packages/core/test/making';
import { allFigures, chosenThings, figures, inShelfOrder, shelved, type ShelfView } from '../src/shelf/items';
import { pieceOfItem } from '../src/shelf/viewer';

const F = frameLength({ num: 30, den: 1 });
const item = (facts: typeof VIDEO, createdAt: string, change: Partial<MediaItem> = {}): MediaItem => ({
  id: facts.id,
  name: facts.name,
  fileName: `${facts.name}.mp4`,
  size: 2_500_000,
  status: 'ready',
  usable: true,
  work: null,
  error: null,
  note: null,
  originalKept: true,
  hdr: null,
  facts,
  variableRate: false,
  filmstrip: null,
  hasPeaks: facts.hasSound,
  heard: facts.hasSound,
  createdAt,
  deletedAt: null,
  ...change,
});
const items = [item(VIDEO, '2026-01-01'), item(SILENT, '2026-01-03'), item(PHOTO, '2026-01-02'), item(MUSIC, '2026-01-04')];
const view: ShelfView = { where: 'everywhere', kind: 'all', sort: 'own', text: '', as: 'grid' };
const ids = (piece: Parameters<typeof shelved>[1], change: Partial<ShelfView>) =>
  shelved(items, piece, { ...view, ...change }).map((one) => one.item.id);
const piece = does(addFrames(addFrames(emptyPiece(), MUSIC, 0, 30, 'sound-1'), VIDEO, 0, 30), 'setRanges', {
  media: 'v',
  ranges: [
    { name: '', from: 60 * F, to: 90 * F },
    { name: '', from: 0, to: 30 * F },
  ],
});
const ranges = piece.shelf!.find((e) => e.media.id === 'v')!.ranges;

describe('the shelf', () => {
  it('shows everything, or what is on this piece’s shelf in its own order', () => {
    expect(ids(piece, {})).toEqual(['v', 's', 'p', 'm']);
    expect(ids(piece, { where: 'piece' })).toEqual(['m', 'v']);
    expect(ids(does(piece, 'orderShelf', { media: 'v', to: 0 }), { where: 'piece' })).toEqual(['v', 'm']);
    expect(ids(null, { where: 'piece' })).toEqual([]);
  });

  it('filters by kind and by every word, sorts by name, length and age', () => {
    expect(ids(piece, { kind: 'video' })).toEqual(['v', 's']);
    expect(ids(piece, { text: 'hi mp4' })).toEqual(['v']);
    expect(ids(piece, { text: 'nowhere' })).toEqual([]);
    expect(ids(piece, { sort: 'name' })).toEqual(['p', 'v', 's', 'm']);
    expect(ids(piece, { sort: 'newest' })).toEqual(['m', 's', 'p', 'v']);
    expect(ids(piece, { sort: 'length' })).toEqual(['m', 'v', 's', 'p']);
  });

  it('always shows what is on its way or broken, so that nothing waits in the dark', () => {
    const coming = item(VIDEO, '2026-01-05', { id: 'new', status: 'preparing', usable: false, facts: null });
    expect(shelved([...items, coming], piece, { ...view, where: 'piece' }).map((one) => one.item.id)).toContain('new');
  });

  it('says what an item is in figures', () => {
    expect(figures(items[0]!)).toBe('0:12.09 · 29.97');
    expect(figures(items[1]!)).toMatch(/silent$/);
    expect(figures(items[2]!)).toBe('photo');
    expect(figures({ ...items[0]!, variableRate: true })).toMatch(/varies/);
    expect(allFigures(items[0]!)).toBe('0:12.09 · 29.97 · 1920×1080 landscape · sound · 2.5 MB');
  });

  it('sets down what was chosen in the order of choosing, whole items and ranges alike', () => {
    const keys = ['m', `v#${ranges[1]!.id}`, 'v'];
    expect(chosenThings(keys, items, piece).map((one) => [one.media.id, one.range && [one.range.from / F, one.range.to / F]])).toEqual([
      ['m', null],
      ['v', [60, 90]],
      ['v', null],
    ]);
    expect(chosenThings(['gone'], items, piece)).toEqual([]);
  });

  it('or in the order of the shelf, the ranges of one item by time', () => {
    const keys = ['p', `v#${ranges[1]!.id}`, `v#${ranges[0]!.id}`, 'm'];
    expect(inShelfOrder(keys, items, piece)).toEqual(['m', `v#${ranges[0]!.id}`, `v#${ranges[1]!.id}`, 'p']);
  });
});

describe('looking at an item', () => {
  it('makes a piece of all of it, in its own size and rate', () => {
    const look = pieceOfItem(VIDEO);
    expect(look.format).toEqual({ width: 1920, height: 1080, rate: VIDEO.rate });
    expect(look.tracks[0]!.clips[0]!.length).toBeLessThanOrEqual(VIDEO.length);
    expect(VIDEO.length - look.tracks[0]!.clips[0]!.length).toBeLessThan(frameLength(VIDEO.rate!));
  });

  it('takes sound and photos too', () => {
    expect(pieceOfItem(MUSIC).tracks.map((t) => t.clips.length)).toEqual([0, 1]);
    expect(pieceOfItem(PHOTO).tracks[0]!.clips).toHaveLength(1);
  });
});
