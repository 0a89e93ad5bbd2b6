import { randomUUID } from 'node:crypto';
import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { createServer, request } from 'node:http';
import type { AddressInfo } from 'node:net';
import path from 'node:path';
import { connect } from 'node:tls';
import {
  ENTER_URL,
  ROUTES,
  UPLOADS_URL,
  urlOf,
  type EditAnswer,
  type MediaItem,
  type PieceSummary,
  type RouteName,
} from '@flimzy/contract';
import type { EditRequest } from '@flimzy/core/edits';
import type { MediaFacts } from '@flimzy/core/piece';
import { frameStart, fromSeconds } from '@flimzy/core/time';
import sharp from 'sharp';
import { ffmpeg, newFolder, OURS, TestServer, VERTICAL } from './running';
import { withServer } from './withServer';

const F = (n: number) => frameStart(n, VERTICAL.rate);
const MEDIA: MediaFacts = {
  id: 'v',
  name: 'Hill',
  kind: 'video',
  length: fromSeconds(20_000),
  width: 1920,
  height: 1080,
  rate: { num: 30, den: 1 },
  hasSound: true,
};
let server: TestServer;
const at = withServer((started) => (server = started));

beforeAll(() => ffmpeg('-f', 'lavfi', '-i', 'testsrc2=size=320x240:rate=30:duration=2', '-pix_fmt', 'yuv420p', at('clip.mp4')));

/** A request as anyone can make it: with any host, origin and headers. */
function ask(
  place: string,
  {
    method = 'GET',
    headers = {},
    body,
    from = server,
  }: { method?: string; headers?: Record<string, string>; body?: string; from?: TestServer },
): Promise<{ status: number; headers: Record<string, unknown>; text: string }> {
  return new Promise((resolve, reject) => {
    const asking = request(from.address + place, { method, headers }, (answer) => {
      const chunks: Buffer[] = [];
      answer.on('data', (chunk: Buffer) => chunks.push(chunk));
      answer.on('end', () =>
        resolve({ status: answer.statusCode ?? 0, headers: { ...answer.headers }, text: Buffer.concat(chunks).toString() }),
      );
    });
    asking.on('error', reject);
    asking.end(body);
  });
}

const upload = {
  'tus-resumable': '1.0.0',
  'upload-length': '10',
  'upload-metadata': `filename ${Buffer.from('a.mp4').toString('base64')}`,
};

describe('a page of another site', () => {
  const FOREIGN = { origin: 'https://elsewhere.example' };

  it('can neither read nor upload nor change, and is told nothing', async () => {
    const answers = await Promise.all([
      ask('/api/pieces', { headers: FOREIGN }),
      ask('/api/pieces', { headers: { 'sec-fetch-site': 'cross-site' } }),
      ask('/api/pieces', { headers: { origin: 'null' } }),
      ask(UPLOADS_URL, { method: 'POST', headers: { ...FOREIGN, ...upload } }),
      ask(UPLOADS_URL, { method: 'OPTIONS', headers: { ...FOREIGN, 'access-control-request-method': 'POST' } }),
      ask('/api/pieces', { method: 'POST', headers: { ...FOREIGN, ...OURS, 'content-type': 'application/json' }, body: '{}' }),
    ]);
    expect(answers.map((a) => a.status)).toEqual([403, 403, 403, 403, 403, 403]);
    for (const { headers, text } of answers) {
      expect(headers).not.toHaveProperty('access-control-allow-origin');
      expect(JSON.parse(text)).toMatchObject({ type: '/problems/wrong-door' });
    }
  });

  it('cannot send what browsers send without asking first: every change needs a header of ours', async () => {
    for (const [method, place] of [
      ['POST', '/api/pieces'],
      ['POST', UPLOADS_URL],
      ['DELETE', '/api/media/some-item'],
    ] as const)
      expect((await ask(place, { method, headers: method === 'POST' ? { ...upload, 'content-type': 'text/plain' } : {} })).status).toBe(
        403,
      );
    const ours = await ask(UPLOADS_URL, { method: 'POST', headers: { ...upload, ...OURS } });
    expect(ours.status).toBe(201);
    expect(ours.headers).not.toHaveProperty('access-control-allow-origin');
  });

  it('cannot pass for ours under a name that was pointed at this machine', async () => {
    for (const host of ['rebound.example', 'rebound.example:80'])
      expect((await ask('/api/pieces', { headers: { host } })).status).toBe(403);
    for (const host of ['localhost:4173', '127.0.0.1', '[::1]:9'])
      expect((await ask('/api/pieces', { headers: { host } })).status).toBe(200);
    const named = await TestServer.start(newFolder(), { env: { NAMES: 'studio.example' } });
    expect((await ask('/api/pieces', { headers: { host: 'studio.example' }, from: named })).status).toBe(200);
    expect((await ask('/api/pieces', { headers: { host: 'other.example' }, from: named })).status).toBe(403);
    await named.stopAndRemove();
  });
});

