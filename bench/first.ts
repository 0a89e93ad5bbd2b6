import { execFileSync } from 'node:child_process';
import { readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import { chromium } from '@playwright/test';
import { OURS_HEADER, UPLOADS_URL, type MediaItem } from '@flimzy/contract';
import { CHROMIUM_ARGS } from '../e2e/chromium';
import { machine, median, percentile, row } from './figures';
import { servedDemo } from './served';

/** A minute as phones film it: 1080 × 1920, 30 frames a second, about 15 Mbit/s, a little grain, sound. */
const SECONDS = 60;

const { server, data, close } = await servedDemo();
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

console.log(`\nFirst touch (${machine()})`);
try {
  const { decoded, standing } = await firstPictures('demo-first-flight', 10);
  row('from touching a piece to its picture, coarse, ms', `${median(standing).toFixed(0)} / ${percentile(standing, 0.95).toFixed(0)}`);
  row(
    'from touching a piece to its first decoded frame, ms',
    `${median(decoded).toFixed(0)} / ${percentile(decoded, 0.95).toFixed(0)}`,
    'bar 700 median',
  );

  const clip = path.join(data, 'minute.mp4');
  const scene = 'gradients=size=1080x1920:rate=30:speed=0.01:nb_colors=5,noise=alls=4:allf=t';
  const made = [
    '-c:v',
    'libx264',
    '-preset',
    'superfast',
    '-b:v',
    '15M',
    '-maxrate',
    '18M',
    '-bufsize',
    '30M',
    '-pix_fmt',
    'yuv420p',
    '-c:a',
    'aac',
  ];
  execFileSync('ffmpeg', [
    ...['-v', 'error', '-f', 'lavfi', '-i', scene, '-f', 'lavfi', '-i', 'anoisesrc=color=pink:amplitude=0.2:sample_rate=48000'],
    ...['-t', String(SECONDS), ...made, clip],
  ]);
  const decoding = Date.now();
  execFileSync('ffmpeg', ['-v', 'error', '-i', clip, '-map', '0:v', '-f', 'null', '-']);
  const decoded1 = (Date.now() - decoding) / 1000;
  const headers = { 'tus-resumable': '1.0.0', [OURS_HEADER]: '1' };
  const upload = await fetch(server.address + UPLOADS_URL, {
    method: 'POST',
    headers: { ...headers, 'upload-length': String(statSync(clip).size), 'upload-metadata': `filename ${btoa('minute.mp4')}` },
  });
  const place = upload.headers.get('location') ?? '';
  await fetch(new URL(place, server.address), {
    method: 'PATCH',
    headers: { ...headers, 'upload-offset': '0', 'content-type': 'application/offset+octet-stream' },
    body: readFileSync(clip),
  });
  const arrived = Date.now();
  for (;;) {
    const item = (await (await fetch(`${server.address}/api/media/${place.split('/').at(-1)}`)).json()) as MediaItem;
    if (item.status === 'ready') break;
    if (item.status === 'failed') throw new Error(item.error ?? 'it failed');
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  const took = (Date.now() - arrived) / 1000;
  row('a minute of 1080 × 1920 at 15 Mbit/s can be used after, s', took.toFixed(1), 'bar 15');
  row('  as times real time; ffmpeg decoding it alone', `${(SECONDS / took).toFixed(1)} ×; ${(SECONDS / decoded1).toFixed(1)} ×`);
} finally {
  await browser.close();
  await close();
}
