import '../api/registry';
import { atEveryBin, clicks, delayOf, PEAK_BINS, PeakCollector, VoiceCheck } from '@flimzy/core/analyse';
import { SAMPLE_RATE } from '@flimzy/core/time';
import type { Heard, RecordOrder, RecordReport, TakeNote } from './messages';
import { openSink, type Sink } from './sink';

/** How much of what was heard is kept, for a take whose beginning is only known afterwards: 3 s. */
const KEPT = 3 * SAMPLE_RATE;
/** Samples between two looks at how loud it is, and between two times at which what was written is made safe. */
const TOLD = SAMPLE_RATE / 10;
const SAFE = SAMPLE_RATE / 2;

const report = (message: RecordReport) => self.postMessage(message);

/** One take on its way into its file. */
class Taking {
  private sink: Sink | null = null;
  private written = 0;
  private unsafe = 0;
  private highest = 0;
  private readonly peaks = new PeakCollector(PEAK_BINS[0]);
  /** The frame before which it ends, once that is known. */
  last: number | null = null;

  private readonly opening: Promise<void>;

  constructor(
    private readonly note: TakeNote,
    private readonly first: number,
    private readonly limit: number | null,
  ) {
    this.opening = this.open();
    this.opening.catch(() => failed());
  }

  /** Opens its file; what was heard meanwhile is not lost. */
  private async open(): Promise<void> {
    const sink = await openSink(this.note);
    for (const one of kept) this.take(one, sink);
    this.sink = sink;
  }

  /** Takes in what was heard. Frames that never came are silent. */
  push(heard: Heard): void {
    if (this.sink) this.take(heard, this.sink);
  }

  private take({ at, samples }: Heard, sink: Sink): void {
    const from = at - this.first - this.written;
    if (from > 0) this.write(new Float32Array(this.room(from)), sink);
    const begin = Math.max(0, -from);
    if (begin < samples.length) this.write(samples.subarray(begin, begin + this.room(samples.length - begin)), sink);
  }

  /** How many of some samples it still takes. */
  private room(count: number): number {
    const ends = [this.limit ?? Infinity, this.last === null ? Infinity : this.last - this.first].map((end) => end - this.written);
    return Math.max(0, Math.min(count, ...ends));
  }

  private write(samples: Float32Array, sink: Sink): void {
    if (samples.length === 0) return;
    sink.write(samples);
    this.peaks.push({ left: samples, right: samples });
    this.written += samples.length;
    for (const one of samples) this.highest = Math.max(this.highest, Math.abs(one));
    this.unsafe += samples.length;
    if (this.unsafe < SAFE) return;
    sink.flush();
    this.unsafe = 0;
  }

  get isOpening(): boolean {
    return this.sink === null;
  }

  get isFull(): boolean {
    return this.sink !== null && this.room(1) === 0;
  }

  tell(): void {
    report({ type: 'grown', samples: this.written, peak: this.highest });
    this.highest = 0;
  }

  async finish(): Promise<void> {
    await this.opening;
    if (!this.sink) return;
    const { note, written, sink } = this;
    const peaks = atEveryBin(this.peaks.finish());
    report({ type: 'done', note, samples: written, peaks, file: await sink.finish(), safe: sink.safe });
  }
}

const kept: Heard[] = [];
let check = new VoiceCheck();
let taking: Taking | null = null;
/** What is listened to for clicks. */
let clicking: { from: number; heard: Float32Array } | null = null;
let peak = 0;
let since = 0;

function hear(heard: Heard): void {
  const { at, samples } = heard;
  kept.push(heard);
  while (kept.length > 1 && at - (kept[0] as Heard).at > KEPT && !taking?.isOpening) kept.shift();
  check.push(samples);
  for (const one of samples) peak = Math.max(peak, Math.abs(one));
  since += samples.length;
  try {
    taking?.push(heard);
    if (taking?.isFull) end();
  } catch {
    failed();
  }
  if (clicking) listenForClicks(clicking, heard);
  if (since < TOLD) return;
  report({ type: 'heard', peak, reading: check.reading, frame: at + samples.length });
  taking?.tell();
  [peak, since] = [0, 0];
}

/** The storage of this device takes no more: what is written until now is the take. */
function failed(): void {
  report({ type: 'trouble', sentence: 'The storage of this device is full. What was recorded until now is kept.' });
  end();
}

function end(): void {
  const over = taking;
  taking = null;
  over?.finish().catch(() => report({ type: 'lost' }));
}

function listenForClicks(click: NonNullable<typeof clicking>, { at, samples }: Heard): void {
  const place = at - click.from;
  if (place + samples.length > 0 && place < click.heard.length)
    click.heard.set(samples.subarray(Math.max(0, -place), Math.min(samples.length, click.heard.length - place)), Math.max(0, place));
  if (place + samples.length < click.heard.length) return;
  clicking = null;
  report({ type: 'delay', samples: delayOf(click.heard) });
}

self.onmessage = ({ data }: MessageEvent<RecordOrder>) => {
  switch (data.type) {
    case 'listen':
      data.port.onmessage = (event: MessageEvent<Heard>) => hear(event.data);
      check = new VoiceCheck();
      break;
    case 'record':
      taking = new Taking(data.note, data.first, data.limit);
      break;
    case 'stop':
      if (!taking) break;
      taking.last = data.last;
      if (data.last === null || taking.isFull) end();
      break;
    case 'delay':
      clicking = { from: data.from, heard: new Float32Array(clicks().length) };
  }
};
