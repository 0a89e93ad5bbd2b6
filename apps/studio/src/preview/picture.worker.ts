import './registry';
import { clipsAhead, evaluate, lastShown, type FrameDescription } from '@flimzy/core/frame';
import { pieceLength, type Piece } from '@flimzy/core/piece';
import { frameAt, frameLength, frameStart, fromSamples, fromSeconds, type Flicks } from '@flimzy/core/time';
import { drawFrame, type DrawContext, type Scratch } from '@flimzy/stage';
import { addressOf } from '../api/client';
import { CONTROL, type PictureOrder, type PictureReport } from './messages';
import { ClipReader, VideoSource } from './sources';

type Drawable = CanvasImageSource;

/** Clips that keep a decoder and a frame ready; the one used longest ago goes first. */
const READERS_KEPT = 8;

/** A clip that comes up within this time is opened while playing, so that the cut is not late. */
const OPEN_AHEAD = fromSeconds(1.2);

let origin = '';
let canvas: OffscreenCanvas | null = null;
let context: OffscreenCanvasRenderingContext2D | null = null;
let piece: Piece | null = null;
const videos = new Map<string, VideoSource>();
const photos = new Map<string, Promise<ImageBitmap | null>>();
const readers = new Map<string, ClipReader>();
const scratches: OffscreenCanvas[] = [];

const report = (message: PictureReport) => self.postMessage(message);
const address = (name: Parameters<typeof addressOf>[0], id: string) => new URL(addressOf(name, { id }), origin).href;

const scratch: Scratch<Drawable> = {
  canvas(n, width, height) {
    const made = scratches[n] ?? new OffscreenCanvas(width, height);
    scratches[n] = made;
    if (made.width !== width || made.height !== height) Object.assign(made, { width, height });
    const c = made.getContext('2d', { alpha: false });
    if (!c) throw new Error('no 2D canvas');
    return { context: c satisfies DrawContext<Drawable>, image: made };
  },
};

function readerFor(clip: string, media: string): ClipReader {
  const key = `${clip} ${media}`;
  let reader = readers.get(key);
  if (!reader) {
    let video = videos.get(media);
    if (!video)
      videos.set(media, (video = new VideoSource({ proxy: address('mediaProxy', media), frames: address('mediaFrames', media) })));
    reader = new ClipReader(video);
  }
  readers.delete(key);
  readers.set(key, reader);
  for (const [old, one] of readers) {
    if (readers.size <= READERS_KEPT) break;
    one.close();
    readers.delete(old);
  }
  return reader;
}

function photoOf(media: string): Promise<ImageBitmap | null> {
  let photo = photos.get(media);
  if (!photo) {
    photo = fetch(address('mediaProxy', media))
      .then((r) => (r.ok ? r.blob() : Promise.reject(new Error('not there'))))
      .then((blob) => createImageBitmap(blob))
      .catch(() => null);
    photos.set(media, photo);
  }
  return photo;
}

/** Gets the pictures of a frame and draws it. Returns which source frames are on screen. `whose` keeps decoders apart that are asked for different times at once. */
async function draw(
  doc: Pick<Piece, 'media'>,
  frame: FrameDescription,
  onward: boolean,
  context: OffscreenCanvasRenderingContext2D,
  whose = '',
): Promise<{ media: string; frame: number }[]> {
  const pictures = new Map<string, { image: Drawable; done: () => void }>();
  const sources: { media: string; frame: number }[] = [];
  for (const { picture } of frame.layers) {
    if (pictures.has(picture.clip)) continue;
    if (doc.media[picture.media]?.kind === 'photo') {
      const bitmap = await photoOf(picture.media);
      if (bitmap) pictures.set(picture.clip, { image: bitmap, done: () => undefined });
      continue;
    }
    const got = await readerFor(whose + picture.clip, picture.media)
      .frameAt(picture.time, onward)
      .catch(() => null);
    if (!got) {
      videos.get(picture.media)?.close();
      videos.delete(picture.media);
      readers.delete(`${whose}${picture.clip} ${picture.media}`);
      report({ type: 'trouble', sentence: `“${doc.media[picture.media]?.name ?? 'A clip'}” cannot be shown just now.` });
      continue;
    }
    const image = got.sample.toVideoFrame();
    pictures.set(picture.clip, { image, done: () => image.close() });
    sources.push({ media: picture.media, frame: got.frame });
  }
  drawFrame<Drawable>(context, frame, context.canvas.width / frame.width, (p) => pictures.get(p.clip)?.image ?? null, scratch);
  for (const { done } of pictures.values()) done();
  return sources;
}

