import { randomUUID } from 'node:crypto';
import { chromium } from '@playwright/test';
import type { MediaItem, PieceSummary } from '@flimzy/contract';
import { UNDER } from '@flimzy/core/properties';
import { frameStart } from '@flimzy/core/time';
import { CHROMIUM_ARGS } from '../e2e/chromium';
import { machine, row } from './figures';
import { servedDemo } from './served';

const RATE = { num: 30, den: 1 };
/** Thirty clips of twenty seconds, with music under all of it: ten minutes. */
const CLIPS = 30;
const FRAMES = 595;

const { server, api, close } = await servedDemo();
console.log(`\nTen minutes played with all meters on (${machine()})`);
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: [...CHROMIUM_ARGS, '--autoplay-policy=no-user-gesture-required'],
});
try {
  const { id } = await api<PieceSummary>('POST', '/api/pieces', { name: 'Long', format: { width: 540, height: 960, rate: RATE } });
  const facts = async (item: string) => (await api<MediaItem>('GET', `/api/media/${item}`)).facts;
  const [talk, music] = [await facts('demo-talk-front'), await facts('demo-up-she-goes')];
  const each = frameStart(FRAMES, RATE);
  const tune = Math.floor((music?.length ?? 0) / frameStart(1, RATE));
  const adds = [
    ...Array.from({ length: CLIPS }, () => ({ track: 'main', media: talk, at: null, from: 0, length: each })),
    ...Array.from({ length: Math.floor((CLIPS * FRAMES) / tune) }, () => ({
      track: 'sound-1',
      media: music,
      at: null,
      from: 0,
      length: frameStart(tune, RATE),
    })),
  ];
  const requests = [
    ...adds.map((params) => ({ name: 'add', params })),
    { name: 'setTrack', params: { track: 'sound-1', set: { under: UNDER } } },
  ];
  await api('POST', `/api/pieces/${id}/edits`, {
    since: 0,
    requests: requests.map((one) => ({ kind: 'do', id: randomUUID(), ...one })),
  });
  const page = await browser.newPage({ viewport: { width: 390, height: 844 }, deviceScaleFactor: 2, hasTouch: true });
  await page.addInitScript(() => localStorage.setItem('flimzy.gestures-seen', 'yes'));
  await page.goto(`${server.address}/piece/${id}`);
  await page.getByTestId('picture').waitFor();
  await page.waitForTimeout(2500);
  await page.keyboard.press('u');
  await page.getByTestId('faders').waitFor();
  const began = performance.now();
  await page.getByTestId('play').tap();
  await page.getByRole('button', { name: 'Pause' }).waitFor();
  await page.getByRole('button', { name: 'Play', exact: true }).waitFor({ timeout: 900_000 });
  const seconds = (performance.now() - began) / 1000;
  await page.waitForTimeout(300);
  const { due, late, underruns } = await page.evaluate(
    () => (globalThis as unknown as { flimzyPreview: { figures: Record<'due' | 'late' | 'underruns', number> } }).flimzyPreview.figures,
  );
  row('played, and how long that took, s', `${((CLIPS * FRAMES) / 30).toFixed(0)} / ${seconds.toFixed(0)}`);
  row('frames late', `${((100 * late) / Math.max(1, due)).toFixed(1)} %`, 'bar 1 %');
  row('sound underruns', String(underruns), 'bar 0');
} finally {
  await browser.close();
  await close();
}
