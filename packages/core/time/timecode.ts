import { toSeconds, type Flicks } from './flicks';
import { frameAt, frameStart, type Rate } from './rate';

/** Frames counted in one second of timecode: 30 for 29.97 (non-drop counting, SMPTE ST 12-1). */
export function nominalRate(rate: Rate): number {
  return Math.round(rate.num / rate.den);
}

/** A time as `m:ss.ff` (or `h:mm:ss.ff` from an hour on), non-drop. The frame that is showing at `time` is the one named. */
export function formatTimecode(time: Flicks, rate: Rate): string {
  const nominal = nominalRate(rate);
  const frames = frameAt(Math.abs(time), rate);
  const seconds = Math.floor(frames / nominal);
  const [h, m, s, f] = [Math.floor(seconds / 3600), Math.floor(seconds / 60) % 60, seconds % 60, frames % nominal];
  const two = (n: number) => String(n).padStart(2, '0');
  const body = h > 0 ? `${h}:${two(m)}:${two(s)}.${two(f)}` : `${m}:${two(s)}.${two(f)}`;
  return time < 0 ? `-${body}` : body;
}

/** A length for sentences, as `m:ss.s`. */
export function formatSeconds(length: Flicks): string {
  const tenths = Math.round(toSeconds(length) * 10);
  return `${Math.floor(tenths / 600)}:${(Math.floor(tenths % 600) / 10).toFixed(1).padStart(4, '0')}`;
}

/**
 * What a person types for a time, as a frame boundary, or null when it is none.
 *
 * `1:02.15` minutes, seconds, frames · `1:02` minutes, seconds · `62` seconds · `62.15` seconds, frames · `.15` or `15f`
 * frames · a leading `+` or `-` is relative to `base`. Frames past the nominal rate are refused.
 */
export function parseTimecode(text: string, rate: Rate, base: Flicks = 0): Flicks | null {
  const nominal = nominalRate(rate);
  const match = /^([+-])?(?:(\d+)f|(?:(?:(\d+):)?(\d+):)?(\d+)?(?:[.;](\d{1,3}))?)$/.exec(text.trim().replace(/,/g, '.'));
  if (!match || text.trim().replace(/[+-]/, '') === '') return null;
  const [, sign, framesOnly, h, m, s, f] = match;
  if (framesOnly === undefined && s === undefined && f === undefined) return null;
  const frames =
    framesOnly !== undefined
      ? Number(framesOnly)
      : (Number(h ?? 0) * 3600 + Number(m ?? 0) * 60 + Number(s ?? 0)) * nominal + Number(f ?? 0);
  if (f !== undefined && Number(f) >= nominal) return null;
  const time = frameStart(frames, rate);
  if (sign === '+') return base + time;
  if (sign === '-') return base - time;
  return time;
}

/** How much later (+) or earlier (−) something is, as people write it. */
export function formatSigned(time: Flicks, rate: Rate): string {
  return time === 0 ? 'same' : `${time < 0 ? '−' : '+'}${formatTimecode(Math.abs(time), rate)}`;
}

/** Reads what is later or earlier: "-0.10", "+5f", "0". Null when it is none. */
export function parseSigned(text: string, rate: Rate): Flicks | null {
  const plain = text.trim().replace('−', '-');
  const time = parseTimecode(plain.replace(/^[+-]/, ''), rate);
  return time !== null && plain.startsWith('-') ? -time : time;
}
