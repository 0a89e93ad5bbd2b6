import { chromium } from '@playwright/test';
import { CHROMIUM_ARGS } from '../e2e/chromium';
import { machine, median, percentile, row } from './figures';
import { servedDemo } from './served';

/** What the page shows of its preview to whoever measures it. */
interface Measured {
  show(time: number): void;
  onceShown: ((time: number) => void) | null;
  figures: { due: number; shown: number; late: number; underruns: number };
}

const { server, close } = await servedDemo();
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: [...CHROMIUM_ARGS, '--autoplay-policy=no-user-gesture-required'],
});
console.log(`\nPreview in headless Chromium, software only (${machine()})`);
try {
  const page = await browser.newPage({ viewport: { width: 390, height: 844 }, deviceScaleFactor: 2, hasTouch: true });
  for (const [name, piece, seconds] of [
    ['vertical piece', 'demo-first-flight', 19],
    ['landscape piece', 'demo-bench-talk', 17],
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
    const frame = piece === 'demo-first-flight' ? 23_520_000 : 28_224_000;
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
