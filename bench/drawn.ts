import { execFile } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { promisify } from 'node:util';
import type { Delivery, MediaItem, PieceSummary } from '@flimzy/contract';
import { cubeFile } from '@flimzy/core/formats';
import { PLAIN_TEXT } from '@flimzy/core/frame';
import { OVERLAY } from '@flimzy/core/piece';
import { Transition, type Effect, type PropertyValues } from '@flimzy/core/properties';
import { frameStart } from '@flimzy/core/time';
import { ROOT } from '../e2e/serving';
import { CODEC, exportOnce, forgetSegments } from './exporting';
import { machine, median, row } from './figures';
import { servedDemo } from './served';

/** Exports that are drawn, each against one ffmpeg with a filter graph that does the same job on the same stretch, sound included. */
const RATE = { num: 30, den: 1 };
const FORMAT = { width: 1080, height: 1920, rate: RATE };
const FRAMES = 210;
const FROM = 30;
const LATER = 180;
const ROUNDS = 3;
const FONT = path.join(ROOT, 'apps/server/dist/fonts/poster-bold.ttf');
const LOOK: Effect[] = [{ kind: 'look', look: 'evening', strength: 0.8 }];

const served = await servedDemo();
const { data, api, close } = served;
const cube = path.join(data, 'look.cube');
writeFileSync(cube, cubeFile(LOOK, 'look'));

const size = `${FORMAT.width}:${FORMAT.height}`;
const fill = `scale=${size}:force_original_aspect_ratio=increase,crop=${size},setsar=1`;
const words = `drawtext=fontfile=${FONT}:text='Wind from the west':fontsize=112:fontcolor=white:x=(w-tw)/2:y=(h-th)/2`;
const title: PropertyValues = {
  overlay: { parts: [{ ...PLAIN_TEXT, text: 'Wind from the west', font: 'poster', size: 112 / 1080, width: 1, shadow: null }] },
};
/** Two stretches one after the other by one of ffmpeg's ways. */
const between = (way: string) => `[0:v]fps=30,${fill}[a];[1:v]fps=30,${fill}[b];[a][b]xfade=transition=${way}:duration=6:offset=0.5[v]`;
const slow = { kind: 'rise', length: frameStart(FRAMES, RATE), by: 'whole', direction: 'up' } as const;

interface Scene {
  name: string;
  bar: string;
  media: string;
  fit: 'fit' | 'fill';
  clip?: PropertyValues;
  /** How it goes over into more of the same material, from `LATER` on, in the middle; `length` in frames. */
  over?: Partial<Transition> & { length: number };
  /** Another picture over it all, as it is laid there. */
  beside?: { media: string; values: PropertyValues };
  title?: PropertyValues;
  /** The same by one ffmpeg, from [0:v], and [1:v] where it goes over, to [v]. */
  graph: string;
}

const SCENES: Scene[] = [
  {
    name: 'a title that stands still',
    bar: 'bar 1.3',
    media: 'demo-hilltop',
    fit: 'fill',
    title,
    graph: `[0:v]fps=30,${fill},${words}[v]`,
  },
  {
    name: 'a title that moves and comes up all the time',
    bar: 'bar 1.5',
    media: 'demo-hilltop',
    fit: 'fill',
    title: { ...title, motionIn: slow },
    graph: `[0:v]fps=30,${fill},${words}+h*0.05*(1-t/7):alpha=min(1\\,t/5)[v]`,
  },
  {
    name: 'landscape over its own blur',
    bar: 'bar 1.2',
    media: 'demo-talk-front',
    fit: 'fit',
    graph: `[0:v]fps=30,split[a][b];[a]${fill},scale=48:86,boxblur=2:2,scale=${size}:flags=bilinear,eq=brightness=-0.2[under];[b]scale=${FORMAT.width}:-2[over];[under][over]overlay=0:(H-h)/2[v]`,
  },
  {
    name: 'a look',
    bar: 'bar 1.0',
    media: 'demo-hilltop',
    fit: 'fill',
    clip: { effects: LOOK },
    graph: `[0:v]fps=30,${fill},lut3d=${cube}:interp=tetrahedral[v]`,
  },
  {
    name: 'a dissolve',
    bar: 'bar 1.0',
    media: 'demo-hilltop',
    fit: 'fill',
    over: { kind: 'dissolve', length: 180 },
    graph: between('fade'),
  },
  {
    name: 'a soft wipe',
    bar: 'bar 1.0',
    media: 'demo-hilltop',
    fit: 'fill',
    over: { kind: 'wipe', direction: 'left', soft: 0.3, length: 180 },
    graph: between('smoothleft'),
  },
  {
    name: 'a push',
    bar: '',
    media: 'demo-hilltop',
    fit: 'fill',
    over: { kind: 'push', direction: 'left', length: 180 },
    graph: between('slideleft'),
  },
  {
    name: 'closer all the time',
    bar: '',
    media: 'demo-hilltop',
    fit: 'fill',
    clip: {
      scale: { keys: [0, FRAMES].map((n) => ({ at: frameStart(FROM + n, RATE), value: 1 + n / FRAMES / 2, ease: 'even' as const })) },
    },
    graph: `[0:v]fps=30,${fill},scale=w='2*trunc(iw*(1+t/14)/2)':h=-2:eval=frame:flags=bilinear,crop=${size}[v]`,
  },
  {
    name: 'a picture in the picture under a title',
    bar: 'bar 1.3',
    media: 'demo-hilltop',
    fit: 'fill',
    title,
    beside: { media: 'demo-talk-front', values: { scale: 0.5, x: 0.2, y: -0.3 } },
    graph: `[0:v]fps=30,${fill}[a];[1:v]fps=30,scale=540:-2,setsar=1[b];[a][b]overlay=(W-w)/2+216:(H-h)/2-576,${words}[v]`,
  },
];

