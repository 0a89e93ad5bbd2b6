import '../api/registry';
import { clipsAhead, evaluate, lastShown, pictureLayers, type FrameDescription } from '@flimzy/core/frame';
import { pieceLength, seenClips, type Piece } from '@flimzy/core/piece';
import { partsOf } from '@flimzy/core/properties';
import { frameAt, frameLength, frameStart, fromSamples, fromSeconds, type Flicks } from '@flimzy/core/time';
import { filesOfParts } from '@flimzy/stage';
import PQueue from 'p-queue';
import { addressOf } from '../api/address';
import { getFonts } from '../material/fonts';
import { AHEAD, follow } from './follow';
import { CONTROL, type PictureOrder, type PictureReport } from './messages';
import { Painter, sized } from './painter';
import { Pictures } from './pictures';
import { loopIn, roundAt, within } from './rounds';

/** A clip that comes up within this time is opened while playing, so that the cut is not late. */
const OPEN_AHEAD = fromSeconds(1.2);

let origin = '';
let canvas: OffscreenCanvas | null = null;
let context: OffscreenCanvasRenderingContext2D | null = null;
let piece: Piece | null = null;
const pictures = new Pictures((what, id, query) => new URL(addressOf(what, { id }, query), origin).href);

/** One frame at a time is drawn on the screen, whether it was asked for or is played; frames apart from it one after the other, too. */
const screen = new PQueue({ concurrency: 1 });
const apart = new PQueue({ concurrency: 1 });

const report = (message: PictureReport) => self.postMessage(message);

const painter = new Painter(
  pictures,
  () => origin,
  (sentence) => report({ type: 'trouble', sentence }),
  true,
);
const draw = painter.draw.bind(painter);

/** Something of ours went wrong while drawing: it is said, and the next frame is drawn as if nothing had been. */
const stumbled = () => report({ type: 'trouble', sentence: 'A frame could not be drawn.' });

/** Scrubbing: only the last time asked for counts; whatever was asked for meanwhile is passed over. */
let wanted: { time: Flicks; tried: { frame: FrameDescription; media: Piece['media'] } | null } | null = null;
let playing: { stop: boolean } | null = null;

/** Where nothing else is asked for so long, in milliseconds, playing may come next. */
const AT_REST = 150;
let resting: ReturnType<typeof setTimeout> | undefined;

/** Has the decoders of what is on screen stand ready to go on. */
function getReady(doc: Piece, time: Flicks): void {
  if (playing || wanted) return;
  for (const { picture } of pictureLayers(evaluate(doc, lastShown(doc, time + frameLength(doc.format.rate))).layers))
    pictures.getReady(picture);
}

async function show(): Promise<void> {
  if (wanted === null || !piece || !context || playing) return;
  const { time, tried } = wanted;
  wanted = null;
  const began = performance.now();
  const sources = await draw(tried ?? piece, tried?.frame ?? evaluate(piece, lastShown(piece, time)), false, context);
  report({ type: 'shown', time, sources, took: performance.now() - began });
  const doc = piece;
  clearTimeout(resting);
  if (!tried) resting = setTimeout(() => getReady(doc, time), AT_REST);
}

const showSoon = () => void screen.add(show).catch(stumbled);

async function still({ piece: doc, time, width, height, onward, ticket }: Extract<PictureOrder, { type: 'still' }>): Promise<void> {
  const made = new OffscreenCanvas(width, height);
  const into = made.getContext('2d', { alpha: false });
  if (into) await draw(doc, evaluate(doc, time), onward, into, 'still ').catch(() => []);
  const picture = into ? made.transferToImageBitmap() : null;
  self.postMessage({ type: 'still', ticket, picture } satisfies PictureReport, picture ? { transfer: [picture] } : {});
}

/** Gets the fonts of all titles, before the first of them comes up. */
const getLetters = (doc: Piece) =>
  void getFonts(filesOfParts(seenClips(doc).flatMap(({ clip }) => partsOf(clip.overlay ?? 'none'))), origin).catch(() => undefined);

/** Two rounds have decoders of their own: that of the next is at its beginning before this one is at its end. */
const whoseRound = (round: number) => (round % 2 === 1 ? 'other round ' : '');

