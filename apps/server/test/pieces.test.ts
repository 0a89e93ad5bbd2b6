import { randomUUID } from 'node:crypto';
import type { EditAnswer, PieceSummary } from '@flimzy/contract';
import { editRequest } from '@flimzy/core/edits';
import type { MediaFacts } from '@flimzy/core/piece';
import { frameStart, fromSeconds } from '@flimzy/core/time';
import { TestServer, VERTICAL } from './running';

const MEDIA: MediaFacts = {
  id: 'v',
  name: 'Hill',
  kind: 'video',
  length: fromSeconds(20),
  width: 1920,
  height: 1080,
  rate: { num: 30, den: 1 },
  hasSound: true,
};
const F = (n: number) => frameStart(n, VERTICAL.rate);
let server: TestServer;

beforeAll(async () => {
  server = await TestServer.start();
});
afterAll(() => server.stopAndRemove());

const clipsOf = async (id: string) => (await server.open(id)).piece.tracks[0]!.clips;

describe('a piece on the server', () => {
  it('is made, listed, renamed, copied, deleted and taken back', async () => {
    const piece = await server.newPiece(VERTICAL, 'Kites');
    await server.edit(piece.id, 0, ['rename', { clip: null, name: 'Kites in spring' }]);
    const list = async () => (await server.call<PieceSummary[]>('listPieces')).map((p) => p.name);
    expect(await list()).toContain('Kites in spring');
    const copy = await server.call<PieceSummary>('copyPiece', { id: piece.id });
    expect(copy.name).toBe('Kites in spring copy');
    await server.edit(copy.id, 0, ['rename', { clip: null, name: 'Other' }]);
    expect((await server.open(piece.id)).piece.name).toBe('Kites in spring');
    await server.call('deletePiece', { id: piece.id });
    expect(await list()).not.toContain('Kites in spring');
    await server.call('restorePiece', { id: piece.id });
    expect(await list()).toContain('Kites in spring');
  });

  it('takes an edit once, however often it is sent', async () => {
    const piece = await server.newPiece();
    const request = editRequest(randomUUID(), 'add', { track: 'main', media: MEDIA, at: null, from: 0, length: F(30) });
    const send = () => server.call<EditAnswer>('editPiece', { id: piece.id }, {}, { since: 0, requests: [request] });
    const [first, second] = [await send(), await send()];
    expect(second.entries).toEqual(first.entries);
    expect(await clipsOf(piece.id)).toHaveLength(1);
  });

  it('tells a client that was away all that happened, and applies its edit on top', async () => {
    const piece = await server.newPiece();
    await server.edit(piece.id, 0, ['add', { track: 'main', media: MEDIA, at: null, from: 0, length: F(30) }]);
    await server.edit(piece.id, 1, ['add', { track: 'main', media: MEDIA, at: null, from: F(60), length: F(30) }]);
    const late = await server.edit(piece.id, 0, ['add', { track: 'main', media: MEDIA, at: null, from: F(90), length: F(30) }]);
    expect(late.entries.map((e) => e.seq)).toEqual([1, 2, 3]);
    expect((await clipsOf(piece.id)).map((c) => c.start)).toEqual([0, F(30), F(60)]);
  });

  it('says in a sentence why an edit cannot be made, and changes nothing', async () => {
    const piece = await server.newPiece();
    const { refused, entries } = await server.edit(piece.id, 0, ['split', { clips: ['gone'], at: 0 }]);
    expect(refused[0]?.sentence).toMatch(/no longer in the piece/);
    expect(entries).toEqual([]);
  });

  it('undoes and redoes across a restart, with names, and through snapshots', async () => {
    const piece = await server.newPiece();
    for (let i = 0; i < 60; i += 1)
      await server.edit(piece.id, i, ['add', { track: 'main', media: MEDIA, at: null, from: 0, length: F(5) }]);
    const full = (await server.open(piece.id)).piece;
    await server.stop();
    server = await TestServer.start(server.data);
    expect((await server.open(piece.id)).piece).toEqual(full);
    for (let i = 0; i < 60; i += 1) {
      const { undo, revision } = await server.open(piece.id);
      expect(undo.at(-1)?.title).toBe('Add Hill');
      await server.call(
        'editPiece',
        { id: piece.id },
        {},
        { since: revision, requests: [{ kind: 'undo', id: randomUUID(), target: undo.at(-1)!.id }] },
      );
    }
    const empty = await server.open(piece.id);
    expect(empty.piece.tracks.flatMap((t) => t.clips)).toEqual([]);
    expect(empty.redo).toHaveLength(60);
    await server.call(
      'editPiece',
      { id: piece.id },
      {},
      { since: empty.revision, requests: [{ kind: 'redo', id: randomUUID(), target: empty.redo.at(-1)!.id }] },
    );
    expect(await clipsOf(piece.id)).toHaveLength(1);
  });

  it('keeps edits sent at the same moment in one order, none lost', async () => {
    const piece = await server.newPiece();
    await Promise.all(
      Array.from({ length: 20 }, () => server.edit(piece.id, 0, ['add', { track: 'main', media: MEDIA, at: null, from: 0, length: F(5) }])),
    );
    expect(await clipsOf(piece.id)).toHaveLength(20);
    expect((await server.open(piece.id)).revision).toBe(20);
  });
});

