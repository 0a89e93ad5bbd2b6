import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import {
  ARCHIVE_PURPOSE,
  EVENTS_URL,
  OURS_HEADER,
  ROUTES,
  UPLOADS_URL,
  urlOf,
  type Arrival,
  type Delivery,
  type EditAnswer,
  type MediaItem,
  type OpenedPiece,
  type PieceSummary,
  type RouteName,
  type ServerEvent,
} from '@flimzy/contract';
import type { EditName, EditParams } from '@flimzy/core/edits';
import type { PieceFormat } from '@flimzy/core/piece';

/** What shows that a request comes from our own app. */
export const OURS = { [OURS_HEADER]: '1' };

/** The repository: where tests and the torture are run from. */
export const ROOT = process.cwd();
const SERVER = path.join(ROOT, 'apps/server/dist/server.mjs');

/** Servers and folders of a test: one that fails leaves none behind. */
const started = new Set<ChildProcess>();
const folders: string[] = [];
function clear(): void {
  for (const child of started) child.kill('SIGKILL');
  for (const folder of folders) rmSync(folder, { recursive: true, force: true });
}
if (typeof afterAll === 'function') afterAll(clear);
else process.once('exit', clear);

export const VERTICAL: PieceFormat = { width: 270, height: 480, rate: { num: 30, den: 1 } };

export function newFolder(): string {
  const folder = mkdtempSync(path.join(tmpdir(), 'flimzy-test-'));
  folders.push(folder);
  return folder;
}

/** Whether nothing more comes of an export by itself. */
export const isOver = ({ status }: Delivery): boolean => status !== 'waiting' && status !== 'rendering';

type Fits = (event: ServerEvent) => boolean;
export interface Hear {
  /** Waits for the first event that fits, of all that were told since one listens. */
  (fits: Fits): Promise<ServerEvent>;
  /** Waits for the first that fits of those that are still to be told. */
  next(fits: Fits): Promise<ServerEvent>;
}

/** Listens to what a server tells from now on; nothing is missed, however late it is asked for. Ends with the server. */
export async function listenTo(address: string): Promise<Hear> {
  const response = await fetch(address + EVENTS_URL);
  const heard: ServerEvent[] = [];
  let waiting: (() => void)[] = [];
  const wake = () => {
    for (const one of waiting) one();
    waiting = [];
  };
  let ended = false;
  void (async () => {
    let text = '';
    const letters = new TextDecoder();
    for await (const bytes of response.body as unknown as AsyncIterable<Uint8Array>) {
      const lines = (text + letters.decode(bytes, { stream: true })).split('\n\n');
      text = lines.pop()!;
      for (const line of lines) if (line.startsWith('data: ')) heard.push(JSON.parse(line.slice(6)) as ServerEvent);
      wake();
    }
  })()
    .catch(() => undefined)
    .finally(() => {
      ended = true;
      wake();
    });
  const from = async (first: number, fits: Fits) => {
    for (let n = first; ; n += 1) {
      while (n >= heard.length) {
        if (ended) throw new Error('the server ended without telling of it');
        await new Promise<void>((resolve) => waiting.push(resolve));
      }
      if (fits(heard[n]!)) return heard[n]!;
    }
  };
  return Object.assign((fits: Fits) => from(0, fits), { next: (fits: Fits) => from(heard.length, fits) });
}

/** A real server, as a process of its own, on a data folder: what npm start runs. */
export class TestServer {
  private heard: Promise<Hear> | null = null;

  private constructor(
    readonly address: string,
    readonly data: string,
    private readonly process: ChildProcess,
    private readonly lines: readonly string[],
  ) {}

  /** Everything it has said so far. */
  get said(): string {
    return this.lines.join('');
  }

  get pid(): number {
    return this.process.pid!;
  }