describe('a server that others on the network reach', () => {
  it('does not start without an access code, or with one that is hardly any', async () => {
    await expect(TestServer.start(newFolder(), { env: { HOST: '0.0.0.0' } })).rejects.toThrow(/wants an access code/);
    await expect(TestServer.start(newFolder(), { env: { HOST: '0.0.0.0', CODE: 'abc' } })).rejects.toThrow(/at least 6 letters/);
  });

  it('speaks HTTPS with a certificate of its own, for all its names, which it keeps; with files that are not there it does not start', async () => {
    const data = newFolder();
    const how = { env: { HTTPS: 'own', HOST: '0.0.0.0', CODE: 'wind & paper' } };
    let server = await TestServer.start(data, how);
    expect(server.address).toMatch(/^https:/);
    expect(server.said).toMatch(/From a phone on the same network: https:/);
    const shown = () =>
      new Promise<{ print: string; names: string }>((resolve, reject) => {
        const socket = connect({ port: Number(new URL(server.address).port), host: '127.0.0.1', rejectUnauthorized: false }, () => {
          const { fingerprint256, subjectaltname } = socket.getPeerCertificate();
          socket.end();
          resolve({ print: fingerprint256, names: subjectaltname ?? '' });
        });
        socket.on('error', reject);
      });
    const first = await shown();
    for (const name of ['DNS:localhost', 'IP Address:127.0.0.1']) expect(first.names).toContain(name);
    await server.stop();
    server = await TestServer.start(data, how);
    expect((await shown()).print).toBe(first.print);
    await server.stop();
    server = await TestServer.start(data, { env: { ...how.env, NAMES: 'studio.example' } });
    const other = await shown();
    expect(other.names).toContain('DNS:studio.example');
    expect(other.print).not.toBe(first.print);
    expect(statSync(path.join(data, 'certificate.pem')).mode & 0o077).toBe(0);
    await server.stopAndRemove();
    await expect(TestServer.start(newFolder(), { env: { HTTPS: 'given', CERT: '/nowhere' } })).rejects.toThrow(/cannot be read: .nowhere/);
    const none = { HTTPS: 'given', CERT: __filename, KEY: __filename };
    await expect(TestServer.start(newFolder(), { env: none })).rejects.toThrow(/are no certificate with its key/);
    await expect(TestServer.start(newFolder(), { env: { HTTPS: 'yes' } })).rejects.toThrow(/HTTPS=own makes a certificate/);
  });

  it('answers nothing until the code is typed, once on each device, and again when it is another', async () => {
    const data = newFolder();
    let locked = await TestServer.start(data, { env: { CODE: 'wind & paper' } });
    const names = Object.keys(ROUTES) as RouteName[];
    for (const name of names) {
      const url = urlOf(ROUTES[name], { id: randomUUID(), version: randomUUID() });
      expect([name, (await ask(url, { method: ROUTES[name].method, headers: OURS, from: locked })).status]).toEqual([name, 401]);
    }
    expect((await ask(UPLOADS_URL, { method: 'POST', headers: { ...OURS, ...upload }, from: locked })).status).toBe(401);
    expect((await ask('/', { headers: { accept: 'text/html' }, from: locked })).headers.location).toBe(ENTER_URL);
    const enter = (code: string) =>
      ask(ENTER_URL, {
        method: 'POST',
        headers: { 'content-type': 'application/x-www-form-urlencoded' },
        body: new URLSearchParams({ code }).toString(),
        from: locked,
      });
    const wrong = await enter('paper & wind');
    expect([wrong.status, wrong.headers['set-cookie']]).toEqual([401, undefined]);
    const right = await enter('wind & paper');
    const [set] = right.headers['set-cookie'] as string[];
    expect(set).toMatch(/HttpOnly; SameSite=Lax/);
    const cookie = set!.split(';')[0]!;
    const open = async (with_: string) => (await ask('/api/pieces', { headers: { cookie: with_ }, from: locked })).status;
    expect([await open(cookie), await open(`${cookie.slice(0, -2)}xx`), await open('flimzy=in')]).toEqual([200, 401, 401]);
    await locked.stop();
    locked = await TestServer.start(data, { env: { CODE: 'wind & paper' } });
    expect(await open(cookie)).toBe(200);
    await locked.stop();
    locked = await TestServer.start(data, { env: { CODE: 'another one' } });
    expect(await open(cookie)).toBe(401);
    await locked.stopAndRemove();
  });
});

