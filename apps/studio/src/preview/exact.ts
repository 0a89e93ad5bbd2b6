import { evaluate, lastShown, pictureLayers } from '@flimzy/core/frame';
import { pieceLength, type Piece } from '@flimzy/core/piece';
import { fromSamples, SAMPLE_RATE, toSamples, type Flicks } from '@flimzy/core/time';
import type { EngineListener, Loop, LoudnessFigures, Measured, PreviewEngine } from '../open/engine';
import {
  CONTROL,
  CONTROL_INTS,
  SHARED_BYTES,
  type Levels,
  type PictureOrder,
  type PictureReport,
  type SoundOrder,
  type SoundReport,
} from './messages';
import { isOver, loopIn, within } from './rounds';

/** Figures kept for measuring: how playback went. */
export interface PlayFigures {
  due: number;
  shown: number;
  late: number;
  underruns: number;
}

/** Sound does not wait longer than this for the first frames, in milliseconds: they may have to be fetched. */
const PREPARING = 300;

/** The preview as it should be: decoding, drawing and mixing in workers, the sound card's clock as master. */
export class ExactEngine implements PreviewEngine {
  readonly element = document.createElement('canvas');
  private readonly picture = new Worker(new URL('./picture.worker', import.meta.url));
  private readonly sound = new Worker(new URL('./sound.worker', import.meta.url));
  private readonly shared = new SharedArrayBuffer(SHARED_BYTES);
  private readonly control = new Int32Array(this.shared, 0, CONTROL_INTS);
  private card: { context: AudioContext; volume: GainNode } | null = null;
  private volume = 1;
  private piece: Piece | null = null;
  private epoch = 0;
  private playingFrom: Flicks | null = null;
  private speed = 1;
  private loop: Loop | null = null;
  private onReady: ((epoch: number) => void) | null = null;
  private onPrepared: ((epoch: number) => void) | null = null;
  private onMeasure: ((said: Extract<SoundReport, { type: 'measuring' | 'measured' }>) => void) | null = null;
  private readonly stills = new Map<number, (picture: ImageBitmap | null) => void>();
  private tickets = 0;
  private levels: Levels[] = [];
  private endTimer: ReturnType<typeof setInterval> | null = null;
  /** Called with every frame that reached the screen; for measuring. */
  onceShown: ((time: Flicks) => void) | null = null;
  figures: PlayFigures = { due: 0, shown: 0, late: 0, underruns: 0 };

  constructor(private readonly listener: EngineListener) {
    const canvas = this.element.transferControlToOffscreen();
    const { origin } = window.location;
    this.tellPicture({ type: 'start', canvas, origin }, [canvas]);
    this.tellSound({ type: 'start', shared: this.shared, origin });
    this.picture.onmessage = ({ data }: MessageEvent<PictureReport>) => {
      if (data.type === 'shown') {
        listener.onShown(data.time, data.sources);
        this.onceShown?.(data.time);
      } else if (data.type === 'still') {
        this.stills.get(data.ticket)?.(data.picture);
        this.stills.delete(data.ticket);
      } else if (data.type === 'trouble') listener.onTrouble(data.sentence);
      else if (data.type === 'prepared') this.onPrepared?.(data.epoch);
      else this.figures = { due: data.due, shown: data.shown, late: data.late, underruns: Atomics.load(this.control, CONTROL.underruns) };
    };
    this.sound.onmessage = ({ data }: MessageEvent<SoundReport>) => {
      if (data.type === 'ready') this.onReady?.(data.epoch);
      else if (data.type === 'levels') this.takeLevels(data);
      else if (data.type === 'measuring' || data.type === 'measured') this.onMeasure?.(data);
      else listener.onTrouble(data.sentence);
    };
  }

  private tellPicture(order: PictureOrder, transfer: Transferable[] = []): void {
    this.picture.postMessage(order, transfer);
  }

  private tellSound(order: SoundOrder): void {
    this.sound.postMessage(order);
  }

  setPiece(piece: Piece): void {
    this.piece = piece;
    this.tellPicture({ type: 'piece', piece });
    this.tellSound({ type: 'piece', piece });
  }

  /** Only the one frame is sent: a large piece, many times a second, would be more than a drag leaves time for. */
  tryOut(piece: Piece, time: Flicks): void {
    const frame = evaluate(piece, lastShown(piece, time));
    const media = Object.fromEntries(
      pictureLayers(frame.layers).flatMap(({ picture: { media: id } }) => (piece.media[id] ? [[id, piece.media[id]]] : [])),
    );
    this.tellPicture({ type: 'tryOut', time, frame, media });
  }

  renew(media: string): void {
    this.tellPicture({ type: 'renew', media });
  }

  resize(width: number, height: number): void {
    this.tellPicture({ type: 'size', width, height });
  }

  show(time: Flicks): void {
    this.tellPicture({ type: 'show', time });
  }

  still(piece: Piece, time: Flicks, width: number, onward = false): Promise<ImageBitmap | null> {
    const ticket = (this.tickets += 1);
    const height = Math.max(2, Math.round((width * piece.format.height) / piece.format.width));
    return new Promise((resolve) => {
      this.stills.set(ticket, resolve);
      this.tellPicture({ type: 'still', piece, time, width, height, onward, ticket });
    });
  }

  /** Opens the sound card; must first be called from a touch or a key. */
  private async openCard(): Promise<NonNullable<typeof this.card>> {
    if (!this.card) {
      const context = new AudioContext({ sampleRate: SAMPLE_RATE, latencyHint: 'interactive' });
      await context.audioWorklet.addModule('/player.worklet.js');
      const node = new AudioWorkletNode(context, 'player', {
        numberOfInputs: 0,
        outputChannelCount: [2],
        processorOptions: { shared: this.shared },
      });
      const volume = new GainNode(context, { gain: this.volume });
      node.connect(volume).connect(context.destination);
      this.card = { context, volume };
    }
    const { card } = this;
    await card.context.resume();
    const { outputLatency, baseLatency } = card.context;
    Atomics.store(this.control, CONTROL.latency, Math.round((outputLatency || baseLatency || 0) * SAMPLE_RATE));
    return card;
  }

