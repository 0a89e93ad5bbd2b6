import { createHash, randomUUID } from 'node:crypto';
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import type { Delivery, MediaItem } from '@flimzy/contract';
import { frameStart } from '@flimzy/core/time';
import { ffmpeg, ffprobe, newFolder, TestServer, until, VERTICAL } from '../apps/server/test/running';
import { makeFile, type Made } from './files';

/** What went wrong; empty when nothing did. */
export type Faults = string[];

const F = (n: number) => frameStart(n, VERTICAL.rate);
export const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
export const sha = (file: string) => createHash('sha256').update(readFileSync(file)).digest('hex');
const framesOf = (file: string) => {
  const count = ['-count_frames', '-select_streams', 'v', '-show_entries', 'stream=nb_read_frames', '-of', 'csv=p=0', file];
  return Number(ffprobe(...count).replace(',', ''));
};

/** A way for a server to end. */
export const ENDS: readonly (readonly [name: string, end: (server: TestServer) => Promise<void>])[] = [
  ['kill -9', (server) => server.kill()],
  ['SIGTERM', (server) => server.interruptGroup('SIGTERM')],
  ['Ctrl-C', (server) => server.interruptGroup('SIGINT')],
];

/** The ways for a server to end, each in its turn. */
const endOf = (round: number) => ENDS[round % ENDS.length] ?? (ENDS[0] as (typeof ENDS)[number]);

/** Edits one after the other until the server is gone; `acknowledged` gets the id of each that was. */
export async function write(server: TestServer, piece: string, acknowledged: string[], going: () => boolean): Promise<void> {
  while (going()) {
    const id = randomUUID();
    const request = { kind: 'do', id, name: 'rename', params: { clip: null, name: `Name ${acknowledged.length}` } };
    const answer = await server
      .fetch('editPiece', { id: piece }, {}, { since: acknowledged.length, requests: [request] })
      .catch(() => null);
    if (!answer?.ok) return;
    acknowledged.push(id);
  }
}

export async function missing(server: TestServer, piece: string, acknowledged: readonly string[]): Promise<string[]> {
  const { entries } = await server.call<{ entries: { id: string }[] }>('editPiece', { id: piece }, {}, { since: 0, requests: [] });
  const kept = new Set(entries.map((entry) => entry.id));
  return acknowledged.filter((id) => !kept.has(id));
}

/** Ends the server while it takes edits: `way` of a round says how. */
export async function endWriting(rounds: number, way = endOf): Promise<{ acknowledged: number; faults: Faults }> {
  const data = newFolder();
  let server = await TestServer.start(data, { group: true });
  const piece = await server.newPiece();
  const acknowledged: string[] = [];
  for (let round = 0; round < rounds; round += 1) {
    const before = acknowledged.length;
    const writer = write(server, piece.id, acknowledged, () => true);
    await until(() => Promise.resolve(acknowledged.length >= before + 5 ? true : null));
    await wait(Math.random() * 40);
    await way(round)[1](server);
    await writer;
    server = await TestServer.start(data, { group: true });
  }
  const faults = (await missing(server, piece.id, acknowledged)).map((id) => `the edit ${id} was acknowledged and is gone`);
  await server.stopAndRemove();
  return { acknowledged: acknowledged.length, faults };
}

/** Ends the server at some moment of an import, in each way in turn. */
export async function endImports(rounds: number): Promise<Faults> {
  const faults: Faults = [];
  const files = newFolder();
  const clip = path.join(files, 'clip.mp4');
  const sound = ['-f', 'lavfi', '-i', 'sine=duration=6'];
  ffmpeg('-f', 'lavfi', '-i', 'testsrc2=size=1080x1920:rate=30:duration=6', ...sound, '-pix_fmt', 'yuv420p', '-preset', 'ultrafast', clip);
  const bytes = readFileSync(clip);
  for (let round = 0; round < rounds; round += 1) {
    const [way, end] = endOf(round);
    const data = newFolder();
    let server = await TestServer.start(data, { group: true });
    const told = await server.listen();
    const upload = await server.beginUpload('clip.mp4', bytes.length);
    const id = upload.split('/').at(-1) ?? '';
    const step = (['reading', 'proxy', 'filmstrip'] as const)[Math.floor(round / 3) % 3];
    await server.sendPart(upload, 0, bytes);
    await told((event) => event.type === 'media' && event.item.id === id && (event.item.work?.step === step || event.item.work === null));
    await wait(Math.random() * 150);
    await end(server);
    server = await TestServer.start(data);
    const item = await server.settled(id, true);
    const say = (what: string) => faults.push(`${way} while ${step}: ${what}`);
    if (item.status !== 'ready' || item.error) say(`the item is ${item.status}: ${item.error}`);
    else if (framesOf(path.join(data, 'media', id, 'proxy.mp4')) !== 180) say('the proxy is not whole');
    if (sha(path.join(data, 'media', id, 'original')) !== sha(clip)) say('the original is not what was sent');
    await server.stopAndRemove();
  }
  rmSync(files, { recursive: true });
  return faults;
}

