import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import { randomUUID } from 'node:crypto';
import path from 'node:path';
import type { MediaItem, OpenedPiece, PieceSummary } from '@flimzy/contract';
import type { EditParams } from '@flimzy/core/edits';
import { frameLength, frameStart } from '@flimzy/core/time';
import { CODEC, exportOnce, forgetSegments } from './exporting';
import { machine, median, row } from './figures';
import { servedDemo } from './served';

const RATE = { num: 30, den: 1 };
const FORMAT = { width: 1080, height: 1920, rate: RATE };
const CLIPS = 20;
const FRAMES = 45;
const ROUNDS = 3;

const served = await servedDemo();
const { data, api, close } = served;

type Stretch = { media: string; from: number; fit: EditParams<'add'>['fit']; backdrop: EditParams<'add'>['backdrop'] };

async function makePiece(name: string, stretches: readonly Stretch[]): Promise<string> {
  const { id } = await api<PieceSummary>('POST', '/api/pieces', { name, format: FORMAT });
  const requests = [];
  for (const { media, from, fit, backdrop } of stretches) {
    const { facts } = await api<MediaItem>('GET', `/api/media/${media}`);
    if (!facts) throw new Error(`${media} is not ready`);
    const params = { track: 'main', media: facts, at: null, from: frameStart(from, RATE), length: frameStart(FRAMES, RATE), fit, backdrop };
    requests.push({ kind: 'do', id: randomUUID(), name: 'add', params });
  }
  await api('POST', `/api/pieces/${id}/edits`, { since: 0, requests });
  return id;
}

/** ffmpeg alone on the same stretches, with the same codec settings: one command, as fast as it can. */
async function ffmpegAlone(stretches: readonly Stretch[]): Promise<number> {
  const target = path.join(data, 'alone.mp4');
  const seconds = (frames: number) => (frames / 30).toFixed(6);
  const inputs = stretches.flatMap(({ media, from }) => [
    ...['-ss', seconds(from), '-t', seconds(FRAMES), '-i', path.join(data, 'media', media, 'original')],
  ]);
  const chains = stretches.map(({ fit }, i) => {
    const size = `${FORMAT.width}:${FORMAT.height}`;
    const shape =
      fit === 'fill'
        ? `scale=${size}:force_original_aspect_ratio=increase,crop=${size}`
        : `scale=${size}:force_original_aspect_ratio=decrease,pad=${size}:-1:-1`;
    return `[${i}:v]fps=30,${shape},setsar=1,format=yuv420p[v${i}];[${i}:a]aresample=48000,aformat=channel_layouts=stereo[a${i}]`;
  });
  const joined = `${stretches.map((_, i) => `[v${i}][a${i}]`).join('')}concat=n=${stretches.length}:v=1:a=1[v][a]`;
  const began = performance.now();
  await promisify(execFile)('ffmpeg', [
    ...['-v', 'error', '-y', ...inputs, '-filter_complex', [...chains, joined].join(';'), '-map', '[v]', '-map', '[a]'],
    ...[...CODEC, '-movflags', '+faststart', target],
  ]);
  return (performance.now() - began) / 1000;
}

console.log(`\nExport, ${CLIPS} clips of ${FRAMES} frames, ${FORMAT.width}×${FORMAT.height} at 30 fps (${machine()})`);
const cuts: Stretch[] = Array.from({ length: CLIPS }, (_, i) => ({
  media: ['demo-hilltop', 'demo-beach-run'][i % 2] ?? '',
  from: (i * 7) % 120,
  fit: 'fill',
  backdrop: 'black',
}));
const redrawn: Stretch[] = cuts.map((c, i) => ({
  ...c,
  media: ['demo-talk-front', 'demo-spars'][i % 2] ?? '',
  fit: 'fit',
  backdrop: 'blur',
}));

try {
  const firsts: number[] = [];
  for (const [name, stretches, bar] of [
    ['cuts only', cuts, 'bar 1.15'],
    ['everything redrawn: landscape over its own blur', redrawn, 'to be said'],
  ] as const) {
    const piece = await makePiece(name, stretches);
    const ours: number[] = [];
    const theirs: number[] = [];
    for (let round = 0; round < ROUNDS; round += 1) {
      forgetSegments(served);
      theirs.push(await ffmpegAlone(stretches));
      ours.push(await exportOnce(served, piece));
    }
    if (stretches === cuts) firsts.push(...ours);
    row(`${name}: ours / ffmpeg alone`, (median(ours) / median(theirs)).toFixed(2), bar);
    row('  seconds, median of three: ours, ffmpeg', `${median(ours).toFixed(1)}, ${median(theirs).toFixed(1)}`);
  }
  const piece = await makePiece('again', cuts);
  forgetSegments(served);
  await exportOnce(served, piece);
  const again: number[] = [];
  for (let round = 0; round < ROUNDS; round += 1) {
    const { piece: document, revision } = await api<OpenedPiece>('GET', `/api/pieces/${piece}`);
    const clip = document.tracks[0]?.clips[5 + round];
    if (!clip) throw new Error('the clip is gone');
    const params = { clip: clip.id, edge: 'tail', to: clip.start + clip.length - 5 * frameLength(RATE), rest: 'follow' };
    const requests = [{ kind: 'do', id: randomUUID(), name: 'trim', params }];
    await api('POST', `/api/pieces/${piece}/edits`, { since: revision, requests });
    again.push(await exportOnce(served, piece));
  }
  row('again after one clip of twenty changed / first export', (median(again) / median(firsts)).toFixed(2), 'bar 0.20');
} finally {
  await close();
}
