import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { Listener, SPEECH_WEIGHTS, weightsOf } from '../analyse';

const bytes = readFileSync(path.resolve(__dirname, '../../../apps/server/assets/speech.f32'));
const weights = weightsOf(bytes);
const RATE = 48_000;

const decoded = (input: Buffer) => {
  const args = ['-v', 'error', '-i', 'pipe:0', '-ac', '1', '-ar', String(RATE), '-f', 'f32le', '-'];
  const out = execFileSync('ffmpeg', args, { input, maxBuffer: 1e8 });
  return new Float32Array(out.buffer.slice(out.byteOffset, out.byteOffset + out.length));
};

function heardIn(mono: Float32Array, piece: number) {
  const listener = new Listener(weights);
  for (let at = 0; at < mono.length; at += piece) {
    const part = mono.subarray(at, at + piece);
    listener.push({ left: part, right: part });
  }
  return listener.finish();
}

/** A second of silence, a sentence, a second and a half of silence, a sentence. Where the sentences begin and end, in seconds. */
function talk(): { mono: Float32Array; times: [number, number][] } {
  const say = (text: string) => decoded(execFileSync('espeak-ng', ['-v', 'en-us', '-s', '150', '--stdout', text], { maxBuffer: 1e8 }));
  const sentences = [say('The tail keeps the kite steady in the wind.'), say('Cut both spars to the same length before you glue.')];
  const gaps = [1, 1.5];
  const mono = new Float32Array(Math.ceil(sentences.reduce((sum, one) => sum + one.length, RATE * 3)));
  const times: [number, number][] = [];
  let at = 0;
  for (const [n, one] of sentences.entries()) {
    at += (gaps[n] ?? 0) * RATE;
    mono.set(one, at);
    const loud = (i: number) => Math.abs(one[i] as number) > 0.01;
    const [first, last] = [one.findIndex((_, i) => loud(i)), one.findLastIndex((_, i) => loud(i))];
    times.push([(at + first) / RATE, (at + last) / RATE]);
    at += one.length;
  }
  return { mono, times };
}

describe('what is heard in a material', () => {
  const { mono, times } = talk();

  it('says where someone speaks, to a few hundredths of a second', () => {
    const { speech } = heardIn(mono, 48_000);
    expect(bytes.length).toBe(SPEECH_WEIGHTS * 4);
    expect(speech.length).toBeGreaterThanOrEqual(2);
    const starts = speech.map(([from]) => from / RATE);
    const ends = speech.map(([, to]) => to / RATE);
    for (const [from, to] of times) {
      expect(Math.min(...starts.map((one) => Math.abs(one - from)))).toBeLessThan(0.05);
      expect(Math.min(...ends.map((one) => Math.abs(one - to)))).toBeLessThan(0.08);
    }
    const between = speech.filter(([from, to]) => to / RATE > times[0]![1] + 0.1 && from / RATE < times[1]![0] - 0.1);
    expect(between).toEqual([]);
  });

  it('is the same however it comes, and neither noise nor a tone is speech', () => {
    expect(heardIn(mono, 7_001)).toEqual(heardIn(mono, 48_000));
    let seed = 1;
    const noise = Float32Array.from({ length: RATE * 4 }, () => ((seed = (seed * 16_807) % 2_147_483_647) / 2_147_483_647 - 0.5) * 0.3);
    expect(heardIn(noise, 48_000).speech).toEqual([]);
    expect(
      heardIn(
        Float32Array.from({ length: RATE * 4 }, (_, i) => 0.3 * Math.sin(i / 17)),
        48_000,
      ).speech,
    ).toEqual([]);
  });

  it('says how loud each tenth of a second is', () => {
    const tone = Float32Array.from({ length: RATE }, (_, i) =>
      i < RATE / 2 ? 10 ** (-23 / 20) * Math.sin((2 * Math.PI * 1000 * i) / RATE) : 0,
    );
    const { loudness } = heardIn(tone, 48_000);
    expect(loudness).toHaveLength(10);
    for (const one of loudness.slice(1, 5)) expect(Math.abs(one + 230)).toBeLessThanOrEqual(1);
    expect(loudness[9]).toBeLessThan(-700);
  });
});
