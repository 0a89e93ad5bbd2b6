import { applyEdit } from '@flimzy/core/edits';
import { newPiece, type MediaFacts, type Piece } from '@flimzy/core/piece';
import { UNDER } from '@flimzy/core/properties';
import { duckLines, mix, type Hearing, type PcmReader } from '@flimzy/core/sound';
import { frameLength, fromSeconds, SAMPLE_RATE } from '@flimzy/core/time';
import { machine, row } from './figures';

/** Mixing 20 tracks with envelopes, fades, pans, music under speech, and the limiter: how many times real time. */
const RATE = { num: 30, den: 1 };
const SECONDS = 60;
const TRACKS = 20;
const media: MediaFacts = {
  id: 'm',
  name: 'Sound',
  kind: 'sound',
  length: fromSeconds(600),
  width: 0,
  height: 0,
  rate: null,
  hasSound: true,
};
let made = 0;
const does = (piece: Piece, name: string, params: unknown) =>
  applyEdit(piece, `00000000-0000-4000-8000-${String((made += 1)).padStart(12, '0')}`, name, params).piece;

let piece = newPiece('bench', 'Bench', { width: 1080, height: 1920, rate: RATE });
const length = Math.round(5 * 30 * frameLength(RATE));
for (let t = 1; t < TRACKS; t += 1) piece = does(piece, 'addTrack', { kind: 'sound' });
for (const track of piece.tracks.filter((one) => one.kind === 'sound'))
  for (let n = 0; n < SECONDS / 5; n += 1)
    piece = does(piece, 'add', { track: track.id, media, at: null, from: n * fromSeconds(7), length });
const clips = piece.tracks.flatMap((track) => track.clips);
for (const clip of clips) {
  const keys = [1, 2, 3, 4].map((n) => ({ at: clip.from + fromSeconds(n), value: n % 2 ? -6 : 0, ease: 'even' }));
  piece = does(piece, 'set', {
    clips: [clip.id],
    values: { envelope: { keys }, fadeIn: fromSeconds(1), fadeOut: fromSeconds(1), pan: 0.3, level: -30 },
  });
}
const sounds = piece.tracks.filter((one) => one.kind === 'sound');
for (const { id } of sounds.slice(5)) piece = does(piece, 'setTrack', { track: id, set: { under: UNDER } });

const noise = Float32Array.from({ length: SAMPLE_RATE * 4 }, (_, i) => Math.sin(i * 0.031) * Math.sin(i * 0.00017) * 0.6);
const read: PcmReader = (_, from, count) => {
  const side = new Float32Array(count);
  for (let at = 0; at < count;) {
    const part = noise.subarray((from + at) % noise.length).subarray(0, count - at);
    side.set(part, at);
    at += part.length;
  }
  return { left: side, right: side };
};
const heard: Hearing = {
  loudness: Array.from({ length: 6_000 }, () => -200),
  speech: Array.from({ length: 60 }, (_, n): [number, number] => [n * 480_000, n * 480_000 + 144_000]),
};

console.log(`\nMixing ${TRACKS} tracks, ${clips.length} clips, ${SECONDS} s (${machine()})`);
const began = performance.now();
const lines = duckLines(piece, () => heard);
const worked = performance.now() - began;
const BLOCK = 8_192;
const start = performance.now();
for (let at = 0; at + BLOCK <= SECONDS * SAMPLE_RATE; at += BLOCK) mix(piece, at, at + BLOCK, read, { lines });
const times = SECONDS / ((performance.now() - start) / 1000);
row('envelopes, fades, pan, under speech, limiter', `${times.toFixed(1)} × real time`, '≥ 20');
row('working out what makes way for speech, once', `${worked.toFixed(0)} ms`);
