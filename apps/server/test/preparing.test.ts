import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  chmodSync,
  cpSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import path from 'node:path';
import type { MediaItem } from '@flimzy/contract';
import type { Hearing } from '@flimzy/core/sound';
import { keptDemo } from '../../../e2e/kept';
import { CLIP_FRAMES, ffmpeg, ffprobe, makeClips, newFolder, ROOT, TestServer, until } from './running';

const files = newFolder();
const at = (name: string) => path.join(files, name);

beforeAll(() => makeClips(files));
afterAll(() => rmSync(files, { recursive: true, force: true }));

const sha = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex');

/** Every frame of an item's proxy decodes, and there are as many as there should be. */
function expectWhole(data: string, id: string, frames: number): void {
  const proxy = path.join(data, 'media', id, 'proxy.mp4');
  const count = ffprobe('-count_frames', '-select_streams', 'v', '-show_entries', 'stream=nb_read_frames', '-of', 'csv=p=0', proxy);
  expect(Number(count.replace(',', ''))).toBe(frames);
}

/** Uploads a file and waits until its proxy is being made. Gives the item's id. */
async function beingPrepared(server: TestServer): Promise<string> {
  const told = await server.listen();
  const id = await server.upload(at('clip.mp4'));
  await told((event) => event.type === 'media' && event.item.id === id && event.item.work?.step === 'proxy');
  return id;
}

/** A program put in the place of another, in a folder that is looked through first. */
function inPlaceOf(bin: string, name: string, text: string): void {
  mkdirSync(bin, { recursive: true });
  writeFileSync(path.join(bin, name), `#!/bin/sh\n${text}`);
  chmodSync(path.join(bin, name), 0o755);
}
const lookedThrough = (bin: string) => ({ PATH: `${bin}:${process.env.PATH}` });
const real = (name: string) => execFileSync('which', [name]).toString().trim();

/** Programs that have to do with a folder. */
const programsOn = (folder: string) =>
  execFileSync('ps', ['-e', '-o', 'comm=,args='])
    .toString()
    .split('\n')
    .filter((line) => line.startsWith('ff') && line.includes(folder));

describe('a file that is being prepared', () => {
  it('is whole after another start, and so is its original, however the server ended', async () => {
    const data = newFolder();
    const ends: [string, (server: TestServer) => Promise<void>][] = [
      ['kill -9', (server) => server.kill()],
      ['Ctrl-C in the terminal, which every program of the group hears', (server) => server.interruptGroup()],
      ['SIGTERM to the whole group', (server) => server.interruptGroup('SIGTERM')],
    ];
    let server = await TestServer.start(data, { group: true });
    for (const [way, end] of ends) {
      const id = await beingPrepared(server);
      await end(server);
      await until(() => Promise.resolve(programsOn(data).length === 0 ? true : null));
      server = await TestServer.start(data, { group: true });
      const item = await server.settled(id, true);
      expect([way, item.status, item.error, item.filmstrip !== null]).toEqual([way, 'ready', null, true]);
      expectWhole(data, id, CLIP_FRAMES);
      const original = readFileSync(path.join(data, 'media', id, 'original'));
      expect([way, sha(original)]).toEqual([way, sha(readFileSync(at('clip.mp4')))]);
      expect([way, readdirSync(path.join(data, 'media', id)).filter((name) => name.endsWith('.new'))]).toEqual([way, []]);
    }
    await server.stopAndRemove();
  });

  it('is kept when the server cannot prepare it just now, and prepared when it is tried again', async () => {
    const data = newFolder();
    const bin = at('bin');
    // The filmstrip is made with a tile filter; everything else works.
    inPlaceOf(bin, 'ffmpeg', `case "$*" in *tile=*) kill -9 $$ ;; *) exec ${real('ffmpeg')} "$@" ;; esac\n`);
    let server = await TestServer.start(data, { env: lookedThrough(bin) });
    const stripless = await server.bringIn(at('small.mp4'), 'stripless.mp4', true);
    expect(stripless).toMatchObject({ status: 'ready', filmstrip: { count: 1 }, originalKept: true });
    expect(stripless.error).toMatch(/The filmstrip of “stripless.mp4” could not be prepared/);
    expect((await server.fetch('mediaProxy', { id: stripless.id })).status).toBe(200);
    inPlaceOf(bin, 'ffmpeg', 'echo "No space left on device" >&2\nexit 1\n');
    const full = await server.bringIn(at('small.mp4'), 'full.mp4', true);
    expect(full).toMatchObject({ status: 'failed', originalKept: true });
    expect(full.error).toMatch(/The disk of the server is full/);
    inPlaceOf(bin, 'ffmpeg', 'kill -9 $$\n');
    const killed = await server.bringIn(at('small.mp4'), 'killed.mp4', true);
    expect(killed.error).toMatch(/an error of its own. Try again/);
    await server.stop();
    server = await TestServer.start(data);
    for (const { id } of [stripless, full, killed]) {
      expect(readFileSync(path.join(data, 'media', id, 'original')).equals(readFileSync(at('small.mp4')))).toBe(true);
      await server.call('prepareAgain', { id });
      expect(await server.settled(id, true)).toMatchObject({ status: 'ready', error: null, filmstrip: expect.anything() });
    }
    await server.stopAndRemove();
  });

  it('is not made again for a file that was half made beside it: what someone asked for meanwhile is none of its own', async () => {
    const data = newFolder();
    let server = await TestServer.start(data);
    const id = await beingPrepared(server);
    writeFileSync(path.join(data, 'media', id, 'light.rgb.1.new'), 'half');
    await server.settled(id, true);
    const made = () => statSync(path.join(data, 'media', id, 'proxy.mp4')).ino;
    const before = made();
    await server.kill();
    server = await TestServer.start(data); // which clears what is half made
    expect(await server.settled(id, true)).toMatchObject({ status: 'ready', error: null });
    expect(made()).toBe(before);
    await server.stopAndRemove();
  });

  it('whose made files turn out damaged or gone has them made again from the original; all can be used before the first is whole', async () => {
    const data = newFolder();
    let server = await TestServer.start(data);
    const ids: string[] = [];
    for (let n = 0; n < 6; n += 1) ids.push((await server.bringIn(at('small.mp4'), `${n}.mp4`, true)).id);
    ffmpeg('-f', 'lavfi', '-i', 'sine=frequency=330:duration=1', at('tone.wav'));
    const tone = await server.bringIn(at('tone.wav'), 'tone.wav', true);
    const gone = await server.bringIn(at('small.mp4'), 'gone.mp4', true);
    await server.stop();
    for (const id of ids.slice(1)) truncateSync(path.join(data, 'media', id, 'proxy.mp4'), 1000);
    rmSync(path.join(data, 'media', ids[0]!, 'filmstrip.jpg'));
    rmSync(path.join(data, 'media', tone.id, 'hearing.json'));
    rmSync(path.join(data, 'media', gone.id, 'original'));
    writeFileSync(path.join(data, 'media', ids[0]!, 'proxy.mp4.half.new'), 'half');
    mkdirSync(path.join(data, 'deliveries', 'work-left'));
    server = await TestServer.start(data);
    // Nobody waits for the proxies of others.
    const once = await until(async () => {
      const items = (await server.call<MediaItem[]>('listMedia')).filter(({ id }) => ids.includes(id));
      return items.some(({ status }) => status === 'ready') ? items : null;
    });
    expect(once.map(({ usable }) => usable)).toEqual(ids.map(() => true));
    for (const id of ids) {
      expect(await server.settled(id, true)).toMatchObject({ status: 'ready', filmstrip: expect.anything() });
      expectWhole(data, id, 30);
    }
    expect(await server.settled(tone.id, true)).toMatchObject({ status: 'ready', heard: true });
    expect((await server.call<Hearing>('mediaHearing', { id: tone.id })).loudness).toHaveLength(10);
    expect((await server.call<MediaItem>('getMedia', { id: gone.id })).error).toMatch(/is gone from the server’s disk/);
    expect(readdirSync(path.join(data, 'media', ids[0]!)).filter((name) => name.endsWith('.new'))).toEqual([]);
    expect(readdirSync(path.join(data, 'deliveries'))).toEqual([]);
    await server.stopAndRemove();
  });
});

