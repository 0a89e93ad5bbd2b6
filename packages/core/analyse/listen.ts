import { keptLoudness, LOUDNESS_STEP, type Hearing, type Stereo } from '../sound';
import { SAMPLE_RATE } from '../time';
import { Energies } from './loudness';
import { SPEECH_RATE, SPEECH_STEP, SpeechNet } from './speechNet';
import { FINE_STEP, speechIn } from './speech';

const FACTOR = SAMPLE_RATE / SPEECH_RATE;

/** A low pass under 7.2 kHz for what is then taken every third sample of (Hann-windowed sinc). */
const LOW_PASS = (() => {
  const [half, cut] = [36, 7_200 / SAMPLE_RATE];
  const raw = Float64Array.from({ length: half * 2 + 1 }, (_, i) => {
    const x = i - half;
    const sinc = x === 0 ? 2 * cut : Math.sin(2 * Math.PI * cut * x) / (Math.PI * x);
    return sinc * (0.5 + 0.5 * Math.cos((Math.PI * x) / (half + 1)));
  });
  const sum = raw.reduce((all, one) => all + one, 0);
  return Float32Array.from(raw, (one) => one / sum);
})();

/** Under this nothing is heard: −90 dB under full scale, as a factor. */
const SILENT = 3e-5;

/** Listens to a material as it comes, in pieces of any size: 48 kHz, stereo. */
export class Listener {
  private readonly energies = new Energies();
  private readonly net: SpeechNet;
  private readonly likely: number[] = [];
  private readonly fine: number[] = [];
  private heard = 0;
  /** Mono at 48 kHz that the low pass still needs; it begins with silence, so that what comes out is in time. */
  private rest = new Float32Array((LOW_PASS.length - 1) / 2);
  private slow = new Float32Array(0);
  private fineSum = 0;
  private fineCount = 0;

  /** @param weights of the network that knows speech */
  constructor(weights: Float32Array) {
    this.net = new SpeechNet(weights);
  }

  push(sound: Stereo): void {
    const count = sound.left.length;
    this.heard += count;
    this.energies.push(sound);
    const mono = new Float32Array(this.rest.length + count);
    mono.set(this.rest);
    for (let i = 0; i < count; i += 1) mono[this.rest.length + i] = ((sound.left[i] as number) + (sound.right[i] as number)) / 2;
    const made = Math.max(0, Math.floor((mono.length - LOW_PASS.length) / FACTOR) + 1);
    const slow = new Float32Array(this.slow.length + made);
    slow.set(this.slow);
    for (let n = 0; n < made; n += 1) {
      let sum = 0;
      for (let k = 0; k < LOW_PASS.length; k += 1) sum += (LOW_PASS[k] as number) * (mono[n * FACTOR + k] as number);
      slow[this.slow.length + n] = sum;
    }
    this.rest = mono.slice(made * FACTOR);
    this.hear(slow);
  }

  /** Takes whole steps of 16 kHz in; keeps what is left of them. */
  private hear(slow: Float32Array): void {
    let at = 0;
    for (; at + SPEECH_STEP <= slow.length; at += SPEECH_STEP) this.step(slow.subarray(at, at + SPEECH_STEP));
    this.slow = slow.slice(at);
  }

  private step(samples: Float32Array): void {
    // What is silent is not asked about: an hour of it would take minutes.
    this.likely.push(samples.some((one) => Math.abs(one) > SILENT) ? this.net.next(samples) : 0);
    for (const sample of samples) {
      this.fineSum += sample * sample;
      this.fineCount += 1;
      if (this.fineCount < FINE_STEP) continue;
      this.fine.push(this.fineSum / FINE_STEP);
      [this.fineSum, this.fineCount] = [0, 0];
    }
  }

  /** What was heard in all of it. */
  finish(): Hearing {
    const count = this.heard;
    // The last of it is heard with silence after it.
    const after = SPEECH_STEP * FACTOR + LOW_PASS.length;
    this.push({ left: new Float32Array(after), right: new Float32Array(after) });
    const loudness = this.energies.steps.slice(0, Math.ceil(count / LOUDNESS_STEP)).map(keptLoudness);
    const speech = speechIn(this.likely, this.fine).flatMap(([from, to]): [number, number][] => {
      const [first, last] = [from * FACTOR, Math.min(count, to * FACTOR)];
      return last > first ? [[first, last]] : [];
    });
    return { loudness, speech };
  }
}