async function makePiece({ name, media, fit, clip = {}, title: words, over, beside }: Scene): Promise<string> {
  const { id } = await api<PieceSummary>('POST', '/api/pieces', { name, format: FORMAT });
  const facts = async (of: string) => (await api<MediaItem>('GET', `/api/media/${of}`)).facts;
  const length = frameStart(FRAMES, RATE);
  const own = await facts(media);
  const added = (from: number, frames: number, values: PropertyValues) => ({
    name: 'add',
    params: {
      ...{ track: 'main', media: own, at: null, from: frameStart(from, RATE), length: frameStart(frames, RATE) },
      ...{ fit, backdrop: 'blur', values },
    },
  });
  const edits: { name: string; params: unknown }[] = over
    ? [
        added(FROM, FRAMES / 2, clip),
        added(LATER, FRAMES / 2, { ...clip, transition: Transition.parse({ ...over, length: frameStart(over.length, RATE) }) }),
      ]
    : [added(FROM, FRAMES, clip)];
  const above = { track: null, at: 0, from: 0, length };
  if (beside) {
    const params = { ...above, media: await facts(beside.media), fit: 'fit', backdrop: 'black', values: beside.values };
    edits.push({ name: 'add', params });
  }
  if (words) edits.push({ name: 'add', params: { ...above, media: OVERLAY, values: words } });
  const requests = edits.map((edit) => ({ kind: 'do', id: randomUUID(), ...edit }));
  await api('POST', `/api/pieces/${id}/edits`, { since: 0, requests });
  return id;
}

/** Exports all of it anew. */
async function exportAnew(piece: string): Promise<number> {
  forgetSegments(served);
  for (const old of await api<Delivery[]>('GET', `/api/deliveries?piece=${piece}`)) await api('DELETE', `/api/deliveries/${old.id}`);
  return exportOnce(served, piece);
}

async function ffmpegAlone({ media, graph, over, beside }: Scene): Promise<number> {
  const input = (of: string, from: number, frames: number) => [
    ...['-ss', String(from / 30), '-t', String(frames / 30)],
    ...['-i', path.join(data, 'media', of, 'original')],
  ];
  const frames = over ? (FRAMES + over.length) / 2 : FRAMES;
  const inputs = input(media, FROM, frames);
  if (over) inputs.push(...input(media, LATER - over.length / 2, frames));
  if (beside) inputs.push(...input(beside.media, 0, FRAMES));
  const began = performance.now();
  await promisify(execFile)('ffmpeg', [
    ...['-v', 'error', '-y', ...inputs, '-filter_complex', graph, '-map', '[v]', '-map', '0:a?'],
    ...[...CODEC, '-movflags', '+faststart', path.join(data, 'alone.mp4')],
  ]);
  return (performance.now() - began) / 1000;
}

console.log(`\nDrawn exports, ${FRAMES} frames, ${FORMAT.width}×${FORMAT.height} at 30 fps (${machine()})`);
// Only those whose names begin so, where any are given.
const wanted = process.argv.slice(2);
try {
  for (const scene of SCENES.filter(({ name }) => wanted.length === 0 || wanted.some((begin) => name.startsWith(begin)))) {
    const piece = await makePiece(scene);
    const [ours, theirs]: [number[], number[]] = [[], []];
    for (let round = 0; round < ROUNDS; round += 1) {
      theirs.push(await ffmpegAlone(scene));
      ours.push(await exportAnew(piece));
    }
    row(`${scene.name}: ours / ffmpeg alone`, (median(ours) / median(theirs)).toFixed(2), scene.bar);
    row('  seconds, median of three: ours, ffmpeg', `${median(ours).toFixed(1)}, ${median(theirs).toFixed(1)}`);
  }
} finally {
  await close();
}
