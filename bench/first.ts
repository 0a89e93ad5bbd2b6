import { execFileSync } from 'node:child_process';
import { statSync } from 'node:fs';
import path from 'node:path';
import { chromium } from '@playwright/test';
import type { MediaItem } from '@flimzy/contract';
import { CHROMIUM_ARGS } from '../e2e/chromium';
import { machine, median, percentile, row } from './figures';
import { servedDemo } from './served';

/** How long the clips are that are brought in: as phones film them, 1080 × 1920, 30 frames a second, about 15 Mbit/s. */
const SECONDS = 60;
const AS_FILMED = [['-stream_loop', '-1', '-i', 'demo/media/hilltop.mp4'], 'scale=1080:1920,noise=alls=3:allf=t'] as const;

const { server, data, api, upload, close } = await servedDemo();
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: CHROMIUM_ARGS });

/** From touching a piece's name in the list to its first decoded frame, ms; each time in a new browser profile, the app loaded. */
async function firstPictures(piece: string, times: number): Promise<{ decoded: number[]; standing: number[] }> {
  const decoded: number[] = [];
  const standing: number[] = [];
  for (let i = 0; i < times; i += 1) {
    const page = await browser.newPage({ viewport: { width: 390, height: 844 }, deviceScaleFactor: 2, hasTouch: true });
    await page.addInitScript(() => localStorage.setItem('flimzy.gestures-seen', 'yes'));
    await page.addInitScript('globalThis.__name = (f) => f'); // what the compiler of this file leaves in functions
    await page.goto(server.address);
    await page.getByTestId(`piece-${piece}`).waitFor();
    await page.waitForTimeout(1500); // as long as a person takes to choose
    const took = await page.evaluate(async (id) => {
      const began = performance.now();
      document.querySelector<HTMLElement>(`[data-testid="piece-${id}"] [role="link"]`)?.click();
      const until = (there: () => boolean) =>
        new Promise<number>((resolve) => {
          const look = () => (there() ? resolve(performance.now() - began) : requestAnimationFrame(look));
          look();
        });
      const picture = () => document.querySelector('[data-testid="picture"]') !== null;
      const standsIn = () => document.querySelector('[data-testid="stand-in"]') !== null;
      const stood = await until(() => standsIn() || picture());
      return { stood, shown: await until(() => picture() && !standsIn()) };
    }, piece);
    decoded.push(took.shown);
    standing.push(took.stood);
    await page.close();
  }
  return { decoded, standing };
}

/** Makes a clip of some picture, with sound. */
function filmed(seconds: number, input: readonly string[], filter: string): string {
  const clip = path.join(data, 'filmed.mp4');
  const much = ['-preset', 'superfast', '-b:v', '15M', '-maxrate', '18M', '-bufsize', '30M', '-pix_fmt', 'yuv420p'];
  execFileSync('ffmpeg', [
    ...['-v', 'error', '-y', ...input, '-f', 'lavfi', '-i', 'anoisesrc=color=pink:amplitude=0.2:sample_rate=48000'],
    ...['-map', '0:v', '-map', '1:a', '-vf', filter, '-r', '30', '-t', String(seconds), '-c:v', 'libx264', ...much, '-c:a', 'aac', clip],
  ]);
  return clip;
}

/** Brings in several clips of ten seconds, one after the other, and says how long after the last until all can be used. */
async function several(count: number): Promise<void> {
  const clip = filmed(10, ...AS_FILMED);
  const ids: string[] = [];
  for (let n = 0; n < count; n += 1) ids.push(await upload(clip, `${n}.mp4`));
  const arrived = Date.now();
  const usable = new Set<string>();
  while (usable.size < count) {
    for (const { id, usable: can } of await api<MediaItem[]>('GET', '/api/media')) if (can && ids.includes(id)) usable.add(id);
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  row(`${count} clips of 10 s brought in together: all can be used after, s`, ((Date.now() - arrived) / 1000).toFixed(1));
}

/** Brings in a minute of some picture and says how long until it is seen, and can be used. */
async function minute(name: string, input: readonly string[], filter: string, bar = ''): Promise<void> {
  const clip = filmed(SECONDS, input, filter);
  const decoding = Date.now();
  execFileSync('ffmpeg', ['-v', 'error', '-i', clip, '-map', '0:v', '-f', 'null', '-']);
  const alone = (Date.now() - decoding) / 1000;
  await new Promise((resolve) => setTimeout(resolve, 100)); // connections that were closed meanwhile are heard of
  const id = await upload(clip, 'minute.mp4');
  const arrived = Date.now();
  const since = () => (Date.now() - arrived) / 1000;
  let seen: number | null = null;
  for (;;) {
    const item = await api<MediaItem>('GET', `/api/media/${id}`);
    if (item.facts && item.filmstrip) seen ??= since();
    if (item.usable) break;
    if (item.status === 'failed') throw new Error(item.error ?? 'it failed');
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  const took = since();
  const size = `${((statSync(clip).size * 8) / SECONDS / 1e6).toFixed(0)} Mbit/s`;
  row(`a minute of 1080 × 1920, ${name}, ${size}: its picture and facts after, s`, (seen ?? took).toFixed(1), 'bar 1');
  row('  can be used after, s', took.toFixed(1), bar);
  row('  as times real time; ffmpeg decoding it alone', `${(SECONDS / took).toFixed(1)} ×; ${(SECONDS / alone).toFixed(1)} ×`);
}

console.log(`\nFirst touch (${machine()})`);
try {
  const { decoded, standing } = await firstPictures('demo-first-flight', 10);
  row('from touching a piece to its picture, coarse, ms', `${median(standing).toFixed(0)} / ${percentile(standing, 0.95).toFixed(0)}`);
  row(
    'from touching a piece to its first decoded frame, ms',
    `${median(decoded).toFixed(0)} / ${percentile(decoded, 0.95).toFixed(0)}`,
    'bar 700 median',
  );

  await several(10);
  await minute('as filmed', ...AS_FILMED, 'bar 15');
  await minute(
    'nothing but grain',
    ['-f', 'lavfi', '-i', 'gradients=size=1080x1920:rate=30:speed=0.01:nb_colors=5'],
    'noise=alls=4:allf=t',
  );
} finally {
  await browser.close();
  await close();
}