/** Scrubbing: only the last time asked for counts; whatever was asked for meanwhile is passed over. */
let wanted: { time: Flicks; tried: { frame: FrameDescription; media: Piece['media'] } | null } | null = null;
let showing = false;
let playing: { stop: boolean } | null = null;

async function show(): Promise<void> {
  if (showing || playing) return;
  showing = true;
  while (wanted !== null && piece && context && !playing) {
    const { time, tried } = wanted;
    wanted = null;
    const began = performance.now();
    const sources = await draw(tried ?? piece, tried?.frame ?? evaluate(piece, lastShown(piece, time)), false, context);
    report({ type: 'shown', time, sources, took: performance.now() - began });
  }
  showing = false;
}

/** Frames drawn apart from the screen, one after the other. */
let stills: Promise<void> = Promise.resolve();

async function still({ piece: doc, time, width, height, ticket }: Extract<PictureOrder, { type: 'still' }>): Promise<void> {
  const apart = new OffscreenCanvas(width, height);
  const into = apart.getContext('2d', { alpha: false });
  if (into) await draw(doc, evaluate(doc, time), false, into, 'still ').catch(() => []);
  const picture = into ? apart.transferToImageBitmap() : null;
  self.postMessage({ type: 'still', ticket, picture } satisfies PictureReport, picture ? { transfer: [picture] } : {});
}

/** The clips that begin soon, opened at their first frame. */
function openAhead(now: Flicks): void {
  if (!piece) return;
  for (const { layers } of clipsAhead(piece, now, now + OPEN_AHEAD))
    for (const { picture } of layers) {
      if (piece.media[picture.media]?.kind === 'photo') void photoOf(picture.media);
      else if (!readers.has(`${picture.clip} ${picture.media}`))
        void readerFor(picture.clip, picture.media)
          .frameAt(picture.time, true)
          .catch(() => null);
    }
}

/** Follows the sound: at every turn the frame that the clock stands on is drawn, once. */
async function play(from: Flicks, shared: SharedArrayBuffer, latency: number): Promise<void> {
  if (playing) playing.stop = true;
  const me = { stop: false };
  playing = me;
  const control = new Int32Array(shared);
  const clock = () => from + fromSamples(Math.max(0, Atomics.load(control, CONTROL.played) - Math.round(latency * 48_000)));
  let last = -1;
  const figures = { due: 0, shown: 0, late: 0 };
  while (!me.stop && piece && context) {
    const { rate } = piece.format;
    const end = pieceLength(piece);
    const now = Math.min(clock(), Math.max(0, end - frameLength(rate)));
    const n = frameAt(now, rate);
    if (n !== last) {
      const sources = await draw(piece, evaluate(piece, frameStart(n, rate)), true, context);
      if (last >= 0) {
        figures.due += n - last;
        figures.shown += 1;
        figures.late += n - last - 1;
      }
      last = n;
      report({ type: 'shown', time: frameStart(n, rate), sources, took: 0 });
      openAhead(now);
    }
    if (clock() >= end) break;
    await new Promise((resolve) => setTimeout(resolve, 4));
  }
  report({ type: 'played', ...figures });
  if (playing === me) playing = null;
  void show();
}

self.onmessage = ({ data }: MessageEvent<PictureOrder>) => {
  switch (data.type) {
    case 'start':
      ({ origin, canvas } = data);
      context = canvas.getContext('2d', { alpha: false, desynchronized: true });
      break;
    case 'size':
      if (canvas && (canvas.width !== data.width || canvas.height !== data.height))
        Object.assign(canvas, { width: data.width, height: data.height });
      break;
    case 'piece':
      piece = data.piece;
      break;
    case 'show':
      wanted = { time: data.time, tried: null };
      void show();
      break;
    case 'tryOut':
      wanted = { time: data.time, tried: data };
      void show();
      break;
    case 'still':
      stills = stills.then(() => still(data));
      break;
    case 'play':
      void play(data.from, data.shared, data.latency);
      break;
    case 'pause':
      if (playing) playing.stop = true;
      playing = null;
  }
};
