import { clicks } from '@flimzy/core/analyse';
import { SAMPLE_RATE } from '@flimzy/core/time';
import type { RecordOrder, RecordReport, TakeNote } from './messages';
import { BROWSER } from './microphone';

/** Called with what a recorder tells. */
export type RecorderListener = (report: RecordReport | { type: 'gone' }) => void;

/** A microphone that is open: heard through a worklet, which hands what it hears to a worker, past the page. */
export class Recorder {
  private readonly worker = new Worker(new URL('./recording.worker', import.meta.url));

  private constructor(
    private readonly context: AudioContext,
    private readonly stream: MediaStream,
    private readonly source: MediaStreamAudioSourceNode,
    private readonly node: AudioWorkletNode,
    listener: RecorderListener,
  ) {
    const { port1, port2 } = new MessageChannel();
    node.port.postMessage({ port: port1 }, [port1]);
    this.worker.onmessage = ({ data }: MessageEvent<RecordReport>) => listener(data);
    this.tell({ type: 'listen', port: port2 }, [port2]);
    for (const track of stream.getTracks()) track.onended = () => listener({ type: 'gone' });
  }

  /** Opens a microphone on the clock that plays the piece. @throws Error with a sentence */
  static async open(context: AudioContext, device: string | null, listener: RecorderListener): Promise<Recorder> {
    const stream = await BROWSER.open(device);
    await context.audioWorklet.addModule('/recorder.worklet.js');
    const source = context.createMediaStreamSource(stream);
    const node = new AudioWorkletNode(context, 'recorder', { numberOfOutputs: 1, channelCount: 1, channelCountMode: 'explicit' });
    source.connect(node).connect(context.destination); // its output is silent; what leads nowhere is not asked to work
    return new Recorder(context, stream, source, node, listener);
  }

  private tell(order: RecordOrder, transfer: Transferable[] = []): void {
    this.worker.postMessage(order, transfer);
  }

  /** The microphone that was opened. */
  get device(): string {
    return this.stream.getAudioTracks()[0]?.getSettings().deviceId ?? '';
  }

  /** What the browser says it takes from a sample that is played to the same sample heard, in samples: a guess until it is measured. */
  get guessedDelay(): number {
    const settings = this.stream.getAudioTracks()[0]?.getSettings() as { latency?: number } | undefined;
    const { outputLatency, baseLatency } = this.context;
    return Math.round(((outputLatency || baseLatency || 0) + (settings?.latency ?? 0)) * SAMPLE_RATE);
  }

  /** The frame of the clock just now. */
  get frame(): number {
    return Math.round(this.context.currentTime * SAMPLE_RATE);
  }

  record(note: TakeNote, first: number, limit: number | null): void {
    this.tell({ type: 'record', note, first, limit });
  }

  /** Ends a take before a frame, or with what has come. */
  stop(last: number | null): void {
    this.tell({ type: 'stop', last });
  }

  /** Plays the clicks that the delay is measured by, and listens for them. */
  playClicks(): void {
    const sound = clicks();
    const buffer = this.context.createBuffer(1, sound.length, SAMPLE_RATE);
    buffer.getChannelData(0).set(sound);
    const player = new AudioBufferSourceNode(this.context, { buffer });
    player.connect(this.context.destination);
    const from = this.frame + Math.round(0.3 * SAMPLE_RATE);
    player.start(from / SAMPLE_RATE);
    this.tell({ type: 'delay', from });
  }

  close(): void {
    for (const track of this.stream.getTracks()) {
      track.onended = null;
      track.stop();
    }
    this.source.disconnect();
    this.node.port.postMessage({});
    this.node.disconnect();
    this.worker.terminate();
  }
}