/** The clips that begin soon, opened at their first frame. */
function openAhead(doc: Piece, now: Flicks, whose: string): void {
  for (const { layers } of clipsAhead(doc, now, now + OPEN_AHEAD))
    for (const { picture } of pictureLayers(layers)) pictures.openAhead(picture, doc.media[picture.media], whose);
}

/** What a round begins with, opened at that. */
function openRound(doc: Piece, from: Flicks, whose: string): void {
  for (const { picture } of pictureLayers(evaluate(doc, from).layers)) pictures.openAhead(picture, doc.media[picture.media], whose, true);
}

/** A frame of a piece that is drawn, and not seen yet. */
interface Drawn {
  doc: Piece;
  picture: OffscreenCanvas;
  sources: { media: string; frame: number }[];
}

/** Where frames that are played are drawn, in turn: as many as are ready, and the one that is being drawn. */
const unseen: OffscreenCanvas[] = [];
let turn = 0;

async function drawUnseen(doc: Piece, n: number, whose: string, { width, height }: OffscreenCanvas): Promise<Drawn> {
  turn = (turn + 1) % (AHEAD + 1);
  const { context: into, image: picture } = sized(unseen, turn, width, height, false);
  const frame = evaluate(doc, frameStart(n, doc.format.rate));
  const sources = await screen
    .add(() => draw(doc, frame, true, into, whose), { throwOnTimeout: true })
    .catch(() => {
      stumbled();
      return [];
    });
  return { doc, picture, sources };
}

/** So many frames are drawn before the clock may go. */
const PREPARED = 3;

/** Follows the sound. */
async function play({ from, speed, loop, shared, epoch }: Extract<PictureOrder, { type: 'play' }>): Promise<void> {
  if (!piece || !context) return;
  if (playing) playing.stop = true;
  const me = { stop: false };
  playing = me;
  const onto = context;
  let doc = piece;
  const control = new Int32Array(shared);
  const heard = () => Math.max(0, Atomics.load(control, CONTROL.played) - Atomics.load(control, CONTROL.latency));
  const clock = () => from + Math.round(fromSamples(heard()) * speed);
  const final = () => (loop ? Infinity : frameAt(Math.max(0, pieceLength(doc) - frameLength(doc.format.rate)), doc.format.rate));
  /** Which frame of the piece it is that is counted as `n` through every round, and in which round. */
  const counted = (n: number) => {
    const frames = loopIn(loop, (time) => frameAt(time, doc.format.rate));
    return { frame: within(n, frames), round: roundAt(n, frames) };
  };
  let [drawn, opened] = [0, 0];
  const figures = await follow<Drawn>({
    clock,
    going: () => Atomics.load(control, CONTROL.playing) === 1,
    speed,
    playing() {
      if (me.stop) return null;
      doc = piece ?? doc;
      const { rate } = doc.format;
      return { rate, end: loop ? Infinity : pieceLength(doc), final: final() };
    },
    async draw(n) {
      const { frame, round } = counted(n);
      const one = await drawUnseen(doc, frame, whoseRound(round), onto.canvas);
      if ((drawn += 1) === PREPARED || n === final()) report({ type: 'prepared', epoch });
      return one;
    },
    fits: (one) => one.doc === doc && one.picture.width === onto.canvas.width && one.picture.height === onto.canvas.height,
    show({ picture, sources }, n) {
      onto.drawImage(picture, 0, 0);
      const { frame, round } = counted(n);
      const time = frameStart(frame, doc.format.rate);
      report({ type: 'shown', time, sources, took: 0 });
      openAhead(doc, time, whoseRound(round));
      if (!loop || loop.to - time > OPEN_AHEAD || opened > round) return;
      opened = round + 1;
      openRound(doc, loop.from, whoseRound(opened));
    },
    now: () => performance.now(),
    wait: () => new Promise((resolve) => setTimeout(resolve, 4)),
  });
  report({ type: 'played', ...figures });
  if (playing === me) playing = null;
  showSoon();
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
      getLetters(piece);
      break;
    case 'renew':
      pictures.renew(data.media);
      break;
    case 'show':
      wanted = { time: data.time, tried: null };
      showSoon();
      break;
    case 'tryOut':
      wanted = { time: data.time, tried: data };
      showSoon();
      break;
    case 'still':
      void apart.add(() => still(data));
      break;
    case 'play':
      void play(data);
      break;
    case 'pause':
      if (playing) playing.stop = true;
      playing = null;
  }
};