  /** @param how further arguments, other variables, and whether it has a process group of its own, as a terminal gives it one */
  static async start(
    data = newFolder(),
    how: { args?: string[]; env?: Record<string, string>; group?: boolean } = {},
  ): Promise<TestServer> {
    const child = spawn(process.execPath, [SERVER, '--data', data, ...(how.args ?? ['--no-demo', '--web', ''])], {
      env: { ...process.env, PORT: '0', ...how.env },
      stdio: ['ignore', 'pipe', 'pipe'],
      detached: how.group ?? false,
    });
    started.add(child);
    child.once('exit', () => started.delete(child));
    const lines: string[] = [];
    const address = await new Promise<string>((resolve, reject) => {
      let said = '';
      const hear = (chunk: Buffer) => {
        said += chunk.toString();
        lines.push(chunk.toString());
        const found = /Flimzy is at (\S+)/.exec(said);
        if (found) resolve(found[1]!);
      };
      child.stdout?.on('data', hear);
      child.stderr?.on('data', hear);
      child.on('exit', () => reject(new Error(said || 'the server did not start')));
    });
    return new TestServer(address, data, child, lines);
  }

  private end(signal: NodeJS.Signals, group = false): Promise<void> {
    return new Promise((resolve) => {
      if (this.process.exitCode !== null || this.process.signalCode !== null) return resolve();
      this.process.once('exit', () => resolve());
      process.kill(group ? -this.pid : this.pid, signal);
    });
  }

  /** Ends it as a power cut would end the process. */
  kill = () => this.end('SIGKILL');
  stop = () => this.end('SIGTERM');
  /** Ctrl-C in a terminal, or a terminal that closes: everything in the process group hears it. */
  interruptGroup = (signal: NodeJS.Signals = 'SIGINT') => this.end(signal, true);

  /** Ends it at once: what it would still put in order goes with the folder. */
  async stopAndRemove(): Promise<void> {
    await this.kill();
    rmSync(this.data, { recursive: true, force: true });
  }

