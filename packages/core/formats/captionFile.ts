import type { Cue } from '../piece';
import { FLICKS_PER_SECOND, LONGEST, type Flicks } from '../time';

/** The kinds of file that captions go out and come in as: SubRip, and WebVTT (W3C). */
export const CAPTION_FILES = {
  srt: { name: 'SRT', extension: 'srt', mime: 'application/x-subrip' },
  vtt: { name: 'WebVTT', extension: 'vtt', mime: 'text/vtt' },
} as const;
export type CaptionFile = keyof typeof CAPTION_FILES;

const MILLISECOND = FLICKS_PER_SECOND / 1000;

/** "01:02:03.450": hours, minutes, seconds, milliseconds. */
function written(time: Flicks, point: ',' | '.'): string {
  const all = Math.round(time / MILLISECOND);
  const two = (n: number) => String(n).padStart(2, '0');
  const [hours, minutes, seconds] = [Math.floor(all / 3_600_000), Math.floor(all / 60_000) % 60, Math.floor(all / 1000) % 60];
  return `${two(hours)}:${two(minutes)}:${two(seconds)}${point}${String(all % 1000).padStart(3, '0')}`;
}

/** Text as it may stand in a file: an empty line would end a cue, and `-->` begins one. */
const safeText = (text: string) =>
  text
    .split(/\r\n?|\n/)
    .map((line) => line.replace(/-->/g, '→').trimEnd())
    .filter((line) => line.trim() !== '')
    .join('\n');

const escaped = (text: string) => text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;');

/** Captions as a file, in order of time; those without a word are left out. */
export function captionFile(cues: readonly Cue[], kind: CaptionFile): string {
  const said = [...cues]
    .sort((a, b) => a.from - b.from)
    .map((cue) => ({ ...cue, text: safeText(cue.text) }))
    .filter(({ text }) => text !== '');
  const line = ({ from, to }: Cue, point: ',' | '.') => `${written(from, point)} --> ${written(to, point)}`;
  if (kind === 'srt') return said.map((cue, n) => `${n + 1}\n${line(cue, ',')}\n${cue.text}\n`).join('\n');
  return `WEBVTT\n${said.map((cue) => `\n${line(cue, '.')}\n${escaped(cue.text)}\n`).join('')}`;
}

const TIMES = /^\s*(?:(\d{1,3}):)?(\d{1,2}):(\d{1,2})[.,](\d{1,3})\s*-->\s*(?:(\d{1,3}):)?(\d{1,2}):(\d{1,2})[.,](\d{1,3})(?:\s.*)?$/;

function timeOf(hours: string | undefined, minutes = '0', seconds = '0', part = '0'): Flicks {
  const all = (Number(hours ?? 0) * 60 + Number(minutes)) * 60 + Number(seconds);
  return Math.round((all * 1000 + Number(part.padEnd(3, '0'))) * MILLISECOND);
}

const ENTITIES: Record<string, string> = { amp: '&', lt: '<', gt: '>', nbsp: ' ', quot: '"', apos: "'", lrm: '', rlm: '' };

/** What is to be read of a cue's text: without marks for looks and voices. */
const plainText = (text: string) =>
  text
    .replace(/<\/?(?:[bciu]|v|lang|ruby|rt|font)(?:[.\s][^>]*)?>|<\d[\d:.]*>|\{\\[^}]*\}/gi, '')
    .replace(/&(amp|lt|gt|nbsp|quot|apos|lrm|rlm);/g, (_, name: string) => ENTITIES[name] ?? '')
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean)
    .join('\n');

/** What was read of a file of captions, and how many cues in it were not: their times are wrong, or they say nothing. */
export interface ReadCaptions {
  cues: Cue[];
  passedOver: number;
}

/**
 * Reads captions from the text of an SRT or WebVTT file, in order of time; one that reaches into the next ends where that begins. What is in
 * neither form has no cues.
 */
export function readCaptions(file: string): ReadCaptions {
  const cues: Cue[] = [];
  let passedOver = 0;
  const blocks = file
    .replace(/^\uFEFF/, '')
    .replace(/\r\n?/g, '\n')
    .split(/\n[ \t]*\n+/);
  for (const block of blocks) {
    const lines = block.split('\n');
    // Before its times a cue has at most a number or a name; notes, styles and the head of the file have none.
    const at = lines.findIndex((line) => line.includes('-->'));
    if (at < 0 || /^(NOTE|STYLE|REGION)\b/.test(lines[0] ?? '')) continue;
    const times = TIMES.exec(lines[at] ?? '');
    const text = plainText(lines.slice(at + 1).join('\n'));
    const [from, to] = times ? [timeOf(times[1], times[2], times[3], times[4]), timeOf(times[5], times[6], times[7], times[8])] : [0, 0];
    if (!times || to <= from || to > LONGEST || text === '') passedOver += 1;
    else cues.push({ from, to, text });
  }
  cues.sort((a, b) => a.from - b.from);
  const apart = cues.map((cue, n) => ({ ...cue, to: Math.min(cue.to, cues[n + 1]?.from ?? Infinity) })).filter(({ from, to }) => to > from);
  return { cues: apart, passedOver: passedOver + cues.length - apart.length };
}
