import type { CoverKind } from '../properties';
import { SAMPLE_RATE } from '../time';

/** What covers a word with a sound of its own. */
export type CoverSound = Exclude<CoverKind, 'silence' | 'garble' | 'own'>;

const turn = (cycles: number) => Math.sin(2 * Math.PI * cycles);

/** Comes in over `rise` and goes out over `fall` (seconds) within a length of time, so that nothing clicks. */
const swell = (t: number, length: number, rise: number, fall: number) => Math.max(0, Math.min(1, t / rise, (length - t) / fall));

/** Two reeds a major third apart, 0.28 s long, then 0.05 s of nothing. */
function horn(t: number): number {
  const at = t % 0.33;
  const reed = (cycles: number) => turn(cycles) + 0.6 * turn(2 * cycles) + 0.45 * turn(3 * cycles) + 0.3 * turn(4 * cycles);
  return 0.66 * swell(at, 0.28, 0.01, 0.03) * (reed(392 * at) + reed(494 * at));
}

/** A note that leaps up and shakes while it dies away, every 0.7 s. */
function spring(t: number): number {
  const at = t % 0.7;
  const cycles = 150 * at + 130 * at ** 2 + 0.9 * turn(14 * at);
  return 1.75 * swell(at, 0.7, 0.005, 0.08) * Math.exp(-1.6 * at) * (0.85 * turn(cycles) + 0.35 * turn(2 * cycles));
}

/** Calls that go up from 2 to 3.6 kHz, eight a second. */
function birds(t: number): number {
  const at = t % 0.125;
  return 1.45 * swell(at, 0.1, 0.02, 0.05) * turn(2_000 * at + 8_000 * at ** 2);
}

/** Steps of a square wave between five notes, 70 ms each. */
function robot(t: number): number {
  const [step, at] = [Math.floor(t / 0.07), t % 0.07];
  const note = [330, 660, 440, 550, 247][step % 5] as number;
  const square = turn(note * at) + turn(3 * note * at) / 3 + turn(5 * note * at) / 5;
  return 1.02 * swell(at, 0.07, 0.003, 0.006) * square;
}

/** The sounds, each at a time (seconds) since it began, and about as loud as a sine of the height 1. A new one is one line here, and its name. */
const MADE: Record<CoverSound, (t: number) => number> = { tone: (t) => turn(1_000 * t), horn, spring, birds, robot };

/** Sample `n` of a sound at 48 kHz, counted from its beginning. */
export const coverSound = (sound: CoverSound, n: number): number => MADE[sound](n / SAMPLE_RATE);
