import { evaluate, lastShown, pictureLayers, type PictureRef } from '@flimzy/core/frame';
import { isFile, pieceLength, type Piece } from '@flimzy/core/piece';
import { heardAt } from '@flimzy/core/sound';
import { fromSeconds, SAMPLE_RATE, toGridBelow, toSamples, toSeconds, type Flicks } from '@flimzy/core/time';
import { drawFrame, filesFor, type Scratch, type Seen } from '@flimzy/stage';
import { addressOf } from '../api/address';
import { getFonts, haveFonts } from '../material/fonts';
import { changePixels } from './pixels';
import { isOver, within } from './rounds';
import type { EngineListener, Loop, PreviewEngine } from '../open/engine';

type Element = HTMLVideoElement | HTMLAudioElement | HTMLImageElement;

/** The slowest and the fastest that an element plays. */
const RATE_LEAST = 0.0625;
const RATE_MOST = 16;

/** How far an element may run from the clock before it is put right, in seconds. */
const DRIFT = 0.15;

/** The preview where WebCodecs is missing: media elements, drawn by the same compositor. Near the frame, not always on it. */
export class FallbackEngine implements PreviewEngine {
  readonly element = document.createElement('canvas');
  private readonly context = this.element.getContext('2d', { alpha: false });
  private readonly elements = new Map<string, Element>();
  private readonly scratches: HTMLCanvasElement[] = [];
  private readonly groups: HTMLCanvasElement[] = [];
  private readonly read: HTMLCanvasElement[] = [];
  private piece: Piece | null = null;
  /** Shown instead while something is dragged. */
  private tried: Piece | null = null;
  private card: AudioContext | null = null;
  private volume = 1;
  /** Addresses of files of this device, by the item whose sound they are. */
  private readonly lent = new Map<string, string>();
  private started: { from: Flicks; at: number; speed: number; loop: Loop | null } | null = null;
  private wanted: Flicks = 0;
  private turn = 0;

  constructor(private readonly listener: EngineListener) {}

  private readonly scratch: Scratch<CanvasImageSource> = {
    canvas: (n, width, height) => sized(this.scratches, n, width, height),
    layer: (depth, width, height) => sized(this.groups, depth, width, height),
    pixels: (width, height) => {
      const made = sized(this.read, 0, width, height);
      return { ...made, change: (work) => changePixels(made.context, width, height, work) };
    },
  };

  setPiece(piece: Piece): void {
    this.piece = piece;
    this.tried = null;
  }

  tryOut(piece: Piece, time: Flicks): void {
    this.tried = piece;
    this.seek(piece, time);
  }

  renew(media: string): void {
    for (const [name, element] of this.elements) {
      if (element.dataset.media !== media) continue;
      if (element instanceof HTMLMediaElement) element.pause();
      this.elements.delete(name);
    }
  }

  resize(width: number, height: number): void {
    Object.assign(this.element, { width, height });
    this.show(this.wanted);
  }

  /** The element that shows a picture. */
  private shows(picture: PictureRef): Element | null {
    return this.elementFor(nameOf(picture), picture.media, false, picture.fields ? { fields: 'recorded' } : {});
  }

  /** The element that shows (or plays) a media item for a clip: its proxy, or, until there is one, its original. */
  private elementFor(name: string, mediaId: string, heard: boolean, query: { fields?: 'recorded' } = {}): Element | null {
    const media = (this.tried ?? this.piece)?.media[mediaId];
    if (!media || !isFile(media)) return null;
    let element = this.elements.get(name);
    if (!element) {
      element = document.createElement(media.kind === 'photo' ? 'img' : media.kind === 'video' && !heard ? 'video' : 'audio');
      element.dataset.media = mediaId;
      element.src = this.lent.get(mediaId) ?? addressOf('mediaProxy', { id: mediaId }, query);
      const original = addressOf('mediaOriginal', { id: mediaId });
      element.addEventListener('error', ({ currentTarget }) => Object.assign(currentTarget as Element, { src: original }), { once: true });
      if (element instanceof HTMLVideoElement) element.muted = true;
      if (element instanceof HTMLVideoElement) Object.assign(element, { playsInline: true, preload: 'auto' });
      const again = () => this.started === null && this.draw(this.wanted);
      element.addEventListener(element instanceof HTMLMediaElement ? 'seeked' : 'load', again);
      if (element instanceof HTMLMediaElement) element.addEventListener('loadeddata', again);
      this.elements.set(name, element);
    }
    return element;
  }

  show(time: Flicks): void {
    this.tried = null;
    if (this.piece) this.seek(this.piece, time);
  }

  private seek(piece: Piece, time: Flicks): void {
    this.wanted = time;
    if (this.started) return;
    for (const { picture } of pictureLayers(evaluate(piece, lastShown(piece, time)).layers)) {
      const element = this.shows(picture);
      if (element instanceof HTMLMediaElement) element.currentTime = toSeconds(picture.time) + 0.001;
    }
    this.draw(time);
  }

  private draw(time: Flicks): void {
    const { context } = this;
    const piece = this.tried ?? this.piece;
    if (!piece || !context) return;
    const frame = evaluate(piece, lastShown(piece, time));
    const fonts = filesFor(frame.layers);
    if (!haveFonts(fonts))
      void getFonts(fonts).then(
        () => this.started === null && this.draw(this.wanted),
        () => this.listener.onTrouble('A font of a title cannot be had just now.'),
      );
    drawFrame<CanvasImageSource>(
      context,
      frame,
      this.element.width / frame.width,
      (p) => drawable(this.elements.get(nameOf(p))),
      this.scratch,
    );
    this.listener.onShown(toGridBelow(time, piece.format.rate), []);
  }

