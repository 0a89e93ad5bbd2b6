import { chromium } from '@playwright/test';
import type { MediaItem } from '@flimzy/contract';
import { PLAIN_TEXT } from '@flimzy/core/frame';
import { OVERLAY } from '@flimzy/core/piece';
import { frameStart } from '@flimzy/core/time';
import { CHROMIUM_ARGS } from '../e2e/chromium';
import { machine, median, percentile, row } from './figures';
import { add, layeredOn } from './layered';
import { servedDemo } from './served';

const RATE = { num: 30, den: 1 };

/** What the page shows of its preview to whoever measures it. */
interface Measured {
  show(time: number): void;
  onceShown: ((time: number) => void) | null;
  figures: { due: number; shown: number; late: number; underruns: number };
}

const served = await servedDemo();
const { server, api, close } = served;
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: [...CHROMIUM_ARGS, '--autoplay-policy=no-user-gesture-required'],
});
/** Ten seconds of three layers: video that fills the frame, another, smaller, with a look, and a title that comes in by letters. */
async function threeLayers(): Promise<string> {
  const items = await api<MediaItem[]>('GET', '/api/media');
  const [under, over] = items.flatMap(({ facts }) => (facts?.kind === 'video' && facts.length >= frameStart(300, RATE) ? [facts] : []));
  if (!under || !over) throw new Error('the demo has no two clips of ten seconds');
  const effects = [{ kind: 'look', look: 'kiln', strength: 0.9 }];
  const overlay = { parts: [{ ...PLAIN_TEXT, text: 'Over the hill' }] };
  return layeredOn(served)('Three layers', ([main, second, third]) => [
    add(main, under, 0, 300, {}, 0, { fit: 'fill' }),
    add(second, over, 0, 300, { scale: 0.5, x: 0.2, y: -0.2, effects }, 0, { backdrop: 'black' }),
    add(third, OVERLAY, 0, 300, { overlay }),
  ]);
}

console.log(`\nPreview in headless Chromium, software only (${machine()})`);
try {
  const page = await browser.newPage({ viewport: { width: 390, height: 844 }, deviceScaleFactor: 2, hasTouch: true });
  for (const [name, piece, seconds] of [
    ['vertical piece', 'demo-first-flight', 19],
    ['landscape piece', 'demo-bench-talk', 17],
    ['three layers, a look, a title', await threeLayers(), 10],
  ] as const) {
    await page.goto(`${server.address}/piece/${piece}`);
    await page.getByTestId('picture').waitFor();
    await page.waitForTimeout(2500);
    const scrub = async (times: number[]) =>
      page.evaluate(async (wanted) => {
        const { flimzyPreview: engine } = globalThis as unknown as { flimzyPreview: Measured };
        const took: number[] = [];
        for (const time of wanted) {
          const began = performance.now();
          await new Promise<void>((resolve) => {
            engine.onceShown = (shown) => shown === time && resolve();
            engine.show(time);
          });
          took.push(performance.now() - began);
        }
        engine.onceShown = null;
        return took;
      }, times);
    const frame = piece === 'demo-bench-talk' ? 28_224_000 : 23_520_000;
    const count = Math.floor((seconds * 705_600_000) / frame);
    const random = await scrub(Array.from({ length: 200 }, (_, i) => ((i * 7919) % count) * frame));
    row(
      `${name}: random frame, ms, median / 95 %`,
      `${median(random).toFixed(0)} / ${percentile(random, 0.95).toFixed(0)}`,
      'bar 60 / 150',
    );
    const onward = await scrub(Array.from({ length: 150 }, (_, i) => (60 + i) * frame));
    row(`${name}: frame after frame, ms, median / 95 %`, `${median(onward).toFixed(0)} / ${percentile(onward, 0.95).toFixed(0)}`);
    await page.evaluate(() => (globalThis as unknown as { flimzyPreview: Measured }).flimzyPreview.show(0));
    await page.getByTestId('clock').fill('0');
    await page.getByTestId('clock').press('Enter');
    await page.getByTestId('play').tap();
    await page.getByRole('button', { name: 'Pause' }).waitFor();
    await page.getByRole('button', { name: 'Play', exact: true }).waitFor({ timeout: 60_000 });
    await page.waitForTimeout(300);
    const { due, shown, late, underruns } = await page.evaluate(
      () => (globalThis as unknown as { flimzyPreview: Measured }).flimzyPreview.figures,
    );
    row(`${name}: played through, frames due / shown`, `${due} / ${shown}`);
    row(`${name}: frames late`, `${((100 * late) / Math.max(1, due)).toFixed(1)} %`, 'bar 1 %');
    row(`${name}: sound underruns`, String(underruns), 'bar 0');
  }
} finally {
  await browser.close();
  await close();
}