  fetch(
    name: RouteName,
    params: Record<string, string> = {},
    query: Record<string, string | number> = {},
    body?: unknown,
  ): Promise<Response> {
    const route = ROUTES[name];
    return fetch(this.address + urlOf(route, params, query), {
      method: route.method,
      headers: { ...OURS, ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
  }

  async call<T>(
    name: RouteName,
    params: Record<string, string> = {},
    query: Record<string, string | number> = {},
    body?: unknown,
  ): Promise<T> {
    const response = await this.fetch(name, params, query, body);
    const text = await response.text();
    if (!response.ok) throw new Error(`${name}: ${response.status} ${text}`);
    return JSON.parse(text) as T;
  }

  /** Begins an upload, under an id if one is wished for; returns its address on the server. */
  async beginUpload(fileName: string, size: number, item?: string, purpose?: string): Promise<string> {
    const base64 = (text: string) => Buffer.from(text).toString('base64');
    const response = await fetch(this.address + UPLOADS_URL, {
      method: 'POST',
      headers: {
        ...OURS,
        'tus-resumable': '1.0.0',
        'upload-length': String(size),
        'upload-metadata': Object.entries({ filename: fileName, item, purpose })
          .flatMap(([name, value]) => (value === undefined ? [] : `${name} ${base64(value)}`))
          .join(','),
      },
    });
    if (response.status !== 201) throw new Error(await response.text());
    return new URL(response.headers.get('location')!, this.address).pathname;
  }

  async sendPart(upload: string, offset: number, bytes: Buffer): Promise<number> {
    const headers = {
      ...OURS,
      'tus-resumable': '1.0.0',
      'upload-offset': String(offset),
      'content-type': 'application/offset+octet-stream',
    };
    return (await fetch(this.address + upload, { method: 'PATCH', headers, body: new Uint8Array(bytes) })).status;
  }

  async uploadOffset(upload: string): Promise<number> {
    return Number(
      (await fetch(this.address + upload, { method: 'HEAD', headers: { 'tus-resumable': '1.0.0' } })).headers.get('upload-offset'),
    );
  }

  /** Brings a file in; gives the id of its item, which is then worked on. */
  async upload(file: string, fileName = path.basename(file)): Promise<string> {
    const bytes = readFileSync(file);
    const upload = await this.beginUpload(fileName, bytes.length);
    await this.sendPart(upload, 0, bytes);
    return upload.split('/').at(-1)!;
  }

  /** Brings a file in and waits until it is ready, or failed. With `whole`, until filmstrip and peaks are there too. */
  async bringIn(file: string, fileName = path.basename(file), whole = false): Promise<MediaItem> {
    return this.settled(await this.upload(file, fileName), whole);
  }

  /** Brings an archive of a piece in, and waits for what comes of it. */
  async bringArchive(bytes: Buffer, fileName = 'piece.zip'): Promise<Arrival> {
    const upload = await this.beginUpload(fileName, bytes.length, undefined, ARCHIVE_PURPOSE);
    await this.sendPart(upload, 0, bytes);
    const id = upload.split('/').at(-1)!;
    return this.untilTold(
      async () => {
        const arrival = (await this.call<Arrival[]>('listArrivals')).find((one) => one.id === id);
        return arrival && (arrival.status === 'done' || arrival.status === 'failed') ? arrival : null;
      },
      (event) => event.type === 'arrival' && event.arrival.id === id,
    );
  }

  settled(id: string, whole = false): Promise<MediaItem> {
    const is = (item: MediaItem) => item.status !== 'preparing' && !(whole && item.work);
    return this.untilTold(
      async () => {
        const item = await this.call<MediaItem>('getMedia', { id }).catch(() => null);
        return item && is(item) ? item : null;
      },
      (event) => event.type === 'media' && event.item.id === id && is(event.item),
    );
  }

  listen = () => listenTo(this.address);

  /** Asks, and again when the server tells of what fits; and every few seconds, should it not tell. */
  async untilTold<T>(ask: () => Promise<T | null>, fits: Fits): Promise<T> {
    this.heard ??= this.listen();
    const { next } = await this.heard;
    return until(ask, () => Promise.race([next(fits), wait(3000)]));
  }

  newPiece(format: PieceFormat = VERTICAL, name = 'Test'): Promise<PieceSummary> {
    return this.call('newPiece', {}, {}, { name, format });
  }

  edit<N extends EditName>(id: string, since: number, ...wanted: [N, EditParams<N>][]): Promise<EditAnswer> {
    const requests = wanted.map(([name, params]) => ({ kind: 'do', id: randomUUID(), name, params }));
    return this.call('editPiece', { id }, {}, { since, requests });
  }

  open(id: string): Promise<OpenedPiece> {
    return this.call('openPiece', { id });
  }

  delivery(piece: string, ended = true): Promise<Delivery> {
    const is = (delivery: Delivery) => !ended || isOver(delivery);
    return this.untilTold(
      async () => {
        const [delivery] = await this.call<Delivery[]>('listDeliveries', {}, { piece });
        return delivery && is(delivery) ? delivery : null;
      },
      (event) => event.type === 'delivery' && event.delivery.piece === piece && is(event.delivery),
    );
  }

  /** Exports a piece and waits for the end of it. */
  async deliver(piece: string): Promise<Delivery> {
    await this.call('newDelivery', {}, {}, { piece });
    return this.delivery(piece);
  }
}

const wait = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));

/** Asks again and again until there is an answer; in between there is a pause, which begins before what it follows is asked. */
export async function until<T>(ask: () => Promise<T | null>, pause: () => Promise<unknown> = () => wait(100)): Promise<T> {
  const end = Date.now() + 600_000;
  while (Date.now() < end) {
    const over = pause();
    over.catch(() => undefined); // where there is an answer, nobody waits for it
    const answer = await ask();
    if (answer !== null) return answer;
    await over;
  }
  throw new Error('waited too long');
}

/** Runs ffmpeg for test material. */
export function ffmpeg(...args: string[]): void {
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...args]);
}

export function ffprobe(...args: string[]): string {
  return execFileSync('ffprobe', ['-v', 'error', ...args])
    .toString()
    .trim();
}

/** Frames of clip.mp4 of {@link makeClips}. */
export const CLIP_FRAMES = 240;

/** Makes two files in a folder: clip.mp4, upright and long enough to be caught at work, and small.mp4, a second without sound. */
export function makeClips(folder: string): void {
  const seconds = CLIP_FRAMES / 30;
  const picture = ['-f', 'lavfi', '-i', `testsrc2=size=540x960:rate=30:duration=${seconds}`];
  const sound = ['-f', 'lavfi', '-i', `sine=frequency=330:duration=${seconds}`];
  const coded = ['-pix_fmt', 'yuv420p', '-preset', 'ultrafast', '-b:v', '4M', '-shortest'];
  ffmpeg(...picture, ...sound, ...coded, path.join(folder, 'clip.mp4'));
  ffmpeg('-f', 'lavfi', '-i', 'testsrc2=size=320x240:rate=30:duration=1', '-pix_fmt', 'yuv420p', path.join(folder, 'small.mp4'));
}
