import type { Cue } from '../piece';
import { chunksOf, lettersToRead, syllablesIn } from '../properties';
import { frameLength, fromSeconds, toGrid, type Flicks, type Rate } from '../time';

/** A stretch of time, in flicks. */
export type Span = readonly [from: Flicks, to: Flicks];

/** A pause at most this long does not end a caption; one caption lasts at most so long, and at least so long where there is room. */
const BREATH = fromSeconds(0.35);
const LONG = fromSeconds(4);
const SHORT = fromSeconds(0.8);

/** How many letters one caption has at most: two short lines; and of how few a sentence does not stand alone. */
const LETTERS = 42;
const FEW = 12;

/** So many letters further from an even length a piece may be that ends with a clause. */
const CLAUSE = 12;

/** How fast people speak, in letters a second, where nothing is known of what was said. */
const SPOKEN = 14;

/** What is spoken, as stretches that one caption each can stand for: over short pauses, and none too long; on frames, none over another. */
export function captionStretches(speech: readonly Span[], rate: Rate): Span[] {
  const whole: [Flicks, Flicks][] = [];
  for (const [from, to] of speech) {
    const last = whole.at(-1);
    if (last && from - last[1] <= BREATH) last[1] = Math.max(last[1], to);
    else whole.push([from, to]);
  }
  const parts = whole.flatMap(([from, to]): Span[] => {
    const n = Math.ceil((to - from) / LONG);
    return Array.from({ length: n }, (_, i): Span => [from + ((to - from) * i) / n, from + ((to - from) * (i + 1)) / n]);
  });
  const lasting = parts.map(([from, to], i) => ({ from, to: Math.max(to, Math.min(from + SHORT, parts[i + 1]?.[0] ?? Infinity)) }));
  return onFrames(lasting, rate).map(({ from, to }): Span => [from, to]);
}

/** Stretches (or captions) moved to frames, in order, none over another; what would be shorter than one is left out. */
export function onFrames<T extends { from: Flicks; to: Flicks }>(all: readonly T[], rate: Rate): T[] {
  let end = 0;
  return all.flatMap((one): T[] => {
    const [from, to] = [Math.max(end, toGrid(one.from, rate)), toGrid(one.to, rate)];
    if (to - from < frameLength(rate)) return [];
    end = to;
    return [{ ...one, from, to }];
  });
}

/** What of a text is not broken: a word, or a letter of those that are written without spaces; with what stands between it and the one before. */
interface Bit {
  text: string;
  space: '' | ' ';
}

const bitsOf = (line: string): Bit[] =>
  line
    .split(/\s+/)
    .filter(Boolean)
    .flatMap((word) => chunksOf(word).map((text, n): Bit => ({ text, space: n === 0 ? ' ' : '' })));

const joined = (bits: readonly Bit[]) => bits.map(({ text, space }, n) => (n === 0 ? '' : space) + text).join('');

/** A text in the pieces that are read at once: lines stay apart, sentences where they can, and no word is broken. */
export const captionTexts = (text: string): string[] =>
  text
    .split(/\r\n?|\n/)
    .map(bitsOf)
    .flatMap(sentencesOf)
    .flatMap(inPieces);