describe('what comes from outside', () => {
  it('cannot bring the server down for good: a NUL in a name, then and at every later start', async () => {
    const before = await server.call<PieceSummary[]>('listPieces');
    await expect(server.beginUpload('film\0.mp4', 10)).rejects.toThrow(/letters that no name can have/);
    for (const name of ['A\0B', '\ud800', 'x'.repeat(121)])
      expect((await server.fetch('newPiece', {}, {}, { name, format: VERTICAL })).status).toBe(400);
    const piece = await server.newPiece();
    const edit = (params: unknown) =>
      server.fetch('editPiece', { id: piece.id }, {}, { since: 0, requests: [{ kind: 'do', id: randomUUID(), name: 'rename', params }] });
    expect((await edit({ clip: null, name: 'A\0B' })).status).toBe(400);
    expect((await edit({ clip: null, name: 'A\udfff' })).status).toBe(400);
    expect((await edit({ 'na\0me': 1 })).status).toBe(400);
    // What an older version may have left lying about.
    writeFileSync(path.join(server.data, 'uploads', `${randomUUID()}.json`), '{"id":"../../x","size":-1');
    await server.stop();
    server = await TestServer.start(server.data);
    expect((await server.call<PieceSummary[]>('listPieces')).length).toBe(before.length + 1);
    expect((await server.bringIn(at('clip.mp4'))).status).toBe('ready');
  });

  it('cannot store a piece that cannot be opened again: times near the end of what is exact', async () => {
    const piece = await server.newPiece();
    const huge = Number.MAX_SAFE_INTEGER - (Number.MAX_SAFE_INTEGER % F(1)) - F(1);
    const wanted: [string, unknown][] = [
      ['add', { track: 'main', media: { ...MEDIA, length: Number.MAX_SAFE_INTEGER }, at: huge, from: 0, length: F(30) }],
      ['add', { track: 'main', media: { ...MEDIA, length: Number.MAX_SAFE_INTEGER }, at: null, from: huge, length: F(30) }],
      ['add', { track: 'main', media: { ...MEDIA, length: Number.MAX_SAFE_INTEGER }, at: null, from: 0, length: huge }],
      ['add', { track: 'main', media: MEDIA, at: null, from: 2 ** 60, length: F(30) }],
      ['addMarker', { inside: null, time: huge, name: 'x', letter: 'A', note: '' }],
    ];
    for (const [name, params] of wanted) {
      const body = { since: 0, requests: [{ kind: 'do', id: randomUUID(), name, params }] };
      const response = await server.fetch('editPiece', { id: piece.id }, {}, body);
      const answer = (await response.json()) as Partial<EditAnswer>;
      expect([name, response.status === 400 || (answer.refused?.length ?? 0) === 1]).toEqual([name, true]);
    }
    expect((await server.fetch('editPiece', { id: piece.id }, {}, { since: 2 ** 40, requests: [] })).status).toBe(400);
    expect((await server.open(piece.id)).revision).toBe(0);
    await server.stop();
    server = await TestServer.start(server.data);
    expect((await server.open(piece.id)).piece.tracks[0]!.clips).toEqual([]);
    expect((await server.fetch('listPieces')).status).toBe(200);
  });

  it('is done once when it is asked for twice: in one batch, and long after', async () => {
    const piece = await server.newPiece();
    const add: EditRequest = {
      kind: 'do',
      id: randomUUID(),
      name: 'add',
      params: { track: 'main', media: MEDIA, at: null, from: 0, length: F(30) },
    };
    const send = (since: number, requests: EditRequest[]) =>
      server.call<EditAnswer>('editPiece', { id: piece.id }, {}, { since, requests });
    expect(await send(0, [add, add])).toMatchObject({ refused: [], known: [] });
    for (let n = 1; n < 4; n += 1) await server.edit(piece.id, n, ['rename', { clip: null, name: `Name ${n}` }]);
    expect(await send(4, [add])).toEqual({ entries: [], refused: [], known: [add.id] });
    expect((await server.open(piece.id)).piece.tracks[0]!.clips).toHaveLength(1);
  });

  it('keeps nobody else waiting, however much it asks for at once', async () => {
    const piece = await server.newPiece();
    const together = (count: number): EditRequest => ({
      kind: 'do',
      id: randomUUID(),
      name: 'together',
      params: {
        title: 'Many',
        edits: Array.from({ length: count }, (_, n) => ({
          name: 'add',
          params: { track: 'main', media: MEDIA, at: F(n * 2), from: 0, length: F(2) },
        })),
      },
    });
    const body = { since: 0, requests: Array.from({ length: 20 }, () => together(1000)) };
    expect((await server.fetch('editPiece', { id: piece.id }, {}, body)).status).toBe(413);
    const order: string[] = [];
    const heavy = server
      .fetch('editPiece', { id: piece.id }, {}, { since: 0, requests: [together(2000)] })
      .then((response) => order.push(`heavy ${response.status}`));
    for (let n = 0; n < 3; n += 1) {
      await server.call('health');
      order.push('health');
    }
    await heavy;
    expect(order.slice(0, 3)).toEqual(['health', 'health', 'health']);
    expect(order[3]).toBe('heavy 200');
  });

  it('reads no other file: a playlist under another name is no video', async () => {
    const secret = at('clip.mp4');
    const lists: [string, string][] = [
      ['list.mp4', `#EXTM3U\n#EXT-X-TARGETDURATION:5\n#EXTINF:5,\n${secret}\n#EXT-X-ENDLIST\n`],
      ['list.m3u8', `#EXTM3U\n#EXT-X-TARGETDURATION:5\n#EXTINF:5,\nfile://${secret}\n#EXT-X-ENDLIST\n`],
      ['concat.mp4', `ffconcat version 1.0\nfile '${secret}'\n`],
      [
        'dash.mp4',
        `<?xml version="1.0"?><MPD xmlns="urn:mpeg:dash:schema:mpd:2011" profiles="urn:mpeg:dash:profile:isoff-on-demand:2011" type="static" mediaPresentationDuration="PT2S"><Period><AdaptationSet><Representation id="1" bandwidth="1"><BaseURL>${secret}</BaseURL></Representation></AdaptationSet></Period></MPD>`,
      ],
    ];
    for (const [name, text] of lists) {
      writeFileSync(at(name), text);
      const item = await server.bringIn(at(name));
      expect([name, item.status]).toEqual([name, 'failed']);
      expect(item.error).toMatch(/is not a video, photo or sound file that can be read|could not be decoded/);
    }
  });

  it('is not held up by a file that begins like a drawing and never becomes one', async () => {
    writeFileSync(at('comments.svg'), '<!---->'.repeat(1000));
    const item = await server.bringIn(at('comments.svg'));
    expect(item).toMatchObject({ status: 'failed', error: expect.stringContaining('comments.svg') as string });
    expect((await server.fetch('health')).ok).toBe(true);
  });

  it('draws nothing of other files into a drawing, nor asks anyone for it', async () => {
    ffmpeg('-f', 'lavfi', '-i', 'color=red:size=64x64', '-frames:v', '1', at('secret.png'));
    let asked = 0;
    const elsewhere = createServer((_request, response) => {
      asked += 1;
      response.end();
    });
    await new Promise<void>((resolve) => elsewhere.listen(0, '127.0.0.1', resolve));
    const { port } = elsewhere.address() as AddressInfo;
    const places = [`file://${at('secret.png')}`, at('secret.png'), 'original', `http://127.0.0.1:${port}/red.png`];
    const images = places.map((href) => `<image href="${href}" width="64" height="64"/>`);
    const entity = `<!DOCTYPE svg [<!ENTITY word SYSTEM "file://${at('secret.png')}">]>`;
    for (const [n, head] of ['', entity].entries()) {
      const text = `${head}<svg xmlns="http://www.w3.org/2000/svg" width="64" height="64"><rect width="8" height="8" fill="blue"/>${images.join('')}${n ? '&word;' : ''}</svg>`;
      writeFileSync(at('drawing.svg'), text);
      const item = await server.bringIn(at('drawing.svg'));
      if (item.status === 'failed') continue;
      const png = Buffer.from(await (await server.fetch('mediaProxy', { id: item.id })).arrayBuffer());
      const { data } = await sharp(png).resize(64, 64, { kernel: 'nearest' }).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
      expect([data[2]! > 200, data[3]]).toEqual([true, 255]);
      for (let i = 0; i < data.length; i += 4) expect(data[i]! > 40 && data[i + 3]! > 40).toBe(false);
    }
    elsewhere.close();
    expect(asked).toBe(0);
  });

  it('draws frames a few at a time, and not for those who have left', async () => {
    const item = await server.bringIn(at('clip.mp4'));
    const piece = await server.newPiece();
    await server.edit(piece.id, 0, ['add', { track: 'main', media: item.facts!, at: null, from: 0, length: F(59) }]);
    const running = () =>
      execFileSync('ps', ['-e', '-o', 'ppid=,comm='])
        .toString()
        .split('\n')
        .filter((line) => line.trim().startsWith(`${server.pid} `) && line.includes('ffmpeg')).length;
    const leaving = new AbortController();
    const url = (n: number) => `${server.address}/api/pieces/${piece.id}/frame?at=${F(n)}&width=${300 + n}`;
    const asked = Array.from({ length: 40 }, (_, n) => fetch(url(n % 59), { signal: leaving.signal }).then((r) => r.arrayBuffer()));
    const first = await Promise.race(asked);
    expect(Buffer.from(first).subarray(1, 4).toString()).toBe('PNG');
    let most = 0;
    for (let n = 0; n < 20; n += 1) most = Math.max(most, running());
    expect(most).toBeLessThanOrEqual(2);
    leaving.abort();
    await Promise.allSettled(asked);
    // Whoever asks now has not to wait for forty others.
    expect((await fetch(url(58))).status).toBe(200);
  });

  it('gets an answer to a range that makes no sense', async () => {
    const item = await server.bringIn(at('clip.mp4'));
    const range = (value: string) => fetch(`${server.address}/api/media/${item.id}/proxy`, { headers: { range: value } });
    expect((await range('bytes=999999999-')).status).toBe(416);
    expect((await range('bytes=0-9')).status).toBe(206);
    expect([200, 206, 416]).toContain((await range('nonsense')).status);
  });
});

