import { editRequest, type EditRequest } from '@flimzy/core/edits';
import { PieceSync } from '../../src/open/sync';
import { F, MemoryServer, settle, three } from './opened';

/** What this device keeps of edits on their way, whatever window's they are. */
const unsent = () =>
  Object.keys(localStorage)
    .filter((key) => key.startsWith('flimzy.unsent.piece'))
    .map((key) => localStorage.getItem(key) ?? '');
const idOf = (server: MemoryServer, n: number) => server.head.piece.tracks[0]!.clips[n]!.id;
let count = 0;
const theirs = (name: 'set' | 'remove', params: never): EditRequest => {
  count += 1;
  return editRequest(`00000000-0000-4000-a000-${String(count).padStart(12, '0')}`, name, params);
};

/** A window on the piece: what it shows, and what it was told. */
function open(): { sync: PieceSync; seen: { shown: unknown; pending: number; lost: string[]; gone: string[]; trouble: string[] } } {
  const seen = { shown: null as unknown, pending: 0, lost: [] as string[], gone: [] as string[], trouble: [] as string[] };
  const sync = new PieceSync('piece', {
    onChange: (session) => Object.assign(seen, { shown: session.current.piece, pending: session.pending.length }),
    onLost: (sentence) => seen.lost.push(sentence),
    onGone: (sentence) => seen.gone.push(sentence),
    onTrouble: (sentence) => seen.trouble.push(sentence),
  });
  return { sync, seen };
}

beforeEach(() => localStorage.clear());

