import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { chromium } from '@playwright/test';
import type { MediaItem } from '@flimzy/contract';
import { PLAIN_TEXT } from '@flimzy/core/frame';
import { OVERLAY, type MediaFacts } from '@flimzy/core/piece';
import { CHROMIUM_ARGS } from '../e2e/chromium';
import { machine, row } from './figures';
import { add, layeredOn } from './layered';
import { servedDemo } from './served';
import { openUnwatched } from './unwatched';

/**
 * What a page holds while someone goes to and fro in a piece with much in it. Rounds of scrubbing, 200 frames and a stretch of playing each;
 * of the piece with most in it 250 are about an hour.
 */
const ROUNDS = Number(process.env.ROUNDS ?? 6);

const served = await servedDemo();
const { server, data, api, upload, close } = served;
const pieceOf = layeredOn(served);

async function bringIn(file: string, name: string): Promise<MediaFacts> {
  const id = await upload(file, name);
  for (;;) {
    const item = await api<MediaItem>('GET', `/api/media/${id}`);
    if (item.status === 'ready' && item.facts) return item.facts;
    if (item.status === 'failed') throw new Error(item.error ?? 'it failed');
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

/**
 * MB of main memory that a process holds for itself, and those of its memory that is shared: without a GPU Chromium keeps there what it drew
 * of video frames, up to 512 MB, until memory is short (a bare page that draws 300 frames and closes each fills it as well).
 */
function held(pid: number): { own: number; shared: number } {
  const said = readFileSync(`/proc/${pid}/smaps_rollup`, 'utf8');
  const mb = (name: string) => Number(new RegExp(`^${name}:\\s+(\\d+)`, 'm').exec(said)?.[1] ?? NaN) / 1024;
  return { own: mb('Pss_Anon') + mb('Pss_File'), shared: mb('Pss_Shmem') };
}

async function measure(name: string, id: string, frames: number, rounds: number): Promise<void> {
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: [...CHROMIUM_ARGS, '--autoplay-policy=no-user-gesture-required'],
  });
  try {
    const { run, said } = await openUnwatched(
      browser,
      `${server.address}/piece/${id}`,
      { width: 390, height: 844, deviceScaleFactor: 2, mobile: false },
      () => localStorage.setItem('flimzy.gestures-seen', 'yes'),
    );
    const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
    const there = (which: string) => run((selector) => document.querySelector(selector) !== null, which);
    while (!(await there('[data-testid="picture"]').catch(() => false))) await wait(200);
    await wait(3000);
    // Playing goes on from where it was stopped, through all of the piece in time; at its end it has stopped by itself.
    const touchPlay = (playing: boolean) =>
      run((wanted) => {
        const { flimzyPreview: engine } = globalThis as unknown as { flimzyPreview: { now(): number | null } };
        if ((engine.now() !== null) !== wanted) document.querySelector<HTMLElement>('[data-testid="play"]')?.click();
      }, playing);
    const cdp = await browser.newBrowserCDPSession();
    const { processInfo } = await cdp.send('SystemInfo.getProcessInfo');
    const renderer = processInfo.filter(({ type }) => type === 'renderer').sort((a, b) => held(b.id).own - held(a.id).own)[0];
    if (!renderer) throw new Error('no page');
    const seen = [held(renderer.id)];
    for (let round = 0; round < rounds; round += 1) {
      await run(
        async ([count, begin]) => {
          const { flimzyPreview: engine } = globalThis as unknown as {
            flimzyPreview: { show(time: number): void; onceShown: ((time: number) => void) | null };
          };
          for (let i = 0; i < 200; i += 1) {
            const time = (((begin + i) * 7919) % count) * 23_520_000;
            await new Promise<void>((resolve) => {
              engine.onceShown = (shown) => shown === time && resolve();
              engine.show(time);
            });
          }
          engine.onceShown = null;
        },
        [frames, round * 200] as const,
      );
      await touchPlay(true);
      await wait(4000);
      await touchPlay(false);
      seen.push(held(renderer.id));
    }
    const most = Math.max(...seen.map(({ own }) => own));
    row(`${name}: MB of the page, opened / at most`, `${seen[0]?.own.toFixed(0)} / ${most.toFixed(0)}`, 'bar 600');
    row(
      '  after each round',
      seen
        .slice(1)
        .map(({ own }) => own.toFixed(0))
        .join(' '),
    );
    row('  drawn frames that the browser keeps besides', `${seen.at(-1)?.shared.toFixed(0)}`);
    row('  frames left open', String(said.filter((one) => /garbage collected without being closed/.test(one)).length), 'bar 0');
  } finally {
    await browser.close();
  }
}

console.log(`\nMemory of the page (${machine()})`);
try {
  const items = await api<MediaItem[]>('GET', '/api/media');
  const videos = items.flatMap(({ facts }) => (facts?.kind === 'video' ? [facts] : []));
  const video = (i: number) => videos[i % videos.length] as MediaFacts;
  const many = await pieceOf('Three hundred clips', ([main]) =>
    Array.from({ length: 300 }, (_, i) => add(main, video(i), i * 30, 30, {}, (i * 7) % 60)),
  );
  await measure('300 clips', many, 300 * 30, 6);

  const photos: MediaFacts[] = [];
  for (let i = 0; i < 100; i += 1) {
    const file = path.join(data, `photo-${i}.jpg`);
    const scene = `gradients=size=4000x3000:nb_colors=6:seed=${i + 1}`;
    execFileSync('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', scene, '-frames:v', '1', '-q:v', '3', file]);
    photos.push(await bringIn(file, `Photo ${i}.jpg`));
  }
  const layered = await pieceOf('Three layers', ([main, second, third]) => [
    ...Array.from({ length: 25 }, (_, i) => add(main, video(i), i * 120, 120, {}, 0)),
    ...photos.map((photo, i) => add(second, photo, i * 30, 30, { scale: 0.5, turn: i % 9, opacity: 0.9 })),
    ...Array.from({ length: 40 }, (_, i) =>
      add(third, OVERLAY, i * 75, 60, { overlay: { parts: [{ ...PLAIN_TEXT, text: `Hill number ${i}` }] } }),
    ),
  ]);
  await measure('40 titles, 100 photos of 12 megapixels, 3 layers', layered, 3000, ROUNDS);
} finally {
  await close();
}