/** Ends the server at some moment of an export, in each way in turn. */
export async function endExports(rounds: number): Promise<Faults> {
  const faults: Faults = [];
  const files = newFolder();
  const clip = path.join(files, 'clip.mp4');
  ffmpeg(
    '-f',
    'lavfi',
    '-i',
    'testsrc2=size=540x960:rate=30:duration=8',
    '-f',
    'lavfi',
    '-i',
    'sine=duration=8',
    '-pix_fmt',
    'yuv420p',
    clip,
  );
  const data = newFolder();
  let server = await TestServer.start(data, { group: true });
  const { facts } = await server.bringIn(clip, 'clip.mp4', true);
  if (!facts) return ['the clip for the exports cannot be used'];
  for (let round = 0; round < rounds; round += 1) {
    const [way, end] = endOf(round);
    const piece = await server.newPiece({ ...VERTICAL, width: 540, height: 960 });
    const clips = Array.from(
      { length: 8 },
      (_, i) => ['add', { track: 'main', media: facts, at: null, from: F(i * 20 + round), length: F(60) }] as const,
    );
    for (const [i, [name, params]] of clips.entries()) await server.edit(piece.id, i, [name, params]);
    const told = await server.listen();
    const { id } = await server.call<Delivery>('newDelivery', {}, {}, { piece: piece.id });
    const least = Math.random() * 0.9;
    await told(
      (event) =>
        event.type === 'delivery' && event.delivery.id === id && (event.delivery.progress > least || event.delivery.status === 'done'),
    );
    await end(server);
    server = await TestServer.start(data, { group: true });
    const done = await server.delivery(piece.id);
    const file = path.join(data, 'deliveries', `${id}.mp4`);
    if (done.status !== 'done') faults.push(`${way} at ${least.toFixed(2)} of an export: it is ${done.status}: ${done.error}`);
    else if (framesOf(file) !== 480) faults.push(`${way} at ${least.toFixed(2)} of an export: ${framesOf(file)} of 480 frames`);
  }
  await server.stopAndRemove();
  rmSync(files, { recursive: true });
  return faults;
}

/** Brings files in that all must be usable. */
export async function bringOdd(made: readonly Made[]): Promise<Faults> {
  return bringAll(made, (item, data) => {
    if (item.status !== 'ready' || item.error) return `${item.status}: ${item.error}`;
    if (!item.facts) return 'no facts';
    const { kind } = item.facts;
    if (kind !== 'sound' && !item.filmstrip) return 'no filmstrip';
    const made_ = path.join(data, 'media', item.id);
    if (kind === 'video' && framesOf(path.join(made_, 'proxy.mp4')) < 2) return 'hardly a frame in its proxy';
    return kind === 'sound' && !existsSync(path.join(made_, 'sound.pcm')) ? 'no decoded sound' : null;
  });
}

/** Brings files in that are broken or hostile: each is refused with a sentence, or taken for what it holds; nothing is lost or hurt. */
export function bringBroken(made: readonly Made[]): Promise<Faults> {
  return bringAll(made, (item) => {
    if (item.status === 'preparing') return 'it is never settled';
    if (item.status === 'failed' && !/[.]$/.test(item.error ?? '')) return `no sentence: ${item.error}`;
    if (/error of its own/.test(item.error ?? '')) return item.error;
    return null;
  });
}

async function bringAll(made: readonly Made[], wrong: (item: MediaItem, data: string) => string | null): Promise<Faults> {
  const faults: Faults = [];
  const files = newFolder();
  let server = await TestServer.start();
  const canary = path.join(files, 'canary');
  writeFileSync(canary, 'still here');
  for (const [n, one] of made.entries()) {
    const file = await makeFile(one, files, n);
    const item = await server.bringIn(file, one.name, true).catch((error: unknown) => String(error));
    if (typeof item === 'string') {
      faults.push(`${one.name}: ${item}`);
      continue;
    }
    const fault = wrong(item, server.data);
    if (fault) faults.push(`${one.name}: ${fault}`);
    const original = path.join(server.data, 'media', item.id, 'original');
    if (!existsSync(original) || sha(original) !== sha(file)) faults.push(`${one.name}: its original is not what was sent`);
    if (!(await server.fetch('health').catch(() => null))?.ok) faults.push(`${one.name}: the server is down`);
  }
  await server.stop();
  server = await TestServer.start(server.data);
  if ((await server.call<MediaItem[]>('listMedia')).length !== made.length - faults.filter((f) => f.includes('Error:')).length)
    faults.push('after another start the shelf is not what it was');
  if (readFileSync(canary, 'utf8') !== 'still here') faults.push('a file beside was written');
  await server.stopAndRemove();
  rmSync(files, { recursive: true });
  return faults;
}
