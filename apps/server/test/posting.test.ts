import { createServer, type Server } from 'node:http';
import { readdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import path from 'node:path';
import type { AddressInfo } from 'node:net';
import { buffer } from 'node:stream/consumers';
import type { Delivery, MediaItem, Platform, Post } from '@flimzy/contract';
import { asItIs } from '@flimzy/core/deliver';
import type { Piece, PieceFormat } from '@flimzy/core/piece';
import { frameStart } from '@flimzy/core/time';
import { Seal } from '../src/posting/seal';
import { TestPlatforms } from './beside';
import { ROOT, TestServer } from './running';

let platforms: TestPlatforms;
let server: TestServer;
let clip: MediaItem;
let token: string;
const ABOUT = { title: 'Wind <song>', description: 'Up she goes & on', tags: ['kite'] };
const UPRIGHT: PieceFormat = { width: 540, height: 960, rate: { num: 30, den: 1 } };
const started = (data?: string) => TestServer.start(data, { args: ['--no-demo', '--web', '', '--platforms', platforms.address] });

beforeAll(async () => {
  platforms = await TestPlatforms.start();
  server = await started();
  clip = await server.bringIn(path.join(ROOT, 'demo/test-media/hilltop.mp4'));
  token = await platforms.token('gustly');
});
afterAll(async () => {
  await server.stopAndRemove();
  await platforms.stop();
});

async function pieceOf(frames: number, format = UPRIGHT): Promise<Piece> {
  const { id } = await server.newPiece(format, 'Wind song');
  const place = { track: 'main', media: clip.facts!, at: null, from: 0, fit: 'fill' as const };
  await server.edit(id, 0, ['add', { ...place, length: frameStart(frames, format.rate) }]);
  return (await server.open(id)).piece;
}

/** A finished export. */
async function sent(frames = 100, format = UPRIGHT, captions = ''): Promise<Delivery> {
  const piece = await pieceOf(frames, format);
  if (captions) await server.edit(piece.id, 1, ['caption', { cues: [{ at: 0, length: frameStart(30, format.rate), text: captions }] }]);
  await server.call('newDelivery', {}, {}, { piece: piece.id, settings: { ...asItIs(piece), captions: captions ? 'beside' : 'none' } });
  return server.delivery(piece.id);
}

const post = (delivery: Delivery, platform = 'gustly', about = ABOUT) =>
  server.call<Post>('newPost', {}, {}, { delivery: delivery.id, platform, about });
const isOver = ({ status }: Post) => ['live', 'refused', 'failed', 'cancelled'].includes(status);
const over = (one: Post, by = server) =>
  by.untilTold(
    async () => (await by.call<Post[]>('listPosts', {}, { piece: one.piece })).find((post) => post.id === one.id && isOver(post)) ?? null,
    (event) => event.type === 'post' && event.post.id === one.id && isOver(event.post),
  );
const platform = async (id = 'gustly', by = server) => (await by.call<Platform[]>('listPlatforms')).find((one) => one.id === id)!;
const signIn = (id = 'gustly', by = token) => server.fetch('signIn', { platform: id }, {}, { token: by });

test('a token is sealed: it opens for its platform and its folder alone, and not when it was changed', () => {
  const seal = new Seal('a secret');
  const closed = seal.close('gustly-token', 'gustly');
  expect(closed).not.toContain('token');
  expect(seal.open(closed, 'gustly')).toBe('gustly-token');
  expect(seal.close('gustly-token', 'gustly')).not.toBe(closed);
  expect(seal.open(closed, 'corkwall')).toBeNull();
  expect(new Seal('another').open(closed, 'gustly')).toBeNull();
  const changed = Buffer.from(closed, 'base64');
  changed[changed.length - 1]! ^= 1;
  for (const wrong of [changed.toString('base64'), '', 'x']) expect(seal.open(wrong, 'gustly')).toBeNull();
});

test('signing in: what the platform does not know is refused, and the token is nowhere to be found after', async () => {
  expect((await platform()).account).toBeNull();
  expect(await (await signIn('gustly', 'gustly-nobody')).text()).toContain('does not know that token');
  expect((await signIn('gustly', 'two words')).status).toBe(400);
  expect((await signIn('corkwall')).status).toBe(400); // it is of another platform
  expect((await signIn('nowhere')).status).toBe(404);
  expect((await server.fetch('newPost', {}, {}, { delivery: (await sent()).id, platform: 'gustly', about: ABOUT })).status).toBe(400);
  const answer = await (await signIn()).text();
  expect(JSON.parse(answer)).toMatchObject({
    name: 'Gustly',
    account: { name: 'Ada', stale: false },
    tokenPage: `${platforms.address}/gustly/token`,
  });
  expect(answer).not.toContain(token);
  expect(JSON.stringify(await server.call('listPlatforms'))).not.toContain(token);
});

test('an export is posted once, however often it is asked for, and everyone sees it, with the captions that go beside it', async () => {
  await signIn();
  const delivery = await sent(100, UPRIGHT, 'Hold <on>');
  const [one, two] = await Promise.all([post(delivery), post(delivery)]);
  const live = await over(one);
  expect(live).toMatchObject({ status: 'live', reasons: [], says: null, progress: 1, title: ABOUT.title });
  expect(two.id).toBe(one.id);
  expect((await post(delivery)).id).toBe(live.id);
  const page = await (await fetch(live.page!)).text();
  expect(page).toContain('Wind &lt;song&gt;');
  expect(page).toContain('Up she goes &amp; on');
  expect(page).toContain('#kite');
  const shown = Buffer.from(await (await fetch(`${live.page!}/file`)).arrayBuffer());
  expect(shown.equals(readFileSync(path.join(server.data, 'deliveries', `${delivery.id}.mp4`)))).toBe(true);
  expect(page).toContain('<track kind="captions"');
  expect(await (await fetch(`${live.page!}/captions`)).text()).toBe('WEBVTT\n\n00:00:00.000 --> 00:00:01.000\nHold &lt;on&gt;\n');
  // Taken off the list and posted once more, it is still the same video there.
  await server.call('deletePost', { id: live.id });
  expect(await over(await post(delivery))).toMatchObject({ status: 'live', page: live.page });
  expect(await platforms.titles('gustly')).toHaveLength(1);
});

test('busy, slow, broken, silent after the last byte: it goes on, and nothing is there twice', async () => {
  await signIn();
  const before = (await platforms.titles('gustly')).length;
  await platforms.trouble(
    ['announce', 'busy'],
    ['announce', 'lost'],
    ['send', 'broken'],
    ['send', 'too-many'],
    ['arrived', 'lost'],
    ['ask', 'busy'],
    ['ask', 'broken'],
  );
  const told = await server.listen();
  const one = await post(await sent(90));
  await told((event) => event.type === 'post' && /busy just now\. It is tried again in 1 s/.test(event.post.says ?? ''));
  await told((event) => event.type === 'post' && /does not answer/.test(event.post.says ?? ''));
  await told((event) => event.type === 'post' && /asks to wait a little\. It is tried again in 2 s/.test(event.post.says ?? ''));
  expect(await over(one)).toMatchObject({ status: 'live', says: null });
  expect(await platforms.titles('gustly')).toHaveLength(before + 1);
});

test('what the platform does not show says why, in its words, and another file can be posted in its place', async () => {
  await signIn();
  const wide = await sent(60, { width: 960, height: 540, rate: { num: 30, den: 1 } });
  const refused = await over(await post(wide));
  expect(refused).toMatchObject({ status: 'refused', page: null });
  expect(refused.reasons).toEqual(['The picture is 960 by 540; here it is 9:16.', 'It lasts 2.0 s, less than 3 s.']);
  expect((await post(wide)).id).not.toBe(refused.id); // it may be tried again
  await server.call('deletePost', { id: refused.id });
  const tooLong = 'x'.repeat(101);
  expect(
    (await server.fetch('newPost', {}, {}, { delivery: wide.id, platform: 'gustly', about: { ...ABOUT, title: tooLong } })).status,
  ).toBe(400);
});

test('a server that is killed goes on, and one that is signed out says so and goes on after signing in', async () => {
  await signIn();
  const before = (await platforms.titles('gustly')).length;
  await platforms.trouble(['announce', 'lost'], ['arrived', 'lost'], ['ask', 'too-many']);
  const one = await post(await sent(95));
  const told = await server.listen();
  await told((event) => event.type === 'post' && event.post.id === one.id && event.post.says !== null);
  await server.kill();
  server = await started(server.data);
  expect(await over(one)).toMatchObject({ status: 'live' });
  expect(await platforms.titles('gustly')).toHaveLength(before + 1);

  await platforms.forget('gustly');
  const two = await post(await sent(96));
  expect(await over(two)).toMatchObject({ status: 'failed', says: expect.stringMatching(/sign in there again/) as unknown });
  expect((await platform()).account).toEqual({ name: 'Ada', stale: true });
  token = await platforms.token('gustly');
  await signIn();
  expect((await server.call<Post>('postAgain', { id: two.id })).id).toBe(two.id);
  expect(await over(two)).toMatchObject({ status: 'live' });
});

test('cancelled it stays so until it is gone on with; signed out, the token is forgotten', async () => {
  await signIn();
  await platforms.trouble(['send', 'too-many']);
  const one = await post(await sent(97));
  const told = await server.listen();
  await told((event) => event.type === 'post' && event.post.says !== null);
  await server.call('cancelPost', { id: one.id });
  expect(await over(one)).toMatchObject({ status: 'cancelled' });
  expect((await server.call<Post>('postAgain', { id: one.id })).status).not.toBe('cancelled');
  expect(await over(one)).toMatchObject({ status: 'live' });
  expect(await server.call('signOut', { platform: 'gustly' })).toMatchObject({ account: null });
  expect((await server.fetch('newPost', {}, {}, { delivery: (await sent(98)).id, platform: 'gustly', about: ABOUT })).status).toBe(400);
});

test('no token is in the database, its journal, its backups, the logs or an archive', async () => {
  await signIn();
  const { piece } = await post(await sent(99)).then((one) => over(one));
  const archive = await buffer((await server.fetch('pieceArchive', { id: piece })).body as never);
  await server.stop();
  const bytes = (place: string): Buffer[] =>
    readdirSync(place, { withFileTypes: true }).flatMap((entry) => {
      const inside = path.join(place, entry.name);
      if (entry.isDirectory()) return ['media', 'segments', 'deliveries'].includes(entry.name) ? [] : bytes(inside);
      return statSync(inside).size < 50e6 ? [readFileSync(inside)] : [];
    });
  const everything = [archive, Buffer.from(server.said), ...bytes(server.data)];
  expect(everything.length).toBeGreaterThan(10);
  for (const one of everything) expect(one.includes(token)).toBe(false);
  server = await started(server.data);
});

describe('a service that is not what it should be', () => {
  let asked: string[];
  let elsewhere: Server;
  let posing: Server;
  let answer: (path: string) => { status?: number; headers?: Record<string, string>; body: string };
  const open = (one: Server) =>
    new Promise<string>((resolve) => one.listen(0, '127.0.0.1', () => resolve(`http://127.0.0.1:${(one.address() as AddressInfo).port}`)));

  test('makes the server neither fetch, send nor link to anything but itself', async () => {
    asked = [];
    elsewhere = createServer((request, reply) => {
      asked.push(request.url ?? '');
      reply.end('{}');
    });
    const other = await open(elsewhere);
    const listed = JSON.stringify([{ id: 'gustly', name: 'Gustly', about: 'x', titleLongest: 100 }]);
    posing = createServer((request, reply) => {
      const { status = 200, headers = {}, body } = answer(request.url ?? '');
      reply.writeHead(status, { 'content-type': 'application/json', ...headers }).end(body);
    });
    const here = await open(posing);
    const video = (changes: object) =>
      JSON.stringify({ id: 'v', state: 'waiting', reasons: [], upload: `${here}/upload/v`, page: null, ...changes });
    const usual = (made: string) => (asking: string) =>
      asking === '/api/platforms' ? { body: listed } : asking.endsWith('/me') ? { body: '{"name":"Ada"}' } : { body: made };
    const data = server.data;
    await server.stop();
    answer = usual(video({}));
    server = await TestServer.start(data, { args: ['--no-demo', '--web', '', '--platforms', here] });
    await signIn();
    const cases: [string, typeof answer, RegExp][] = [
      ['an upload elsewhere', usual(video({ upload: `${other}/steal` })), /not its own/],
      ['an upload whose address begins alike', usual(video({ upload: `${here}.evil.test/x` })), /not its own/],
      ['an upload to a file', usual(video({ upload: 'file:///etc/passwd' })), /not its own/],
      ['a page that runs a script', usual(video({ state: 'live', page: 'javascript:alert(1)' })), /not its own/],
      ['an id that is a path', usual(video({ id: '../../x' })), /makes no sense/],
      ['far too long an answer', usual(`"${'x'.repeat(400_000)}"`), /far too much/],
      ['no JSON', usual('<html>'), /makes no sense/],
      [
        'a refusal with markup',
        (asking) => (asking.endsWith('/videos') ? { status: 422, body: '{"message":"<b>no</b>"}' } : usual('')(asking)),
        /The platform says: <b>no<\/b>/,
      ],
    ];
    const delivery = await sent(91);
    for (const [what, how, says] of cases) {
      answer = (asking) => how(asking);
      expect([what, await over(await post(delivery))]).toEqual([
        what,
        expect.objectContaining({ status: 'failed', page: null, says: expect.stringMatching(says) as unknown }),
      ]);
    }
    // A redirect is not followed: it is tried again, and never elsewhere.
    answer = (asking) =>
      asking.endsWith('/videos') ? { status: 307, headers: { location: `${other}/steal` }, body: '' } : usual('')(asking);
    const told = await server.listen();
    const one = await post(await sent(88));
    await told((event) => event.type === 'post' && event.post.id === one.id && /does not answer/.test(event.post.says ?? ''));
    await server.call('cancelPost', { id: one.id });
    expect(asked).toEqual([]);
    elsewhere.close();
    posing.close();
  });
});

test('without a service there is nothing to post to', async () => {
  const alone = await TestServer.start();
  expect(await alone.call('listPlatforms')).toEqual([]);
  await alone.stopAndRemove();
  rmSync(alone.data, { recursive: true, force: true });
});