describe('the API', () => {
  it('answers errors as problems with a sentence', async () => {
    const response = await server.fetch('openPiece', { id: 'nowhere' });
    expect(response.status).toBe(404);
    expect(response.headers.get('content-type')).toMatch(/application\/problem\+json/);
    expect(await response.json()).toEqual({
      type: '/problems/not-found',
      title: 'Not there',
      status: 404,
      detail: 'That piece does not exist.',
    });
    expect((await server.fetch('newPiece', {}, {}, { name: '', format: VERTICAL })).status).toBe(400);
    expect((await fetch(`${server.address}/api/nothing`)).status).toBe(404);
  });

  it('documents every route of the contract', async () => {
    const { paths } = (await (await fetch(`${server.address}/api/docs/json`)).json()) as {
      paths: Record<string, Record<string, { operationId?: string }>>;
    };
    const ids = Object.values(paths).flatMap((methods) => Object.values(methods).map((m) => m.operationId));
    const { ROUTES } = await import('@flimzy/contract');
    expect(Object.keys(ROUTES).filter((name) => !ids.includes(name))).toEqual([]);
  });

  it('keeps the page isolated and other sites out', async () => {
    const { headers } = await server.fetch('health');
    expect(headers.get('cross-origin-opener-policy')).toBe('same-origin');
    expect(headers.get('cross-origin-embedder-policy')).toBe('require-corp');
    expect(headers.get('content-security-policy')).toContain("default-src 'self'");
    expect(headers.get('x-content-type-options')).toBe('nosniff');
  });

  it('refuses a second server on the same folder in one sentence', async () => {
    await expect(TestServer.start(server.data)).rejects.toThrow(/Another Flimzy server is already working on/);
  });

  it('keeps named versions, and makes a piece of one as it was then', async () => {
    const { id } = await server.newPiece(VERTICAL, 'Versions');
    const video = {
      id: 'v',
      name: 'Hill',
      kind: 'video' as const,
      length: 7_056_000_000,
      width: 10,
      height: 10,
      rate: VERTICAL.rate,
      hasSound: true,
    };
    const add = ['add', { track: 'main', media: video, at: null, from: 0, length: 2_352_000_000 }] as const;
    await server.edit(id, 0, [...add]);
    const version = await server.call<{ id: string; name: string; revision: number }>('saveVersion', { id }, {}, { name: 'One clip' });
    expect(version).toMatchObject({ name: 'One clip', revision: 1 });
    for (let n = 1; n < 60; n += 1) await server.edit(id, n, [...add]);
    const copy = await server.call<{ id: string; name: string; clips: number }>('copyVersion', { id, version: version.id });
    expect(copy).toMatchObject({ name: 'Versions (One clip)', clips: 1 });
    expect((await server.open(copy.id)).piece.tracks[0]!.clips).toHaveLength(1);
    expect(await server.call<{ piece: string; clips: number }[]>('mediaUses', { id: 'v' })).toEqual(
      expect.arrayContaining([expect.objectContaining({ piece: id, clips: 60 }), expect.objectContaining({ piece: copy.id, clips: 1 })]),
    );
    await server.call('deleteVersion', { id, version: version.id });
    expect(await server.call('listVersions', { id })).toEqual([]);
    expect((await server.fetch('copyVersion', { id, version: version.id })).status).toBe(404);
  });
});