describe('a first start', () => {
  it('that is cut off while it loads the demo goes on with it at the next, once each', async () => {
    const data = newFolder();
    const how = { args: ['--web', ''] };
    const { spawn } = await import('node:child_process');
    const first = spawn(process.execPath, [path.resolve(__dirname, '../dist/server.mjs'), '--data', data, ...how.args], {
      env: { ...process.env, PORT: '0' },
    });
    await until(() =>
      Promise.resolve(existsSync(path.join(data, 'media')) && readdirSync(path.join(data, 'media')).length > 5 ? true : null),
    );
    first.kill('SIGKILL');
    const bin = at('noting');
    inPlaceOf(bin, 'ffmpeg', `echo "$*" >> ${at('asked')}\nexec ${real('ffmpeg')} "$@"\n`);
    const server = await TestServer.start(data, { ...how, env: lookedThrough(bin) });
    const items = await server.call<MediaItem[]>('listMedia');
    expect([items.length, items.filter((item) => !item.usable)]).toEqual([22, []]);
    // What the first had begun with is neither left out nor begun with twice, one beside the other.
    const asked = readFileSync(at('asked'), 'utf8').split('\n');
    const decoded = items
      .filter(({ facts }) => facts?.hasSound)
      .map(({ id }) => asked.filter((line) => line.includes(`/media/${id}/`) && line.includes('f32le')).length);
    expect(Math.max(...decoded)).toBeLessThanOrEqual(1);
    const pieces = await server.call<{ id: string; clips: number }[]>('listPieces');
    await server.stop();
    const again = await TestServer.start(data, how);
    expect(await again.call('listPieces')).toEqual(pieces);
    expect(pieces.every((piece) => piece.clips > 0)).toBe(true);
    await until(async () => ((await again.call<MediaItem[]>('listMedia')).every((item) => item.work === null) ? true : null));
    await again.stop();
    // It takes a while to load: the tests of the interface go on with what was made here.
    const kept = keptDemo(ROOT);
    if (kept.isThere()) return;
    rmSync(kept.folder, { recursive: true, force: true });
    cpSync(data, kept.folder, { recursive: true });
    kept.isMade();
  });
});
