/**
 * How likely someone speaks, every 32 ms, by the network of Silero VAD v5 (MIT licence): four convolutions over a short-time spectrum
 * and one LSTM. Its weights are given; where they come from is said beside them.
 */

/** Samples a second that it hears, and in one step. */
export const SPEECH_RATE = 16_000;
export const SPEECH_STEP = 512;

/** Samples of the step before that are heard again. */
const CONTEXT = 64;
const FRAME = 256;
const HOP = 128;
const BINS = FRAME / 2 + 1;
const FRAMES = 4;
const HIDDEN = 128;

interface Convolution {
  weights: Float64Array;
  bias: Float64Array;
  from: number;
  to: number;
  stride: number;
}

/** How many floats the weights are. */
export const SPEECH_WEIGHTS = 243_585;

/** The weights of a file of little-endian 32-bit floats. */
export const weightsOf = (bytes: Uint8Array): Float32Array => new Float32Array(Uint8Array.from(bytes).buffer);

/** Windowed cosines and sines of each bin: halves only, since a window is the same both ways. */
const BASIS = (() => {
  const [cos, sin] = [new Float64Array(BINS * (HOP + 1)), new Float64Array(BINS * (HOP + 1))];
  for (let k = 0; k < BINS; k += 1)
    for (let n = 0; n <= HOP; n += 1) {
      const window = 0.5 - 0.5 * Math.cos((2 * Math.PI * n) / FRAME);
      cos[k * (HOP + 1) + n] = window * Math.cos((2 * Math.PI * k * n) / FRAME);
      sin[k * (HOP + 1) + n] = window * Math.sin((2 * Math.PI * k * n) / FRAME);
    }
  return { cos, sin };
})();

/**
 * Weighted sum and bias over three neighbours, nothing beyond the ends; what is below 0 becomes 0. `input` and the result:
 * [channel][time], with room for one more on either side. Four at a time are summed apart, which is twice as quick.
 */
function convolve(input: Float64Array, times: number, { weights, bias, from, to, stride }: Convolution): Float64Array {
  const count = Math.ceil(times / stride);
  const row = times + 2;
  const out = new Float64Array(to * (count + 2));
  for (let o = 0, w = 0; o < to; o += 1) {
    let [s0, s1, s2, s3] = [0, 0, 0, 0];
    for (let c = 0, x = 0; c < from; c += 1, w += 3, x += row) {
      const a = weights[w] as number;
      const b = weights[w + 1] as number;
      const d = weights[w + 2] as number;
      s0 += a * (input[x] as number) + b * (input[x + 1] as number) + d * (input[x + 2] as number);
      if (count === 1) continue;
      const y = x + stride;
      s1 += a * (input[y] as number) + b * (input[y + 1] as number) + d * (input[y + 2] as number);
      if (count === 2) continue;
      s2 += a * (input[x + 2] as number) + b * (input[x + 3] as number) + d * (input[x + 4] as number);
      s3 += a * (input[x + 3] as number) + b * (input[x + 4] as number) + d * (input[x + 5] as number);
    }
    const at = o * (count + 2) + 1;
    const plus = bias[o] as number;
    out[at] = Math.max(0, s0 + plus);
    if (count > 1) out[at + 1] = Math.max(0, s1 + plus);
    if (count > 2) {
      out[at + 2] = Math.max(0, s2 + plus);
      out[at + 3] = Math.max(0, s3 + plus);
    }
  }
  return out;
}

const sigmoid = (x: number) => 1 / (1 + Math.exp(-x));

/** Hears sound step by step; keeps what it heard before in mind. */
export class SpeechNet {
  private readonly layers: readonly Convolution[];
  private readonly recurrent: { input: Float64Array; hidden: Float64Array; bias: Float64Array };
  private readonly last: { weights: Float64Array; bias: number };
  private readonly hidden = new Float64Array(HIDDEN);
  private readonly cell = new Float64Array(HIDDEN);
  private readonly gates = new Float64Array(HIDDEN * 4);
  private readonly even = new Float64Array((HOP + 1) * FRAMES);
  private readonly odd = new Float64Array((HOP + 1) * FRAMES);
  private readonly heard = new Float64Array(CONTEXT + SPEECH_STEP + CONTEXT);

