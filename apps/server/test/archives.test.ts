import { createHash, randomUUID } from 'node:crypto';
import { readdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { buffer } from 'node:stream/consumers';
import type { MediaItem, Version } from '@flimzy/contract';
import { PLATFORM_FORMATS } from '@flimzy/core/deliver';
import type { Piece } from '@flimzy/core/piece';
import { frameStart } from '@flimzy/core/time';
import archiver from 'archiver';
import type { Manifest } from '../src/archives/layout';
import { ffmpeg, newFolder, ROOT, TestServer, VERTICAL } from './running';

const files = newFolder();
let from: TestServer;
let to: TestServer;
let hilltop: MediaItem;
let small: MediaItem;
let piece: Piece;
let archive: Buffer;

const frames = (n: number) => frameStart(n, VERTICAL.rate);
const sha = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex');
const originalOf = (server: TestServer, id: string) => readFileSync(path.join(server.data, 'media', id, 'original'));
/** The archive of a piece: as many bytes as was said before, so that whoever waits for it sees how far it is. */
async function archiveOf(server: TestServer, id: string): Promise<Buffer> {
  const answer = await server.fetch('pieceArchive', { id });
  const bytes = Buffer.from(await answer.arrayBuffer());
  expect(answer.headers.get('content-length')).toBe(String(bytes.length));
  return bytes;
}

beforeAll(async () => {
  [from, to] = await Promise.all([TestServer.start(), TestServer.start()]);
  ffmpeg('-f', 'lavfi', '-i', 'testsrc2=size=320x240:rate=30:duration=1', '-pix_fmt', 'yuv420p', path.join(files, 'small.mp4'));
  hilltop = await from.bringIn(path.join(ROOT, 'demo/test-media/hilltop.mp4'));
  small = await from.bringIn(path.join(files, 'small.mp4'), 'Small “one”.mp4');
  const own = { ...PLATFORM_FORMATS[0]!, id: 'own-1', name: 'My own' };
  await from.call('saveFormat', {}, {}, own);
  const { id } = await from.newPiece(VERTICAL, 'Wind / song');
  const add = (media: MediaItem, n: number) =>
    from.edit(id, 0, ['add', { track: 'main', media: media.facts!, at: null, from: 0, length: frames(n), fit: 'fill' }]);
  await add(hilltop, 40);
  await from.call('saveVersion', { id }, {}, { name: 'First cut' });
  await add(small, 20);
  await from.edit(id, 0, ['setFormats', { formats: ['own-1'], named: 'My own' }]);
  await from.edit(id, 0, ['rename', { clip: null, name: 'Another name' }]);
  const { undo } = await from.open(id);
  await from.call('editPiece', { id }, {}, { since: 0, requests: [{ kind: 'undo', id: randomUUID(), target: undo.at(-1)!.id }] });
  ({ piece } = await from.open(id));
  archive = await archiveOf(from, id);
});
afterAll(async () => {
  await Promise.all([from.stopAndRemove(), to.stopAndRemove()]);
  rmSync(files, { recursive: true, force: true });
});

/** An archive as a mapping, to be changed and packed again. */
type Parts = Map<string, Buffer>;

/** What is in an archive of ours, read by what it says of itself. */
function unpacked(bytes: Buffer): Parts {
  const parts: Parts = new Map();
  for (let at = 0; bytes.readUInt32LE(at) === 0x04034b50;) {
    const name = bytes.toString('latin1', at + 30, at + 30 + bytes.readUInt16LE(at + 26));
    const start = at + 30 + bytes.readUInt16LE(at + 26) + bytes.readUInt16LE(at + 28);
    const manifest = parts.get('manifest.json');
    const said = manifest ? (JSON.parse(manifest.toString()) as Manifest) : null;
    const size = said?.media.find(({ sha256 }) => name === `media/${sha256}`)?.size ?? bytes.readUInt32LE(at + 22);
    parts.set(name, bytes.subarray(start, start + size));
    at = bytes.indexOf(Buffer.from('PK', 'latin1'), start + size);
    while (![0x04034b50, 0x02014b50].includes(bytes.readUInt32LE(at))) at = bytes.indexOf(Buffer.from('PK', 'latin1'), at + 1);
  }
  return parts;
}

async function packed(parts: Parts, store = true): Promise<Buffer> {
  const zip = archiver('zip', { store });
  for (const [name, bytes] of parts) zip.append(bytes, { name });
  void zip.finalize();
  return buffer(zip);
}

const manifestIn = (parts: Parts) => JSON.parse(parts.get('manifest.json')!.toString()) as Manifest;

/** With a text of it changed, and the manifest saying so. */
function withText(parts: Parts, name: Manifest['texts'][number]['name'], text: string): Parts {
  const bytes = Buffer.from(text);
  const manifest = manifestIn(parts);
  const texts = manifest.texts.map((one) => (one.name === name ? { name, size: bytes.length, sha256: sha(bytes) } : one));
  return new Map([...parts, [name, bytes], ['manifest.json', Buffer.from(JSON.stringify({ ...manifest, texts }))]]);
}

/** With one of its bytes another. */
const flipped = (bytes: Buffer, at = Math.floor(bytes.length / 2)) => {
  const copy = Buffer.from(bytes);
  copy[at]! ^= 0x55;
  return copy;
};

test('a piece goes out whole and comes in on another machine, with its history, versions, formats and originals', async () => {
  expect(archive.includes(originalOf(from, hilltop.id))).toBe(true);
  const arrival = await to.bringArchive(archive, 'Wind song.zip');
  expect(arrival).toMatchObject({ status: 'done', missing: [], error: null, name: 'Wind / song', fileName: 'Wind song.zip' });
  const there = await to.open(arrival.piece!);
  expect(there.piece).toEqual({ ...piece, id: arrival.piece });
  const before = await from.open(piece.id);
  expect(there).toMatchObject({ revision: before.revision, undoDepth: before.undoDepth, redoDepth: before.redoDepth });
  expect(there.undo.map(({ id }) => id)).toEqual(before.undo.map(({ id }) => id));
  for (const { id } of [hilltop, small]) {
    expect(await to.settled(id)).toMatchObject({ status: 'ready', name: (await from.settled(id)).name });
    expect(originalOf(to, id).equals(originalOf(from, id))).toBe(true);
  }
  expect((await to.call<Version[]>('listVersions', { id: arrival.piece! })).map(({ name, revision }) => [name, revision])).toEqual([
    ['First cut', 1],
  ]);
  expect(await to.call<{ id: string }[]>('listFormats')).toEqual([expect.objectContaining({ id: 'own-1' })]);
  // History goes on from there, down to the first edit, and up again.
  for (const entry of [...there.undo].reverse())
    expect(
      await to.call(
        'editPiece',
        { id: arrival.piece! },
        {},
        { since: 0, requests: [{ kind: 'undo', id: randomUUID(), target: entry.id }] },
      ),
    ).toMatchObject({
      refused: [],
    });
  expect((await to.open(arrival.piece!)).piece.tracks.flatMap(({ clips }) => clips)).toEqual([]);
  expect(readdirSync(path.join(to.data, 'archives')).filter((name) => name.endsWith('.zip'))).toEqual([]);
});

test('brought in twice, or where it came from, it is one more piece and no more media', async () => {
  const media = (await from.call<MediaItem[]>('listMedia')).length;
  const arrival = await from.bringArchive(archive);
  expect(arrival).toMatchObject({ status: 'done', missing: [] });
  expect(arrival.piece).not.toBe(piece.id);
  expect((await from.open(arrival.piece!)).piece).toEqual({ ...piece, id: arrival.piece });
  expect(await from.call<MediaItem[]>('listMedia')).toHaveLength(media);
  // And the archive of it is as good as the first.
  const again = await to.bringArchive(await archiveOf(from, arrival.piece!));
  expect(again).toMatchObject({ status: 'done', missing: [] });
  expect((await to.open(again.piece!)).piece).toEqual({ ...piece, id: again.piece });
});

test('an item whose id stands for something else here gets one of its own, in the document and its history', async () => {
  const other = await TestServer.start();
  try {
    const upload = await other.beginUpload('other.mp4', 4, hilltop.id);
    await other.sendPart(upload, 0, Buffer.from('film'));
    await other.settled(hilltop.id);
    const arrival = await other.bringArchive(archive);
    expect(arrival).toMatchObject({ status: 'done', missing: [] });
    const there = await other.open(arrival.piece!);
    const used = there.piece.tracks.flatMap(({ clips }) => clips.map(({ media }) => media));
    expect(used).not.toContain(hilltop.id);
    expect(originalOf(other, used[0]!).equals(originalOf(from, hilltop.id))).toBe(true);
    expect(originalOf(other, hilltop.id).toString()).toBe('film');
    const last = there.undo.at(-1)!;
    await other.call(
      'editPiece',
      { id: there.piece.id },
      {},
      { since: 0, requests: [{ kind: 'undo', id: randomUUID(), target: last.id }] },
    );
    expect((await other.open(arrival.piece!)).redoDepth).toBe(2);
  } finally {
    await other.stopAndRemove();
  }
});

describe('damaged', () => {
  let parts: Parts;
  let lost: TestServer;
  beforeAll(async () => {
    parts = unpacked(archive);
    lost = await TestServer.start();
  });
  afterAll(() => lost.stopAndRemove());

  const original = (item: MediaItem) => `media/${sha(originalOf(from, item.id))}`;
  const without = (name: string) => new Map([...parts].filter(([one]) => one !== name));

  test('cut off in the middle of an original, it brings in what arrived, and what is missing comes in later', async () => {
    const order = [...parts.keys()].filter((name) => name.startsWith('media/'));
    const lastName = order.at(-1)!;
    const last = [hilltop, small].find((item) => original(item) === lastName)!;
    const other = last === hilltop ? small : hilltop;
    const cut = archive.subarray(0, archive.indexOf(parts.get(lastName)!) + 1000);
    const arrival = await lost.bringArchive(cut);
    expect(arrival).toMatchObject({ status: 'done', name: 'Wind / song' });
    expect(arrival.missing).toEqual([
      'The end of the file is missing: it did not arrive whole, or was cut off.',
      expect.stringMatching(new RegExp(`^“${last.name}” .*is not in the archive\\.$`)),
    ]);
    expect((await lost.open(arrival.piece!)).piece).toEqual({ ...piece, id: arrival.piece });
    expect(originalOf(lost, other.id).equals(originalOf(from, other.id))).toBe(true);
    expect(await lost.call('getMedia', { id: last.id })).toMatchObject({ status: 'failed', originalKept: false });
    expect((await lost.bringArchive(archive)).missing).toEqual([]);
    expect(await lost.settled(last.id)).toMatchObject({ status: 'ready', originalKept: true });
  });

  test('what is wrong with it is said, and the rest is there', async () => {
    const log = () => parts.get('log.jsonl')!.toString();
    const hostile = log().replace(/"patches":\[\{/, '"patches":[{"op":"replace","path":["__proto__","polluted"],"value":1},{');
    const cases: [what: string, parts: Parts, missing: (string | RegExp)[], revision: number][] = [
      ['packed small by another program', parts, [], 5],
      [
        'a broken document',
        new Map([...parts, ['document.json', flipped(parts.get('document.json')!)]]),
        [/document of the piece was damaged; it was put together/],
        5,
      ],
      ['a broken history', new Map([...parts, ['log.jsonl', flipped(parts.get('log.jsonl')!)]]), [/history is damaged: it begins anew/], 0],
      ['a history that leads elsewhere', withText(parts, 'log.jsonl', log().split('\n').slice(0, 2).join('\n')), [/history is damaged/], 0],
      ['a history that reaches where it must not', withText(parts, 'log.jsonl', hostile), [/history is damaged/], 0],
      ['no formats', without('formats.json'), [/formats of one’s own .* damaged/], 5],
      [
        'an entry with a hostile name',
        new Map([...parts, ['x/../../../evil.txt', Buffer.from('x')], ['media/..', Buffer.from('x')]]),
        [/2 entries that no archive has were left out/],
        5,
      ],
    ];
    expect(log().includes('"patches":[{')).toBe(true);
    for (const [what, given, missing, revision] of cases) {
      const arrival = await lost.bringArchive(await packed(given, what !== cases[0]![0]));
      expect([what, arrival.status, arrival.missing]).toEqual([what, 'done', missing.map((one) => expect.stringMatching(one))]);
      const there = await lost.open(arrival.piece!);
      expect([what, there.piece, there.revision]).toEqual([what, { ...piece, id: arrival.piece }, revision]);
    }
    expect(({} as Record<string, unknown>)['polluted']).toBeUndefined();
    expect(readdirSync(lost.data)).not.toContain('evil.txt');
    const neither = new Map([...parts, ['document.json', Buffer.from('{')], ['log.jsonl', Buffer.from('{')]]);
    expect(await lost.bringArchive(await packed(neither))).toMatchObject({
      status: 'done',
      piece: null,
      missing: [expect.stringMatching(/only its media/)],
    });
  });

  test('originals that are damaged, or longer than is said, are left out', async () => {
    const fresh = await TestServer.start();
    try {
      const name = original(small);
      const longer = Buffer.concat([parts.get(name)!, Buffer.alloc(5_000_000)]);
      for (const bytes of [flipped(parts.get(name)!), longer]) {
        // Packed small: the size is known only once it is unpacked.
        const arrival = await fresh.bringArchive(await packed(new Map([...parts, [name, bytes]]), false));
        expect(arrival).toMatchObject({
          status: 'done',
          missing: [expect.stringMatching(/^“Small “one”” .* is damaged in the archive\.$/)],
        });
        expect(readdirSync(path.join(fresh.data, 'media'))).toEqual([hilltop.id]);
        expect(await fresh.settled(small.id)).toMatchObject({ status: 'failed' });
      }
    } finally {
      await fresh.stopAndRemove();
    }
  });

  test('an entry that cannot be unpacked ends nothing, and sizes that make no sense lead nowhere', async () => {
    const small = await packed(parts, false);
    const at = small.indexOf('document.json') + 'document.json'.length;
    const torn = Buffer.from(small);
    torn.fill(0xff, at + 20, at + 60);
    expect(await lost.bringArchive(torn)).toMatchObject({
      status: 'done',
      missing: [expect.stringMatching(/document of the piece was damaged; it was put together/)],
    });
    const manifest = manifestIn(parts);
    const lying = { ...manifest, media: manifest.media.map((item) => ({ ...item, size: -1_000_000 })) };
    const cut = await packed(new Map([...parts, ['manifest.json', Buffer.from(JSON.stringify(lying))]]));
    expect(await lost.bringArchive(cut.subarray(0, cut.length - 100))).toMatchObject({
      status: 'failed',
      error: expect.stringMatching(/makes no sense/) as unknown,
    });
  });

  test('what the archive has not got, and is here, is not missing', async () => {
    const manifest = manifestIn(parts);
    const media = manifest.media.map((item) => ({ ...item, sha256: null }));
    const empty = new Map([...parts].filter(([name]) => !name.startsWith('media/')));
    const arrival = await from.bringArchive(
      await packed(new Map([...empty, ['manifest.json', Buffer.from(JSON.stringify({ ...manifest, media }))]])),
    );
    expect(arrival).toMatchObject({ status: 'done', missing: [] });
    expect((await from.open(arrival.piece!)).piece).toEqual({ ...piece, id: arrival.piece });
  });

  test('what is no archive is refused with a sentence, and can be taken off the list', async () => {
    const newer = new Map([...parts, ['manifest.json', Buffer.from(JSON.stringify({ ...manifestIn(parts), flimzy: 2 }))]]);
    const cases: [Buffer, RegExp][] = [
      [Buffer.from('not a zip at all'), /no archive of a piece/],
      [await packed(new Map([['holiday.txt', Buffer.from('x')]])), /no archive of a piece/],
      [await packed(newer), /newer Flimzy/],
      [await packed(new Map([['manifest.json', Buffer.from('{"flimzy":1}')]])), /makes no sense/],
      [archive.subarray(0, 20), /no archive of a piece/],
    ];
    for (const [bytes, says] of cases) {
      const { id, ...arrival } = await lost.bringArchive(bytes);
      expect(arrival).toMatchObject({ status: 'failed', piece: null, error: expect.stringMatching(says) as unknown });
      await lost.call('deleteArrival', { id });
      expect(readdirSync(path.join(lost.data, 'archives')).filter((name) => name.startsWith(id))).toEqual([]);
    }
  });
});

test('an archive that has arrived is read after the server was killed', async () => {
  const again = await TestServer.start();
  const upload = await again.beginUpload('piece.zip', archive.length, undefined, 'archive');
  await again.sendPart(upload, 0, archive);
  await again.kill();
  const after = await TestServer.start(again.data);
  try {
    const [arrival] = await (async () => {
      for (;;) {
        const all = await after.call<{ status: string; piece: string }[]>('listArrivals');
        if (all[0]?.status === 'done') return all;
        await new Promise((resolve) => setTimeout(resolve, 100));
      }
    })();
    expect((await after.open(arrival!.piece)).piece).toEqual({ ...piece, id: arrival!.piece });
    expect(await after.call<unknown[]>('listPieces')).toHaveLength(1);
  } finally {
    await after.stopAndRemove();
  }
});
