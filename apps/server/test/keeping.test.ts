import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { cpSync, readdirSync, readFileSync, rmSync, statSync, truncateSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { MediaItem, Storage } from '@flimzy/contract';
import { frameStart } from '@flimzy/core/time';
import { VERTICAL, makeClips, newFolder, TestServer, until } from './running';

const files = newFolder();
const at = (name: string) => path.join(files, name);
const F = (n: number) => frameStart(n, VERTICAL.rate);

beforeAll(() => makeClips(files));
afterAll(() => rmSync(files, { recursive: true, force: true }));

const renamed = (n: number): ['rename', { clip: null; name: string }] => ['rename', { clip: null, name: `Name ${n}` }];
const databaseFiles = (data: string) =>
  readdirSync(path.join(data, 'database'), { withFileTypes: true, recursive: true })
    .filter((entry) => entry.isFile())
    .map((entry) => path.join(entry.parentPath, entry.name));

/** A piece with some edits, a version and a copy, on a server. Gives what must be there afterwards. */
async function someWork(server: TestServer): Promise<{ id: string; acknowledged: string[]; item: string }> {
  const item = await server.bringIn(at('small.mp4'), 'small.mp4', true);
  const piece = await server.newPiece();
  await server.edit(piece.id, 0, ['add', { track: 'main', media: item.facts!, at: null, from: 0, length: F(20) }]);
  for (let n = 1; n < 60; n += 1) await server.edit(piece.id, n, renamed(n));
  await server.call('saveVersion', { id: piece.id }, {}, { name: 'Kept' });
  const { entries } = await server.call<{ entries: { id: string }[] }>('editPiece', { id: piece.id }, {}, { since: 0, requests: [] });
  return { id: piece.id, acknowledged: entries.map((e) => e.id), item: item.id };
}

async function expectAllThere(server: TestServer, { id, acknowledged, item }: Awaited<ReturnType<typeof someWork>>): Promise<void> {
  const { entries } = await server.call<{ entries: { id: string }[] }>('editPiece', { id }, {}, { since: 0, requests: [] });
  expect(entries.map((e) => e.id)).toEqual(acknowledged);
  const { piece, undo, undoDepth } = await server.open(id);
  expect([piece.name, undo.at(-1)?.title, undoDepth]).toEqual(['Name 59', expect.any(String), acknowledged.length]);
  expect(await server.call<unknown[]>('listVersions', { id })).toHaveLength(1);
  expect(await server.settled(item)).toMatchObject({ status: 'ready' });
}

describe('a database that is damaged', () => {
  /** Ways in which it may be, one after the other on the same folder. */
  const DAMAGES: [string, (data: string) => void][] = [
    [
      'its control file is empty',
      (data) =>
        databaseFiles(data)
          .filter((f) => f.endsWith('pg_control'))
          .forEach((f) => truncateSync(f, 0)),
    ],
    [
      'its tables are full of nonsense',
      (data) => {
        for (const file of databaseFiles(data).filter((f) => /base\/\d+\/\d+$/.test(f)))
          writeFileSync(file, Buffer.alloc(statSync(file).size, 0xa5));
      },
    ],
    [
      'its write-ahead log is cut off',
      (data) =>
        databaseFiles(data)
          .filter((f) => /pg_wal\/0/.test(f))
          .forEach((f) => truncateSync(f, 0)),
    ],
    ['it is gone', (data) => rmSync(path.join(data, 'database'), { recursive: true })],
  ];
  let data: string;
  let server: TestServer;
  let work: Awaited<ReturnType<typeof someWork>>;
  beforeAll(async () => {
    data = newFolder();
    server = await TestServer.start(data);
    work = await someWork(server);
  });
  afterAll(() => server.stopAndRemove());

  it.each(DAMAGES)('(%s) is set aside, made again from the backup and the journal, and that is said', async (_, damage) => {
    await server.kill();
    damage(data);
    server = await TestServer.start(data);
    expect(server.said).toMatch(
      /The database was (damaged|gone). It was made again from the backup of .* and everything written down since/,
    );
    await expectAllThere(server, work);
    const { entries } = await server.edit(work.id, work.acknowledged.length, renamed(59));
    work.acknowledged.push(...entries.map(({ id }) => id));
    expect(readdirSync(path.join(data, 'backups')).length).toBeGreaterThan(0);
  });

  it('is as good as another when it was made anew: it is stopped, and all is there', async () => {
    await server.stop();
    expect(readdirSync(path.join(data, 'backups')).length).toBeGreaterThan(0);
    server = await TestServer.start(data);
    expect(work.acknowledged).toHaveLength(64);
    await expectAllThere(server, work);
  });
});

describe('a backup', () => {
  const command = (...args: string[]) =>
    execFileSync(process.execPath, [path.resolve(__dirname, '../dist/backup.mjs'), ...args]).toString();

  it('made while the server works holds everything that cannot be made again, each original once; a folder made of it goes on', async () => {
    const data = newFolder();
    const server = await TestServer.start(data);
    const work = await someWork(server);
    const to = newFolder();
    expect(command('backup', to, '--data', data)).toMatch(/1 originals copied, 0 were there already/);
    await server.bringIn(at('clip.mp4'), 'later.mp4');
    expect(command('backup', to, '--data', data)).toMatch(/1 originals copied, 1 were there already/);
    await server.stopAndRemove();
    const anew = path.join(newFolder(), 'data');
    expect(command('restore', to, '--data', anew)).toMatch(/2 originals, each checked/);
    const restored = await TestServer.start(anew);
    await expectAllThere(restored, work);
    const [later] = await restored.call<MediaItem[]>('listMedia');
    expect((await restored.settled(later!.id)).status).toBe('ready');
    await restored.stop();
    expect(() => command('restore', to, '--data', anew)).toThrow(/is not empty/);
    const [original] = readdirSync(path.join(to, 'originals'));
    truncateSync(path.join(to, 'originals', original!), 100);
    expect(() => command('restore', to, '--data', path.join(newFolder(), 'data'))).toThrow(/is damaged: its bytes are not those/);
    rmSync(anew, { recursive: true });
  });
});

describe('a power cut', () => {
  it('takes no acknowledged edit, and leaves no item without its original: a copy of the folder made under load goes on', async () => {
    const data = newFolder();
    const server = await TestServer.start(data);
    const { id, acknowledged, item } = await someWork(server);
    const seen = [...acknowledged];
    let writing = true;
    const writer = (async () => {
      while (writing) {
        const edit = randomUUID();
        const request = { kind: 'do', id: edit, name: 'rename', params: { clip: null, name: `Name ${seen.length}` } };
        const answer = await server.fetch('editPiece', { id }, {}, { since: seen.length, requests: [request] }).catch(() => null);
        if (!answer?.ok) return;
        seen.push(edit);
      }
    })();
    const before = seen.length;
    await until(() => Promise.resolve(seen.length >= before + 10 ? true : null));
    const copy = newFolder();
    // The database is copied torn, in the middle of its work; what counts is on the disk already.
    process.kill(server.pid, 'SIGSTOP');
    const acknowledgedThen = [...seen];
    cpSync(data, copy, { recursive: true });
    process.kill(server.pid, 'SIGCONT');
    const after = await TestServer.start(copy);
    expect(after.said).toMatch(/may have lost its last changes when the computer went off. It was made again from the backup/);
    const { entries } = await after.call<{ entries: { id: string }[] }>('editPiece', { id }, {}, { since: 0, requests: [] });
    const kept = new Set(entries.map((e) => e.id));
    expect(acknowledgedThen.filter((one) => !kept.has(one))).toEqual([]);
    expect(await after.settled(item)).toMatchObject({ status: 'ready' });
    expect(readFileSync(path.join(copy, 'media', item, 'original')).equals(readFileSync(at('small.mp4')))).toBe(true);
    expect((await after.call<Storage>('storage')).mended).toMatch(/It was made again/);
    await after.stop();
    // Said once: the next start finds nothing to mend.
    const again = await TestServer.start(copy);
    expect((await again.call<Storage>('storage')).mended).toBeNull();
    await again.stopAndRemove();
    writing = false;
    await writer;
    await server.stopAndRemove();
  });
});

describe('a long history', () => {
  it('is read from a snapshot and the edits after it; undo reaches its beginning, redo its end, snapshots are thinned', async () => {
    const data = newFolder();
    let server = await TestServer.start(data);
    const piece = await server.newPiece();
    const COUNT = 600;
    for (let n = 0; n < COUNT; n += 200) await server.edit(piece.id, n, ...Array.from({ length: 200 }, (_, i) => renamed(n + i)));
    await server.kill();
    server = await TestServer.start(data);
    const opened = await server.open(piece.id);
    expect([opened.piece.name, opened.undo.length, opened.undoDepth]).toEqual([`Name ${COUNT - 1}`, 200, COUNT]);
    const older = await server.call<{ seq: number }[]>('olderEdits', { id: piece.id }, { stack: 'undo', below: opened.undo[0]!.seq });
    expect([older.length, older.at(-1)!.seq]).toEqual([200, opened.undo[0]!.seq - 1]);
    let { revision, undo } = opened;
    const go = async (kind: 'undo' | 'redo', targets: string[]) => {
      const requests = targets.map((target) => ({ kind, id: randomUUID(), target }));
      const { refused } = await server.call<{ refused: unknown[] }>('editPiece', { id: piece.id }, {}, { since: revision, requests });
      expect(refused).toEqual([]);
      revision += requests.length;
    };
    while (undo.length > 0) {
      await go('undo', undo.map((entry) => entry.id).reverse());
      ({ undo } = await server.open(piece.id));
    }
    await server.stop();
    server = await TestServer.start(data);
    const empty = await server.open(piece.id);
    expect([empty.piece.name, empty.undoDepth, empty.redoDepth, empty.redo.length]).toEqual(['Test', 0, COUNT, 200]);
    let { redo } = empty;
    while (redo.length > 0) {
      await go('redo', redo.map((entry) => entry.id).reverse());
      ({ redo } = await server.open(piece.id));
    }
    expect((await server.open(piece.id)).piece.name).toBe(`Name ${COUNT - 1}`);
    await server.stopAndRemove();
  });
});
