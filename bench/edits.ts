import { randomUUID } from 'node:crypto';
import { applyEdit, type EditName, type EditParams } from '@flimzy/core/edits';
import { newPiece, type Clip, type MediaFacts } from '@flimzy/core/piece';
import { frameLength, frameStart, fromSeconds } from '@flimzy/core/time';
import { machine, median, percentile, row } from './figures';

const rate = { num: 30, den: 1 };
const media: MediaFacts = {
  id: 'v',
  name: 'Hill',
  kind: 'video',
  length: fromSeconds(3600),
  width: 1920,
  height: 1080,
  rate,
  hasSound: true,
};
const piece = newPiece('p', 'Long', { width: 1080, height: 1920, rate });
piece.media.v = media;
const clips: Clip[] = Array.from({ length: 2000 }, (_, i) => ({
  id: `c${i}`,
  media: 'v',
  name: 'Hill',
  start: frameStart(i * 30, rate),
  length: frameStart(30, rate),
  from: frameStart(i * 10, rate),
  fit: 'fill',
  backdrop: 'blur',
  level: 0,
}));
piece.tracks[0]?.clips.push(...clips);

/** Times one edit on a piece of 2 000 clips, in ms. */
function time<N extends EditName>(name: N, params: (i: number) => EditParams<N>): number[] {
  return Array.from({ length: 60 }, (_, i) => {
    const wanted = params(i);
    const began = performance.now();
    applyEdit(piece, randomUUID(), name, wanted);
    return performance.now() - began;
  }).slice(10);
}

console.log(`\nOne edit on a piece of 2 000 clips (${machine()})`);
const F = frameLength(rate);
const cases: [string, number[]][] = [
  ['split', time('split', (i) => ({ clips: [`c${900 + i}`], at: frameStart((900 + i) * 30 + 9, rate) }))],
  [
    'trim, nothing else moves',
    time('trim', (i) => ({ clip: `c${900 + i}`, edge: 'head', to: frameStart((900 + i) * 30, rate) + F, rest: 'stay' })),
  ],
  [
    'trim, 1 100 clips follow',
    time('trim', (i) => ({ clip: `c${900 + i}`, edge: 'tail', to: frameStart((901 + i) * 30, rate) - F, rest: 'follow' })),
  ],
  ['delete the first, 1 999 close up', time('remove', () => ({ clips: ['c0'], rest: 'close' }))],
];
for (const [name, values] of cases)
  row(name, `${median(values).toFixed(2)} / ${percentile(values, 0.95).toFixed(2)} ms`, 'median / 95 %, bar 5 ms median');
