import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { Listener, weightsOf } from '@flimzy/core/analyse';
import { SAMPLE_RATE } from '@flimzy/core/time';
import { duckingOf, stepsOf } from './ducking';
import { machine, median, row } from './figures';

/**
 * Speech found in made speech with known times: sentences of four voices with pauses between, clean and under noise, and under the
 * demo's music. A frame is 10 ms; the truth is where the clean voice is within 45 dB of its loudest, gaps under 0.2 s closed.
 */
const weights = weightsOf(readFileSync(new URL('../apps/server/assets/speech.f32', import.meta.url)));
const FRAME = SAMPLE_RATE / 100;

const decoded = (args: string[], input?: Buffer) => {
  const out = execFileSync('ffmpeg', ['-v', 'error', ...args, '-ac', '1', '-ar', String(SAMPLE_RATE), '-f', 'f32le', '-'], {
    maxBuffer: 1e9,
    ...(input ? { input } : {}),
  });
  return new Float32Array(out.buffer.slice(out.byteOffset, out.byteOffset + out.length - (out.length % 4)));
};

const SENTENCES = [
  'First you cut two spars of the same length, and mark the middle of both.',
  'Now the paper. Leave a finger of it all around.',
  'Glue is slow, so this is where you have a cup of tea and look out of the window.',
  'When the wind is right you will feel it in the line before you see it.',
  'That is all. Go and fly it.',
];
const VOICES = ['en', 'en-us+f3', 'en+m7', 'en-gb+f2'];

function spoken(): Float32Array {
  const parts: Float32Array[] = [];
  for (const [v, voice] of VOICES.entries())
    for (const [n, sentence] of SENTENCES.entries()) {
      const wav = execFileSync('espeak-ng', ['-v', voice, '-s', '150', '--stdout', sentence], { maxBuffer: 1e8 });
      parts.push(decoded(['-i', 'pipe:0'], wav), new Float32Array(Math.round(SAMPLE_RATE * (0.4 + ((v * 5 + n) % 7) * 0.3))));
    }
  const out = new Float32Array(parts.reduce((sum, one) => sum + one.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}

const powerOf = (samples: Float32Array) => samples.reduce((sum, one) => sum + one * one, 0) / samples.length;

function truthOf(clean: Float32Array): boolean[] {
  const frames = Array.from({ length: Math.floor(clean.length / FRAME) }, (_, f) => powerOf(clean.subarray(f * FRAME, (f + 1) * FRAME)));
  const least = Math.max(...frames) / 10 ** 4.5;
  const truth = frames.map((one) => one > least);
  for (let f = 0, quiet = 0; f < truth.length; f += 1) {
    if (!truth[f]) quiet += 1;
    else {
      if (quiet < 20) for (let k = f - quiet; k < f; k += 1) truth[k] = k >= 0;
      quiet = 0;
    }
  }
  return truth;
}

function hear(samples: Float32Array) {
  const listener = new Listener(weights);
  const began = performance.now();
  for (let at = 0; at < samples.length; at += SAMPLE_RATE) {
    const part = samples.subarray(at, at + SAMPLE_RATE);
    listener.push({ left: part, right: part });
  }
  const heard = listener.finish();
  return { ...heard, times: samples.length / SAMPLE_RATE / ((performance.now() - began) / 1000) };
}

function judge(name: string, samples: Float32Array, truth: readonly boolean[]): void {
  const { speech, times } = hear(samples);
  const found = truth.map((_, f) => speech.some(([from, to]) => f * FRAME >= from && f * FRAME < to));
  const both = truth.filter((one, f) => one && found[f]).length;
  const precision = both / found.filter(Boolean).length;
  const recall = both / truth.filter(Boolean).length;
  const begins = truth.flatMap((one, f) => (one && !truth[f - 1] ? [f * FRAME] : []));
  const errors = begins.map((at) => Math.min(...speech.map(([from]) => Math.abs(from - at))) / (SAMPLE_RATE / 1000));
  const percent = (share: number) => `${(share * 100).toFixed(1)} %`;
  row(
    name,
    `precision ${percent(precision)}, recall ${percent(recall)}, begins ${median(errors).toFixed(0)} ms off`,
    `${times.toFixed(1)} × rt`,
  );
}

console.log(`\nSpeech found in made speech (${machine()})`);
const clean = spoken();
const truth = truthOf(clean);
const level = powerOf(clean.filter((_, i) => truth[Math.floor(i / FRAME)]));
const under = (noise: Float32Array, db: number) => {
  const gain = Math.sqrt(level / powerOf(noise) / 10 ** (db / 10));
  return clean.map((one, i) => one + (noise[i % noise.length] as number) * gain);
};
const pink = decoded(['-f', 'lavfi', '-i', `anoisesrc=color=pink:seed=7:duration=30:sample_rate=${SAMPLE_RATE}`]);
const music = decoded(['-i', new URL('../demo/media/fair-wind.mp3', import.meta.url).pathname]);
judge('clean', clean, truth);
for (const db of [20, 10, 5, 0]) judge(`${db} dB over pink noise`, under(pink, db), truth);
for (const db of [20, 10, 5]) judge(`${db} dB over music`, under(music, db), truth);
const alone = hear(music);
row('music alone', `${alone.speech.length} stretches taken for speech`, '');

console.log('\nMusic under that speech, 12 LU below it');
for (const [name, voice] of [['clean', clean], ...[20, 10, 5].map((db) => [`${db} dB over noise`, under(pink, db)] as const)] as const)
  duckingOf(name, voice, music, (samples) => hear(samples), stepsOf(truth, FRAME));