  /** The server draws it: there is nothing here that hits a frame. Only of the open piece as it is saved. */
  async still(piece: Piece, time: Flicks, width: number): Promise<ImageBitmap | null> {
    const response = await fetch(addressOf('pieceFrame', { id: piece.id }, { at: time, width: Math.max(16, width) })).catch(() => null);
    return response?.ok ? createImageBitmap(await response.blob()) : null;
  }

  async play(from: Flicks, speed = 1, loop: Loop | null = null): Promise<void> {
    this.pause();
    this.started = { from, at: performance.now(), speed, loop };
    this.follow();
    return Promise.resolve();
  }

  /** Starts, corrects and stops elements by the clock, and draws. */
  private follow(): void {
    const { piece, started } = this;
    const now = this.now();
    if (!piece || !started || now === null) return;
    if (isOver(now, started.loop, pieceLength(piece))) {
      this.pause();
      return this.listener.onEnded();
    }
    const going = new Set<string>();
    // An element does not go backwards, nor at any speed: then it is sought frame by frame, and is silent.
    const keepUp = (name: string, element: Element | null, due: number, pace: number) => {
      if (!(element instanceof HTMLMediaElement)) return;
      const speed = pace * started.speed;
      const moving = speed >= RATE_LEAST && speed <= RATE_MOST;
      if (moving && element.playbackRate !== speed) element.playbackRate = speed;
      if (Math.abs(element.currentTime - due) > (moving ? DRIFT : 0.01)) element.currentTime = due;
      if (!moving) return;
      going.add(name);
      if (element.paused) void element.play().catch(() => undefined);
    };
    for (const { picture } of pictureLayers(evaluate(piece, now).layers))
      keepUp(nameOf(picture), this.shows(picture), toSeconds(picture.time), picture.still ? 0 : (picture.pace ?? 1));
    for (const one of heardAt(piece, toSamples(now))) {
      const name = `sound ${one.clip}`;
      const element = this.elementFor(name, one.media, true);
      if (element instanceof HTMLMediaElement) element.volume = Math.min(1, Math.max(one.left, one.right) * this.volume);
      keepUp(name, element, one.sample / SAMPLE_RATE, one.speed ?? 1);
    }
    for (const [name, element] of this.elements) if (element instanceof HTMLMediaElement && !going.has(name)) element.pause();
    this.draw(now);
    this.turn = requestAnimationFrame(() => this.follow());
  }

  pause(): void {
    cancelAnimationFrame(this.turn);
    this.started = null;
    for (const element of this.elements.values()) if (element instanceof HTMLMediaElement) element.pause();
  }

  now(): Flicks | null {
    const { started } = this;
    return started ? within(started.from + fromSeconds(((performance.now() - started.at) / 1000) * started.speed), started.loop) : null;
  }

  async audio(): Promise<AudioContext> {
    this.card ??= new AudioContext({ sampleRate: SAMPLE_RATE, latencyHint: 'interactive' });
    await this.card.resume();
    return this.card;
  }

  beganAt(): number | null {
    if (!this.card || !this.started) return null;
    return Math.round((this.card.currentTime - (performance.now() - this.started.at) / 1000) * SAMPLE_RATE);
  }

  setVolume(factor: number): void {
    this.volume = factor;
  }

  lend(media: string, file: Blob | null): void {
    const old = this.lent.get(media);
    if (old) URL.revokeObjectURL(old);
    if (file) this.lent.set(media, URL.createObjectURL(file));
    else this.lent.delete(media);
  }

  peak(): number {
    return 0;
  }

  trackPeak(): number {
    return 0;
  }

  watch(): void {
    // media elements tell nothing of what they play
  }

  clipPeak(): number {
    return 0;
  }

  measure(): Promise<never> {
    return Promise.reject(new Error('This browser cannot measure a whole piece; the export is limited all the same.'));
  }

  loudness(): null {
    return null;
  }

  close(): void {
    this.pause();
    this.elements.clear();
    for (const media of [...this.lent.keys()]) this.lend(media, null);
    void this.card?.close();
  }
}

/** The name of the element that shows a picture. */
const nameOf = ({ clip, fields }: PictureRef) => (fields ? `${clip} recorded` : clip);

function drawable(element: Element | undefined): Seen<CanvasImageSource> | null {
  if (element instanceof HTMLVideoElement)
    return element.readyState >= 2 ? { image: element, width: element.videoWidth, height: element.videoHeight } : null;
  if (element instanceof HTMLImageElement)
    return element.complete && element.naturalWidth > 0
      ? { image: element, width: element.naturalWidth, height: element.naturalHeight }
      : null;
  return null;
}

/** Canvas `n` of some, at a size. */
function sized(canvases: HTMLCanvasElement[], n: number, width: number, height: number) {
  const made = (canvases[n] ??= document.createElement('canvas'));
  if (made.width !== width || made.height !== height) Object.assign(made, { width, height });
  const context = made.getContext('2d');
  if (!context) throw new Error('no 2D canvas');
  return { context, image: made };
}
