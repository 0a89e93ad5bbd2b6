import { editRequest, type EditRequest } from '@flimzy/core/edits';
import { PieceSync } from '../../src/editing/sync';
import { F, MemoryServer, settle, three } from './opened';

const KEY = 'flimzy.unsent.piece';
const idOf = (server: MemoryServer, n: number) => server.head.piece.tracks[0]!.clips[n]!.id;
let count = 0;
const theirs = (name: 'level' | 'remove', params: never): EditRequest => {
  count += 1;
  return editRequest(`00000000-0000-4000-a000-${String(count).padStart(12, '0')}`, name, params);
};

/** A window on the piece: what it shows, and what it was told. */
function open(): { sync: PieceSync; seen: { shown: unknown; pending: number; lost: string[]; gone: string[] } } {
  const seen = { shown: null as unknown, pending: 0, lost: [] as string[], gone: [] as string[] };
  const sync = new PieceSync('piece', {
    onChange: (session) => Object.assign(seen, { shown: session.current.piece, pending: session.pending.length }),
    onLost: (sentence) => seen.lost.push(sentence),
    onGone: (sentence) => seen.gone.push(sentence),
  });
  return { sync, seen };
}

beforeEach(() => localStorage.clear());

describe('an edit', () => {
  it('is seen at once and kept on this device until the server has it', async () => {
    const server = new MemoryServer(three());
    const { sync, seen } = open();
    await sync.open();
    sync.edit('level', { clip: idOf(server, 0), level: -6 });
    expect((seen.shown as typeof server.head.piece).tracks[0]!.clips[0]!.level).toBe(-6);
    expect(localStorage.getItem(KEY)).toContain('level');
    await settle();
    expect(server.head.piece.tracks[0]!.clips[0]!.level).toBe(-6);
    expect([localStorage.getItem(KEY), seen.pending]).toEqual([null, 0]);
    sync.close();
  });

  it('that cannot be made is refused with a sentence and sent to nobody', async () => {
    const server = new MemoryServer(three());
    const { sync } = open();
    await sync.open();
    expect(sync.edit('level', { clip: 'nobody', level: 0 })).toEqual({ refused: expect.stringMatching(/no longer in the piece/) });
    expect(sync.undo()).toEqual({ refused: 'There is nothing to undo.' });
    expect(sync.redo()).toEqual({ refused: 'There is nothing to redo.' });
    await settle();
    expect(server.log).toEqual([]);
    sync.close();
  });
});

describe('while the server is away', () => {
  it('edits pile up here and reach it from the next page that opens the piece, once each', async () => {
    const server = new MemoryServer(three());
    const first = open();
    await first.sync.open();
    server.away = true;
    first.sync.edit('level', { clip: idOf(server, 0), level: -6 });
    first.sync.edit('level', { clip: idOf(server, 1), level: -9 });
    first.sync.undo();
    await settle();
    expect(first.seen.pending).toBe(3);
    first.sync.close();
    server.away = false;
    const second = open();
    await second.sync.open();
    await settle();
    expect(server.head.piece.tracks[0]!.clips.map((c) => c.level)).toEqual([-6, 0, 0]);
    expect(server.log.map((entry) => entry.kind)).toEqual(['do', 'do', 'undo']);
    expect(second.seen.shown).toEqual(server.head.piece);
    expect(second.sync.redo()).toEqual({ title: expect.stringMatching(/level/i) });
    second.sync.close();
  });

  it('what was taken before the answer got lost is not done twice', async () => {
    const server = new MemoryServer(three());
    const request = theirs('remove', { clips: [idOf(server, 0)], rest: 'close' } as never);
    localStorage.setItem(KEY, JSON.stringify([request]));
    server.take(request);
    const { sync, seen } = open();
    await sync.open();
    await settle();
    expect(server.log).toHaveLength(1);
    expect((seen.shown as typeof server.head.piece).tracks[0]!.clips).toHaveLength(2);
    expect(seen.lost).toEqual([]);
    sync.close();
  });

  it('a change that no longer can be made is said, and the rest is kept', async () => {
    const server = new MemoryServer(three());
    const [a, b] = [idOf(server, 0), idOf(server, 1)];
    const { sync, seen } = open();
    await sync.open();
    server.away = true;
    sync.edit('level', { clip: a, level: -6 });
    sync.edit('level', { clip: b, level: -7 });
    await settle();
    server.away = false;
    server.take(theirs('remove', { clips: [a], rest: 'leave' } as never));
    sync.catchUp(1);
    await settle();
    await settle();
    expect(seen.lost).toEqual([expect.stringMatching(/no longer in the piece/)]);
    expect(server.head.piece.tracks[0]!.clips.map((c) => c.level)).toEqual([-7, 0]);
    expect(seen.shown).toEqual(server.head.piece);
    sync.close();
  });
});

describe('two windows', () => {
  it('end up equal, whoever edits what and in whatever order it arrives', async () => {
    const server = new MemoryServer(three());
    const [one, two] = [open(), open()];
    await one.sync.open();
    await two.sync.open();
    one.sync.edit('split', { clips: [idOf(server, 1)], at: 100 * F });
    two.sync.edit('remove', { clips: [idOf(server, 0)], rest: 'close' });
    one.sync.edit('level', { clip: idOf(server, 2), level: -3 });
    await settle();
    one.sync.catchUp(server.head.revision);
    two.sync.catchUp(server.head.revision);
    await settle();
    expect(one.seen.shown).toEqual(server.head.piece);
    expect(two.seen.shown).toEqual(server.head.piece);
    one.sync.close();
    two.sync.close();
  });

  it('do not ask the server again for what they have', async () => {
    const server = new MemoryServer(three());
    const { sync } = open();
    await sync.open();
    sync.edit('level', { clip: idOf(server, 0), level: -6 });
    await settle();
    const asked = server.asked.length;
    sync.catchUp(1);
    await settle();
    expect(server.asked).toHaveLength(asked);
    sync.close();
  });
});