describe('an edit', () => {
  it('is seen at once and kept on this device until the server has it', async () => {
    const server = new MemoryServer(three());
    const { sync, seen } = open();
    await sync.open();
    sync.edit('set', { clips: [idOf(server, 0)], values: { level: -6 } });
    expect((seen.shown as typeof server.head.piece).tracks[0]!.clips[0]!.level).toBe(-6);
    expect(unsent().join()).toContain('level');
    await settle();
    expect(server.head.piece.tracks[0]!.clips[0]!.level).toBe(-6);
    expect([unsent(), seen.pending]).toEqual([[], 0]);
    sync.close();
  });

  it('that cannot be made is refused with a sentence and sent to nobody', async () => {
    const server = new MemoryServer(three());
    const { sync } = open();
    await sync.open();
    expect(sync.edit('set', { clips: ['nobody'], values: { level: 0 } })).toEqual({
      refused: expect.stringMatching(/no longer in the piece/),
    });
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
    first.sync.edit('set', { clips: [idOf(server, 0)], values: { level: -6 } });
    first.sync.edit('set', { clips: [idOf(server, 1)], values: { level: -9 } });
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
    localStorage.setItem('flimzy.unsent.piece.a-window-that-is-gone', JSON.stringify([request]));
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
    sync.edit('set', { clips: [a], values: { level: -6 } });
    sync.edit('set', { clips: [b], values: { level: -7 } });
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

describe('what the server does not take', () => {
  it.each([400, 413, 500])('is set aside after an answer of %s, and what comes after it goes on', async (status) => {
    jest.useFakeTimers({ advanceTimers: true });
    const server = new MemoryServer(three());
    const { sync, seen } = open();
    await sync.open();
    const bad = (request: EditRequest) => request.kind === 'do' && request.name === 'rename';
    server.trouble = (requests) => (requests.some(bad) ? status : null);
    server.away = true;
    sync.edit('set', { clips: [idOf(server, 0)], values: { level: -6 } });
    sync.edit('rename', { clip: null, name: 'Not this' });
    sync.edit('set', { clips: [idOf(server, 1)], values: { level: -9 } });
    server.away = false;
    for (let i = 0; i < 12; i += 1) await jest.advanceTimersByTimeAsync(3100);
    expect(server.head.piece.tracks[0]!.clips.map((c) => c.level)).toEqual([-6, -9, 0]);
    expect(seen.lost).toEqual([`Not with ${status}.`]);
    expect(sync.aside).toEqual([
      expect.objectContaining({ sentence: `Not with ${status}.`, request: expect.objectContaining({ name: 'rename' }) }),
    ]);
    expect(unsent()).toEqual([]);
    server.trouble = () => null;
    expect(sync.tryAside(sync.aside[0]!.request.id)).toEqual({ title: expect.any(String) });
    await jest.advanceTimersByTimeAsync(100);
    expect(server.head.piece.name).toBe('Not this');
    expect(sync.aside).toEqual([]);
    sync.close();
    jest.useRealTimers();
  });

  it('because its disk is full stays here, and is said', async () => {
    const server = new MemoryServer(three());
    const { sync, seen } = open();
    await sync.open();
    server.trouble = () => 507;
    sync.edit('set', { clips: [idOf(server, 0)], values: { level: -6 } });
    await settle();
    expect([seen.pending, seen.trouble, sync.aside]).toEqual([1, ['Not with 507.'], []]);
    sync.close();
  });
});

describe('what is not sent yet', () => {
  it('of a window that is there is left to it; of one that is gone it is taken over', async () => {
    const server = new MemoryServer(three());
    const theirs = (n: number) =>
      editRequest(`00000000-0000-4000-b000-00000000000${n}`, 'set', { clips: [idOf(server, n)], values: { level: -6 } });
    localStorage.setItem('flimzy.window.there', String(Date.now()));
    localStorage.setItem('flimzy.unsent.piece.there', JSON.stringify([theirs(0)]));
    localStorage.setItem('flimzy.unsent.piece.gone', JSON.stringify([theirs(1)]));
    const { sync } = open();
    await sync.open();
    await settle();
    expect(server.head.piece.tracks[0]!.clips.map((c) => c.level)).toEqual([0, -6, 0]);
    expect(localStorage.getItem('flimzy.unsent.piece.there')).toContain('level');
    expect(localStorage.getItem('flimzy.unsent.piece.gone')).toBeNull();
    sync.close();
  });

  it('is said not to be kept when this device has no room for it; the edit goes on', async () => {
    const server = new MemoryServer(three());
    const { sync, seen } = open();
    await sync.open();
    const full = jest.spyOn(Object.getPrototypeOf(localStorage) as Storage, 'setItem').mockImplementation(() => {
      throw new DOMException('full', 'QuotaExceededError');
    });
    sync.edit('set', { clips: [idOf(server, 0)], values: { level: -6 } });
    sync.edit('set', { clips: [idOf(server, 1)], values: { level: -7 } });
    expect(seen.trouble).toEqual([expect.stringMatching(/no room left/)]);
    full.mockRestore();
    await settle();
    expect(server.head.piece.tracks[0]!.clips.map((c) => c.level)).toEqual([-6, -7, 0]);
    sync.close();
  });
});

describe('undo and redo', () => {
  it('have no end: what is deeper than what was sent is fetched when it is reached, each once', async () => {
    const server = new MemoryServer(three());
    for (let n = 0; n < 50; n += 1) server.take(theirs('set', { clips: [idOf(server, 0)], values: { level: -n / 10 } } as never));
    server.sent = 8;
    const { sync } = open();
    await sync.open();
    await settle();
    let undone = 0;
    while ('title' in sync.undo()) {
      undone += 1;
      await settle();
    }
    expect(undone).toBe(50);
    expect(server.head.undo).toEqual([]);
    let redone = 0;
    while ('title' in sync.redo()) {
      redone += 1;
      await settle();
    }
    expect(redone).toBe(50);
    expect(server.head.piece.tracks[0]!.clips[0]!.level).toBe(-4.9);
    sync.close();
  }, 30_000);
});

describe('two windows', () => {
  it('end up equal, whoever edits what and in whatever order it arrives', async () => {
    const server = new MemoryServer(three());
    const [one, two] = [open(), open()];
    await one.sync.open();
    await two.sync.open();
    one.sync.edit('split', { clips: [idOf(server, 1)], at: 100 * F });
    two.sync.edit('remove', { clips: [idOf(server, 0)], rest: 'close' });
    one.sync.edit('set', { clips: [idOf(server, 2)], values: { level: -3 } });
    await settle();
    one.sync.catchUp(server.head.revision);
    two.sync.catchUp(server.head.revision);
    await settle();
    expect(one.seen.shown).toEqual(server.head.piece);
    expect(two.seen.shown).toEqual(server.head.piece);
    one.sync.close();
    two.sync.close();
  });

  it('hear of what the other did while they were being told of something else', async () => {
    const server = new MemoryServer(three());
    const { sync, seen } = open();
    await sync.open();
    await settle();
    server.take(theirs('set', { clips: [idOf(server, 0)], values: { level: -6 } } as never));
    sync.catchUp(1); // answered with the first alone
    server.take(theirs('set', { clips: [idOf(server, 1)], values: { level: -9 } } as never));
    sync.catchUp(2);
    await settle();
    expect(seen.shown).toEqual(server.head.piece);
    sync.close();
  });

  it('do not ask the server again for what they have', async () => {
    const server = new MemoryServer(three());
    const { sync } = open();
    await sync.open();
    sync.edit('set', { clips: [idOf(server, 0)], values: { level: -6 } });
    await settle();
    const asked = server.asked.length;
    sync.catchUp(1);
    await settle();
    expect(server.asked).toHaveLength(asked);
    sync.close();
  });
});