describe('room on the disk', () => {
  it('is looked at before an upload is taken, and said when it is short; nothing half-sent stays', async () => {
    const short = await TestServer.start(newFolder(), { args: ['--no-demo', '--web', '', '--spare', String(1e12)] });
    await expect(short.beginUpload('film.mp4', 1e6)).rejects.toThrow(/There is not enough room on the server for “film.mp4”/);
    const answer = await ask(UPLOADS_URL, { method: 'POST', headers: { ...OURS, ...upload }, from: short });
    expect(answer.status).toBe(507);
    await short.stopAndRemove();
  });

  it('is said in figures, and freed: kept segments, exports, items that nothing uses, what was deleted', async () => {
    const item = await server.bringIn(at('clip.mp4'), 'used.mp4', true);
    const other = await server.bringIn(at('clip.mp4'), 'unused.mp4', true);
    const gone = await server.bringIn(at('clip.mp4'), 'gone.mp4', true);
    await server.call('deleteMedia', { id: gone.id });
    const piece = await server.newPiece();
    await server.edit(piece.id, 0, ['add', { track: 'main', media: item.facts!, at: null, from: 0, length: F(30) }]);
    const done = await server.deliver(piece.id);
    type Report = { free: number; total: number; freeable: Record<string, { bytes: number; count: number }>; deliveries: number };
    const before = await server.call<Report>('storage');
    expect(before.total).toBeGreaterThan(before.free);
    for (const kind of ['segments', 'deliveries', 'unused', 'deleted']) expect(before.freeable[kind]!.bytes).toBeGreaterThan(0);
    // Asked for again, what is there is not made again.
    expect((await server.call<{ id: string }>('newDelivery', {}, {}, { piece: piece.id })).id).toBe(done.id);
    for (const what of ['segments', 'deliveries', 'unused', 'deleted']) {
      const after = await server.call<Report>('freeStorage', {}, {}, { what });
      expect([what, after.freeable[what]!.count]).toEqual([what, 0]);
    }
    expect((await server.call<MediaItem[]>('listMedia')).map((m) => m.id)).toContain(item.id);
    expect((await server.call<MediaItem[]>('listMedia')).map((m) => m.id)).not.toContain(other.id);
    expect((await server.fetch('restoreMedia', { id: gone.id })).status).toBe(404);
    expect((await server.fetch('deliveryFile', { id: done.id })).status).toBe(404);
    expect((await server.fetch('mediaOriginal', { id: item.id })).status).toBe(200);
    const again = await server.deliver(piece.id);
    expect([again.status, again.id === done.id]).toEqual(['done', false]);
    await server.call('deleteDelivery', { id: again.id });
    expect((await server.call<{ id: string }[]>('listDeliveries', {}, { piece: piece.id })).length).toBe(0);
    await server.call('restoreDelivery', { id: again.id });
    expect((await server.fetch('deliveryFile', { id: again.id })).status).toBe(200);
  });
});

describe('the data folder', () => {
  it('may have any name, and is one folder by whatever path it is reached', async () => {
    const data = path.join(newFolder(), 'Nell’s & "kites" \'26');
    mkdirSync(data);
    const odd = await TestServer.start(data);
    const item = await odd.bringIn(at('clip.mp4'));
    const piece = await odd.newPiece();
    await odd.edit(piece.id, 0, ['add', { track: 'main', media: item.facts!, at: null, from: 0, length: F(30) }]);
    expect((await odd.deliver(piece.id)).error).toBeNull();
    const link = at('another way');
    execFileSync('ln', ['-s', data, link]);
    await expect(TestServer.start(link)).rejects.toThrow(/Another Flimzy server is already working on/);
    expect(readFileSync(path.join(data, 'media', item.id, 'original')).equals(readFileSync(at('clip.mp4')))).toBe(true);
    await odd.stopAndRemove();
  });
});