const ENDS = /[.!?…。！？]["'”’)」』]*$/;
const PAUSES = /[,;:–—、，；：]["'”’)」』]*$/;

/** How long a bit is, and what is before it, in letters; one that stands for a syllable is two of them. */
const lengthOf = ({ text }: Bit) => text.length + syllablesIn(text);
const lengthWith = (bit: Bit) => bit.space.length + lengthOf(bit);
const lengthOfAll = (bits: readonly Bit[]) => bits.reduce((sum, bit, n) => sum + (n === 0 ? lengthOf(bit) : lengthWith(bit)), 0);

/** Words sentence by sentence; one of a few letters goes with the next. */
function sentencesOf(bits: readonly Bit[]): Bit[][] {
  const sentences: Bit[][] = [];
  let now: Bit[] = [];
  for (const [n, bit] of bits.entries()) {
    now.push(bit);
    if (n < bits.length - 1 && !(ENDS.test(bit.text) && (now.length > FEW || lengthOfAll(now) >= FEW))) continue;
    sentences.push(now);
    now = [];
  }
  return sentences;
}

/** A sentence in pieces of about one length, ended where a clause does rather than anywhere. */
function inPieces(bits: readonly Bit[]): string[] {
  const pieces: string[] = [];
  let left = lengthOfAll(bits);
  for (let from = 0; from < bits.length;) {
    const even = left / Math.ceil(left / LETTERS);
    let best = { end: from + 1, off: Infinity, length: 0 };
    let length = 0;
    for (let n = from; n < bits.length; n += 1) {
      const bit = bits[n] as Bit;
      length += n === from ? lengthOf(bit) : lengthWith(bit);
      if (n > from && length > LETTERS) break;
      const off = Math.abs(length - even) - (PAUSES.test(bit.text) ? CLAUSE : 0);
      if (length === left || off < best.off) best = { end: n + 1, off: length === left ? -Infinity : off, length };
    }
    pieces.push(joined(bits.slice(from, best.end)));
    left -= best.length + (bits[best.end]?.space.length ?? 0);
    from = best.end;
  }
  return pieces;
}

/**
 * A text that someone speaks, laid over the time in which they do: each piece of it gets as much of that as it has of the letters, and ends
 * with a pause where one is near. Where nobody is known to speak, at the speed of speech from `from` on.
 */
export function spreadText(text: string, speech: readonly Span[], rate: Rate, from: Flicks = 0): Cue[] {
  const texts = captionTexts(text);
  const letters = texts.map(lettersToRead);
  const all = letters.reduce((sum, n) => sum + n, 0);
  if (all === 0) return [];
  const spoken: readonly Span[] = speech.length > 0 ? speech : [[from, from + fromSeconds(all / SPOKEN)]];
  const total = spoken.reduce((sum, [starts, ends]) => sum + ends - starts, 0);
  // Cuts in time spoken, between the pieces: at a pause if one is no further than half of the shorter piece beside it.
  const pauses: Flicks[] = [];
  spoken.reduce((at, [starts, ends]) => {
    pauses.push(at + ends - starts);
    return at + ends - starts;
  }, 0);
  let [said, last] = [0, 0];
  const cuts = letters.map((n, i) => {
    said += n;
    if (i === letters.length - 1) return total;
    const plain = (total * said) / all;
    const reach = (total * Math.min(n, letters[i + 1] ?? n)) / all / 2;
    const near = pauses.filter((pause) => Math.abs(pause - plain) <= reach && pause > last);
    last = near.length > 0 ? near.reduce((a, b) => (Math.abs(b - plain) < Math.abs(a - plain) ? b : a)) : Math.max(last, plain);
    return last;
  });
  const timed = cuts.map((cut, i): Span => [timeSpoken(spoken, i === 0 ? 0 : (cuts[i - 1] ?? 0), true), timeSpoken(spoken, cut, false)]);
  let end = 0;
  return timed.flatMap(([starts, ends], i): Cue[] => {
    const [first, after] = [Math.max(end, toGrid(starts, rate)), toGrid(ends, rate)];
    const to = Math.max(after, first + frameLength(rate));
    end = to;
    return [{ from: first, to, text: texts[i] ?? '' }];
  });
}

/** When so much has been spoken; between two stretches at the start of the next, or at the end of the one before. */
function timeSpoken(spoken: readonly Span[], amount: Flicks, starting: boolean): Flicks {
  let left = amount;
  for (const [from, to] of spoken) {
    if (left < to - from || (left === to - from && !starting)) return from + left;
    left -= to - from;
  }
  return spoken.at(-1)?.[1] ?? 0;
}