  async audio(): Promise<AudioContext> {
    return (await this.openCard()).context;
  }

  beganAt(): number | null {
    const began = Atomics.load(this.control, CONTROL.began);
    if (!this.card || this.playingFrom === null || began < 0) return null;
    const now = Math.round(this.card.context.currentTime * SAMPLE_RATE);
    return now - ((((now - began) % 2 ** 31) + 2 ** 31) % 2 ** 31);
  }

  setVolume(factor: number): void {
    this.volume = factor;
    if (this.card) this.card.volume.gain.value = factor;
  }

  lend(media: string, file: Blob | null): void {
    this.tellSound({ type: 'lend', media, file });
  }

  async play(from: Flicks, speed = 1, loop: Loop | null = null): Promise<void> {
    this.pause();
    const mine = (this.epoch += 1);
    this.levels = [];
    for (const slot of [CONTROL.written, CONTROL.played, CONTROL.underruns, CONTROL.peak]) Atomics.store(this.control, slot, 0);
    Atomics.store(this.control, CONTROL.began, -1);
    // Picture, sound and the sound card get ready at the same time.
    const ready = new Promise<void>((resolve) => (this.onReady = (epoch) => epoch === mine && resolve()));
    const prepared = new Promise<void>((resolve) => (this.onPrepared = (epoch) => epoch === mine && resolve()));
    this.tellPicture({ type: 'play', from, speed, loop, shared: this.shared, epoch: mine });
    this.tellSound({ type: 'play', from: toSamples(from), speed, loop: loopIn(loop, toSamples), epoch: mine });
    const late = new Promise((resolve) => setTimeout(resolve, PREPARING));
    try {
      await this.openCard();
    } catch (error) {
      if (mine === this.epoch) this.pause();
      throw error;
    }
    await ready;
    await Promise.race([prepared, late]);
    if (mine !== this.epoch) return;
    this.playingFrom = from;
    this.speed = speed;
    this.loop = loop;
    Atomics.store(this.control, CONTROL.playing, 1);
    this.endTimer = setInterval(() => {
      const now = this.now();
      if (now === null || !this.piece || !isOver(now, loop, pieceLength(this.piece))) return;
      this.pause();
      this.listener.onEnded();
    }, 40);
  }

  pause(): void {
    this.epoch += 1;
    this.playingFrom = null;
    if (this.endTimer) clearInterval(this.endTimer);
    Atomics.store(this.control, CONTROL.playing, 0);
    Atomics.store(this.control, CONTROL.peak, 0);
    this.tellSound({ type: 'pause' });
    this.tellPicture({ type: 'pause' });
  }

  /** Samples heard since playing began; below zero until the first one is. */
  private heard(): number {
    return Atomics.load(this.control, CONTROL.played) - Atomics.load(this.control, CONTROL.latency);
  }

  now(): Flicks | null {
    if (this.playingFrom === null) return null;
    return within(this.playingFrom + Math.round(fromSamples(Math.max(0, this.heard())) * this.speed), this.loop);
  }

  private takeLevels(levels: Levels & { epoch: number }): void {
    if (levels.epoch !== this.epoch) return;
    // What was mixed again, since the piece changed meanwhile, counts from where it begins.
    const played = Atomics.load(this.control, CONTROL.played);
    this.levels = [...this.levels.filter((one) => one.at < levels.at && one.at > played - SAMPLE_RATE), levels];
  }

  /** What is heard just now of what was mixed: its block, and the sample within it; the last block when nothing plays. */
  private heardNow(): { block: Levels | undefined; sample: number } {
    const heard = this.heard();
    const block = this.levels.findLast((one) => one.at <= heard);
    return { block, sample: heard - (block?.at ?? 0) };
  }

  trackPeak(track: string): number {
    const { block, sample } = this.heardNow();
    return this.playingFrom === null || !block ? 0 : (block.tracks[track]?.[Math.floor(sample / block.step)] ?? 0);
  }

  watch(clip: string | null): void {
    this.tellSound({ type: 'watch', clip });
  }

  clipPeak(): number {
    const { block, sample } = this.heardNow();
    return this.playingFrom === null || !block ? 0 : (block.clip[Math.floor(sample / block.step)] ?? 0);
  }

  loudness(): LoudnessFigures | null {
    const { block } = this.heardNow();
    return block ? { ...block.loudness, limited: block.limited } : null;
  }

  measure(piece: Piece, target: number | null, onProgress: (share: number) => void): Promise<Measured> {
    const ticket = (this.tickets += 1);
    this.onMeasure?.({ type: 'measured', ticket: -1, figures: null }); // what was measured until now is given up
    return new Promise((resolve, reject) => {
      this.onMeasure = (said) => {
        if (said.ticket !== ticket && said.ticket !== -1) return;
        if (said.type === 'measuring') onProgress(said.share);
        else if (said.figures) resolve(said.figures);
        else reject(new Error('Something else is measured now.'));
      };
      this.tellSound({ type: 'measure', ticket, piece, target });
    });
  }

  peak(): number {
    return Atomics.load(this.control, CONTROL.peak) / 1e6;
  }

  close(): void {
    this.pause();
    for (const resolve of this.stills.values()) resolve(null);
    this.picture.terminate();
    this.sound.terminate();
    void this.card?.context.close();
  }
}