  /** @param weights of the convolutions, the LSTM and the last layer, in order: {@link SPEECH_WEIGHTS} floats. */
  constructor(weights: Float32Array) {
    if (weights.length !== SPEECH_WEIGHTS) throw new Error(`the weights of the speech network are ${SPEECH_WEIGHTS} floats`);
    let at = 0;
    const take = (count: number) => Float64Array.from(weights.subarray(at, (at += count)));
    const layer = (from: number, to: number, stride: number) => ({ weights: take(from * to * 3), bias: take(to), from, to, stride });
    this.layers = [layer(BINS, 128, 1), layer(128, 64, 2), layer(64, 64, 2), layer(64, 128, 1)];
    const [input, hidden] = [take(HIDDEN * 4 * HIDDEN), take(HIDDEN * 4 * HIDDEN)];
    const [one, two] = [take(HIDDEN * 4), take(HIDDEN * 4)];
    this.recurrent = { input, hidden, bias: one.map((b, i) => b + (two[i] as number)) };
    this.last = { weights: take(HIDDEN), bias: weights[at] as number };
  }

  /** How likely there is speech in the next {@link SPEECH_STEP} samples, 0 to 1. Mono, 16 kHz. */
  next(samples: Float32Array): number {
    const { heard } = this;
    heard.copyWithin(0, SPEECH_STEP, SPEECH_STEP + CONTEXT);
    heard.set(samples, CONTEXT);
    const end = CONTEXT + SPEECH_STEP;
    for (let i = 0; i < CONTEXT; i += 1) heard[end + i] = heard[end - 2 - i] as number;
    let sound = this.spectrum();
    let times = FRAMES;
    for (const layer of this.layers) {
      sound = convolve(sound, times, layer);
      times = Math.ceil(times / layer.stride);
    }
    this.remember(sound);
    let sum = this.last.bias;
    for (let i = 0; i < HIDDEN; i += 1) sum += Math.max(0, this.hidden[i] as number) * (this.last.weights[i] as number);
    return sigmoid(sum);
  }

  /** Magnitudes of the short-time spectrum: [bin][frame], with room for one more on either side. */
  private spectrum(): Float64Array {
    const row = FRAMES + 2;
    const out = new Float64Array(BINS * row);
    const { even, odd, heard } = this;
    for (let f = 0; f < FRAMES; f += 1) {
      const at = f * HOP;
      for (let n = 1; n < HOP; n += 1) {
        const a = heard[at + n] as number;
        const b = heard[at + FRAME - n] as number;
        even[n * FRAMES + f] = a + b;
        odd[n * FRAMES + f] = a - b;
      }
      even[HOP * FRAMES + f] = heard[at + HOP] as number;
    }
    for (let k = 0; k < BINS; k += 1) {
      let [r0, r1, r2, r3, i0, i1, i2, i3] = [0, 0, 0, 0, 0, 0, 0, 0];
      for (let n = 1, at = k * (HOP + 1) + 1, x = FRAMES; n <= HOP; n += 1, at += 1, x += FRAMES) {
        const cos = BASIS.cos[at] as number;
        const sin = BASIS.sin[at] as number;
        r0 += cos * (even[x] as number);
        r1 += cos * (even[x + 1] as number);
        r2 += cos * (even[x + 2] as number);
        r3 += cos * (even[x + 3] as number);
        i0 += sin * (odd[x] as number);
        i1 += sin * (odd[x + 1] as number);
        i2 += sin * (odd[x + 2] as number);
        i3 += sin * (odd[x + 3] as number);
      }
      const at = k * row + 1;
      out[at] = Math.sqrt(r0 * r0 + i0 * i0);
      out[at + 1] = Math.sqrt(r1 * r1 + i1 * i1);
      out[at + 2] = Math.sqrt(r2 * r2 + i2 * i2);
      out[at + 3] = Math.sqrt(r3 * r3 + i3 * i3);
    }
    return out;
  }

  /** One step of the LSTM; its gates come as input, forget, cell, output. `sound`: one moment of 128 channels, with room around each. */
  private remember(sound: Float64Array): void {
    const { input, hidden, bias } = this.recurrent;
    const { gates, hidden: was } = this;
    for (let g = 0; g < gates.length; g += 1) {
      let [one, two, three, four] = [0, 0, 0, 0];
      for (let i = 0, w = g * HIDDEN, x = 1; i < HIDDEN; i += 2, w += 2, x += 6) {
        one += (input[w] as number) * (sound[x] as number);
        two += (hidden[w] as number) * (was[i] as number);
        three += (input[w + 1] as number) * (sound[x + 3] as number);
        four += (hidden[w + 1] as number) * (was[i + 1] as number);
      }
      gates[g] = one + two + three + four + (bias[g] as number);
    }
    for (let i = 0; i < HIDDEN; i += 1) {
      const enter = sigmoid(gates[i] as number);
      const keep = sigmoid(gates[HIDDEN + i] as number);
      const cell = keep * (this.cell[i] as number) + enter * Math.tanh(gates[HIDDEN * 2 + i] as number);
      this.cell[i] = cell;
      was[i] = sigmoid(gates[HIDDEN * 3 + i] as number) * Math.tanh(cell);
    }
  }
}
