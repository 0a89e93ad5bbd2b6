import { chromium } from '@playwright/test';
import type { OpenedPiece } from '@flimzy/contract';
import { PLATFORM_FORMATS, suggest } from '@flimzy/core/deliver';
import { CHROMIUM_ARGS } from '../e2e/chromium';
import { exported, forgetSegments } from './exporting';
import { machine, row } from './figures';
import { servedDemo } from './served';

/** A piece made on the device (in headless Chromium, without a GPU), and by the server with nothing kept: frames a second of each. */
const served = await servedDemo();
const { api, close, server } = served;
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: CHROMIUM_ARGS });
console.log(`\nMade on the device, 1080 × 1920 (${machine()})`);
try {
  for (const id of ['demo-first-flight', 'demo-kite-in-layers']) {
    const { piece } = await api<OpenedPiece>('GET', `/api/pieces/${id}`);
    const page = await browser.newPage({ viewport: { width: 390, height: 844 }, hasTouch: true });
    await page.addInitScript(() => localStorage.setItem('flimzy.gestures-seen', 'yes'));
    await page.goto(`${server.address}/piece/${id}`);
    await page.getByTestId('send').click();
    await page.getByTestId('make-here').scrollIntoViewIfNeeded();
    const began = performance.now();
    await page.getByTestId('make-here').click();
    await page.getByTestId('made-done').first().waitFor({ timeout: 600_000 });
    const device = (performance.now() - began) / 1000;
    const frames = Number(/(\d+) frames/.exec(await page.getByTestId('made-done').first().innerText())?.[1]);
    await page.close();
    const vertical = PLATFORM_FORMATS.find((format) => format.id === 'vertical-short');
    if (!vertical) throw new Error('there is no such format');
    forgetSegments(served);
    const asked = performance.now();
    await exported(served, id, suggest(piece, vertical).settings);
    const there = (performance.now() - asked) / 1000;
    row(
      `${piece.name}: frames a second, device / server`,
      `${(frames / device).toFixed(1)} / ${(frames / there).toFixed(1)}`,
      'to be said',
    );
    row('  device / server', (there / device).toFixed(2), 'to be said');
  }
} finally {
  await browser.close();
  await close();
}
