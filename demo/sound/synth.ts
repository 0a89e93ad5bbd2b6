import { grain } from '../scenes/paint';

/** Mono samples at 48 kHz, −1…1. */
export type Mono = Float32Array;
export const RATE = 48_000;
const TAU = Math.PI * 2;

export function silence(seconds: number): Mono {
  return new Float32Array(Math.round(seconds * RATE));
}

/** Adds a sound into another from a time on. */
export function addAt(into: Mono, sound: Mono, seconds: number, gain = 1): void {
  const start = Math.round(seconds * RATE);
  for (let i = 0; i < sound.length && start + i < into.length; i += 1)
    if (start + i >= 0) into[start + i] = (into[start + i] as number) + (sound[i] as number) * gain;
}

/** White noise through a one-pole low pass (`soft` near 1 is darker). */
export function noise(seconds: number, soft: number, seed = 1): Mono {
  const out = silence(seconds);
  let held = 0;
  for (let i = 0; i < out.length; i += 1) {
    held = held * soft + (grain(i * 0.731 + seed) * 2 - 1) * (1 - soft);
    out[i] = held;
  }
  return out;
}

/** A plucked string (after Karplus and Strong, 1983). */
export function pluck(hz: number, seconds: number, bright = 0.5): Mono {
  const out = silence(seconds);
  const n = Math.round(RATE / hz);
  const ring = Float32Array.from({ length: n }, (_, i) => grain(i + hz) * 2 - 1);
  for (let i = 0; i < out.length; i += 1) {
    const a = ring[i % n] as number;
    const b = ring[(i + 1) % n] as number;
    ring[i % n] = (a * bright + b * (1 - bright)) * 0.996;
    out[i] = a * Math.min(1, (out.length - i) / 2000);
  }
  return out;
}

export function kick(): Mono {
  const out = silence(0.3);
  for (let i = 0; i < out.length; i += 1) {
    const t = i / RATE;
    out[i] = Math.sin(TAU * (45 * t + 22 * (1 - Math.exp(-t * 30)))) * Math.exp(-t * 12);
  }
  return out;
}

export function shaker(seconds = 0.09): Mono {
  const out = noise(seconds, 0.1, 5);
  for (let i = 0; i < out.length; i += 1) out[i] = (out[i] as number) * Math.exp((-i / RATE) * 45);
  return out;
}

/** A soft held chord with a slow start. */
export function pad(hz: readonly number[], seconds: number): Mono {
  const out = silence(seconds);
  for (let i = 0; i < out.length; i += 1) {
    const t = i / RATE;
    const swell = Math.min(1, t * 2) * Math.min(1, (seconds - t) * 2);
    for (const f of hz) out[i] = (out[i] as number) + (Math.sin(TAU * f * t) + 0.3 * Math.sin(TAU * f * 2.003 * t)) * swell * 0.12;
  }
  return out;
}

const note = (semitones: number) => 220 * 2 ** (semitones / 12);

/** A tune of plucked chords over a beat, at a tempo in beats a minute. */
export function tune(bpm: number, bars: number, chords: readonly (readonly number[])[], bright: number): { left: Mono; right: Mono } {
  const beat = 60 / bpm;
  const length = bars * 4 * beat + 1;
  const [left, right] = [silence(length), silence(length)];
  for (let bar = 0; bar < bars; bar += 1) {
    const chord = chords[bar % chords.length] as readonly number[];
    const start = bar * 4 * beat;
    for (const side of [left, right])
      addAt(
        side,
        pad(
          chord.map((n) => note(n - 12)),
          beat * 4,
        ),
        start,
        0.5,
      );
    for (let b = 0; b < 4; b += 1) {
      for (const side of [left, right]) addAt(side, kick(), start + b * beat, b % 2 ? 0.35 : 0.7);
      for (const half of [0, 0.5]) {
        addAt(half ? left : right, shaker(), start + (b + half) * beat, 0.35);
        const step = chord[(b * 2 + half * 2 + bar) % chord.length] as number;
        const sound = pluck(note(step + (b === 3 ? 12 : 0)), 0.9, bright);
        addAt(left, sound, start + (b + half) * beat, 0.34);
        addAt(right, sound, start + (b + half) * beat + 0.004, 0.28);
      }
    }
  }
  return { left, right };
}

/** Wind: dark noise that swells. */
export function wind(seconds: number, seed = 2): Mono {
  const out = noise(seconds, 0.985, seed);
  for (let i = 0; i < out.length; i += 1)
    out[i] = (out[i] as number) * (1.6 + Math.sin((i / RATE) * 0.9 + seed) * 0.7 + Math.sin((i / RATE) * 2.3) * 0.4);
  return out;
}

/** Five effects for the shelf. */
export const EFFECTS: Record<string, () => Mono> = {
  whoosh: () => {
    const out = noise(0.8, 0.8, 9);
    for (let i = 0; i < out.length; i += 1) out[i] = (out[i] as number) * Math.sin((Math.PI * i) / out.length) ** 3 * 3;
    return out;
  },
  'paper-rip': () => {
    const out = noise(0.5, 0.2, 11);
    for (let i = 0; i < out.length; i += 1)
      out[i] = (out[i] as number) * (grain(Math.floor(i / 300)) > 0.35 ? 0.8 : 0.1) * (1 - i / out.length);
    return out;
  },
  'snip-snip': () => {
    const out = silence(0.5);
    for (const at of [0.02, 0.27]) addAt(out, shaker(0.06), at, 1.4);
    return out;
  },
  'tail-flutter': () => {
    const out = noise(1.2, 0.6, 13);
    for (let i = 0; i < out.length; i += 1)
      out[i] = (out[i] as number) * Math.max(0, Math.sin((i / RATE) * TAU * 14)) * Math.sin((Math.PI * i) / out.length) * 1.6;
    return out;
  },
  'string-twang': () => pluck(146, 1.2, 0.55),
};
