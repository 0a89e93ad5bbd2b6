import { SPEECH_RATE, SPEECH_STEP } from './speechNet';

/** Speech begins where it is at least so likely, and goes on while it is not less likely than that. */
const BEGINS = 0.5;
const GOES_ON = 0.35;

/** Shorter than that is none, and a gap shorter than that is part of it: samples at 16 kHz. */
const LEAST = 0.2 * SPEECH_RATE;
const GAP = 0.15 * SPEECH_RATE;

/** Samples (16 kHz) of one fine energy: 10 ms. */
export const FINE_STEP = SPEECH_RATE / 100;

/** How far an end is moved to where the sound really begins or ends, in fine steps: 150 ms. */
const SNAP = 15;

/** Where someone speaks, in samples at 16 kHz, in order. `likely`: per step of the network; `fine`: the mean square of every 10 ms. */
export function speechIn(likely: readonly number[], fine: readonly number[]): [number, number][] {
  const found: [number, number][] = [];
  let began: number | null = null;
  for (let i = 0; i <= likely.length; i += 1) {
    const now = likely[i] ?? 0;
    if (began === null && now >= BEGINS) began = i * SPEECH_STEP;
    else if (began !== null && now < GOES_ON) {
      const before = found.at(-1);
      if (before && began - before[1] < GAP) before[1] = i * SPEECH_STEP;
      else found.push([began, i * SPEECH_STEP]);
      began = null;
    }
  }
  const spoken = found.filter(([from, to]) => to - from >= LEAST);
  const level = quietUnder(fine);
  return level === null ? spoken : apart(spoken.map(([from, to]) => snapped(from, to, fine, level)));
}

/** The mean square over which something sounds; null where the ground is too loud to tell. */
function quietUnder(fine: readonly number[]): number | null {
  const sorted = [...fine].sort((a, b) => a - b);
  const at = (share: number) => sorted[Math.floor((sorted.length - 1) * share)] ?? 0;
  const [ground, loud] = [at(0.1), at(0.95)];
  if (loud <= 0 || ground > loud / 1_000) return null;
  return Math.max(ground * 8, loud / 3_000);
}

/** Both ends where sound begins and ends, as far as that is near. */
function snapped(from: number, to: number, fine: readonly number[], level: number): [number, number] {
  const sounds = (step: number) => (fine[step] ?? 0) > level;
  const [first, last] = [Math.round(from / FINE_STEP), Math.round(to / FINE_STEP)];
  const near = Array.from({ length: SNAP + 1 }, (_, n) => n);
  const silentBefore = near.find((n) => !sounds(first - n - 1)) ?? 0;
  const silentAfter = near.find((n) => !sounds(last + n)) ?? 0;
  const begins = sounds(first) ? first - silentBefore : first + (near.find((n) => sounds(first + n)) ?? 0);
  const ends = sounds(last - 1) ? last + silentAfter : last - (near.find((n) => sounds(last - n - 1)) ?? 0);
  return [begins * FINE_STEP, Math.max(begins + 1, ends) * FINE_STEP];
}

/** Those that came to touch are one. */
function apart(spans: readonly [number, number][]): [number, number][] {
  const out: [number, number][] = [];
  for (const [from, to] of spans) {
    const before = out.at(-1);
    if (before && from <= before[1]) before[1] = Math.max(before[1], to);
    else out.push([from, to]);
  }
  return out;
}
