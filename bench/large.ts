import { randomUUID } from 'node:crypto';
import { chromium } from '@playwright/test';
import type { MediaItem, OpenedPiece, PieceSummary } from '@flimzy/contract';
import { carryOut, editRequest, type Head } from '@flimzy/core/edits';
import { frameStart } from '@flimzy/core/time';
import { CHROMIUM_ARGS } from '../e2e/chromium';
import { machine, median, percentile, row } from './figures';
import { servedDemo } from './served';

const RATE = { num: 30, den: 1 };
const CLIPS = 2000;
const TRACKS = 400;

const { server, api, together, close } = await servedDemo();
console.log(`\nA piece of ${CLIPS} clips on ${TRACKS} tracks (${machine()})`);
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: CHROMIUM_ARGS });
try {
  const { id } = await api<PieceSummary>('POST', '/api/pieces', { name: 'Large', format: { width: 540, height: 960, rate: RATE } });
  const { facts } = await api<MediaItem>('GET', '/api/media/demo-hilltop');
  const send = (steps: unknown[]) => together(id, steps);
  await send(Array.from({ length: TRACKS - 2 }, (_, i) => ({ name: 'addTrack', params: { kind: i % 2 ? 'sound' : 'picture' } })));
  const { piece } = await api<OpenedPiece>('GET', `/api/pieces/${id}`);
  for (let begin = 0; begin < CLIPS; begin += 500)
    await send(
      Array.from({ length: 500 }, (_, k) => {
        const i = begin + k;
        // Every second clip on the main track, the rest on all the others in turn.
        const track = i % 2 ? piece.tracks[1 + (i % (TRACKS - 1))] : piece.tracks[0];
        const params = {
          track: track?.id,
          media: facts,
          at: frameStart((i >> 1) * 20, RATE),
          from: frameStart((i * 37) % 100, RATE), // never the same sound twice at once, which would be marked
          length: frameStart(20, RATE),
        };
        return { name: 'add', params: { ...params, how: 'over' } };
      }),
    );
  const filled = await api<OpenedPiece>('GET', `/api/pieces/${id}`);
  const shaped = (filled.piece.tracks[0]?.clips ?? []).map((clip) => {
    const keys = [2, 10, 18].map((frame) => ({ at: clip.from + frameStart(frame, RATE), value: -6, ease: 'even' }));
    return { name: 'set', params: { clips: [clip.id], values: { envelope: { keys } } } };
  });
  await send(shaped);
  const page = await browser.newPage({ viewport: { width: 390, height: 844 }, hasTouch: true, deviceScaleFactor: 2 });
  await page.addInitScript(() => localStorage.setItem('flimzy.gestures-seen', 'yes'));
  const began = performance.now();
  await page.goto(`${server.address}/piece/${id}`);
  await page.locator('[data-kind="picture"]').first().waitFor();
  row('opening it, from the address to clips on screen', `${((performance.now() - began) / 1000).toFixed(1)} s`);
  await page.waitForTimeout(1500);

  /** Times between frames of the page while something goes on, in ms. */
  const framesWhile = async (name: string, work: string) => {
    const gaps = (await page.evaluate(`(async () => {
      const times = [];
      let going = true;
      const tick = (now) => {
        times.push(now);
        if (going) requestAnimationFrame(tick);
      };
      requestAnimationFrame(tick);
      ${work}
      going = false;
      return times.slice(1).map((t, i) => t - times[i]);
    })()`)) as number[];
    const share = (limit: number) => `${((100 * gaps.filter((gap) => gap > limit).length) / gaps.length).toFixed(1)} %`;
    row(`${name}: frames over 17.5 / 33.4 ms`, `${share(17.5)} / ${share(33.4)}`, '60 fps');
    row('  frame time, ms, median / 95 %', `${median(gaps).toFixed(1)} / ${percentile(gaps, 0.95).toFixed(1)}`);
  };
  const scroller = `document.querySelector('.timeline-scroll')`;
  await framesWhile(
    'scrolling time',
    `for (let i = 0; i < 240; i += 1) { ${scroller}.scrollTop += 14; await new Promise(requestAnimationFrame); }`,
  );
  await framesWhile(
    'scrolling across tracks',
    `for (let i = 0; i < 240; i += 1) { ${scroller}.scrollLeft += 22; await new Promise(requestAnimationFrame); }`,
  );
  await page.evaluate(`${scroller}.scrollLeft = 0`);
  await page
    .locator('[data-kind="picture"]')
    .nth(3)
    .tap({ position: { x: 20, y: 12 } });
  const cdp = await page.context().newCDPSession(page);
  /** Drags something there and back for four seconds, as often as the page takes a move; `by`: pixels of move i from where it was. */
  const dragThere = async (name: string, what: string, by: (i: number) => { x: number; y: number }) => {
    // One that a finger can touch: nothing lies over its middle.
    const at = await page.evaluate((selector) => {
      const middles = [...document.querySelectorAll(selector)].map((one) => {
        const { x, y, width, height } = one.getBoundingClientRect();
        const middle = { x: x + width / 2, y: y + height / 2 };
        return one.contains(document.elementFromPoint(middle.x, middle.y)) ? middle : null;
      });
      return middles.find((middle) => middle !== null);
    }, what);
    if (!at) throw new Error(`${what} cannot be touched`);
    await cdp.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: [at] });
    const until = Date.now() + 4000;
    const dragging = (async () => {
      for (let i = 1; Date.now() < until; i += 1) {
        const { x, y } = by(i);
        await cdp.send('Input.dispatchTouchEvent', { type: 'touchMove', touchPoints: [{ x: at.x + x, y: at.y + y }] });
        await page.waitForTimeout(12);
      }
    })();
    await framesWhile(name, 'await new Promise((r) => setTimeout(r, 3800));');
    await dragging;
    await cdp.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
  };
  const thereAndBack = (i: number) => Math.abs(((i + 30) % 60) - 30);
  // Three pixels a move: another frame of the piece nearly every time.
  await dragThere('pulling an end, all the rest following', '[data-handle="tail"]', (i) => ({ x: 0, y: -3 * thereAndBack(i) }));
  await page.keyboard.press('Escape');
  for (let i = 0; i < 5; i += 1) await page.keyboard.press('+');
  const column = await page.getByTestId('timeline').boundingBox();
  if (column) await page.touchscreen.tap(column.x + 70, column.y + column.height * 0.4 + 14);
  await dragThere('pulling a point of an envelope', '[data-handle="point"]', (i) => ({ x: -thereAndBack(i) / 2, y: thereAndBack(i) }));
  const made = await page.getByTestId('undo').getAttribute('aria-label');
  if (!/nvelope/.test(made ?? '')) throw new Error(`no point was pulled: ${made}`);

  const opened = await api<OpenedPiece>('GET', `/api/pieces/${id}`);
  let head: Head = { piece: opened.piece, revision: opened.revision, undo: [], redo: [] };
  global.gc?.();
  const before = process.memoryUsage().heapUsed;
  for (let i = 0; i < 1000; i += 1) {
    const clip = head.piece.tracks[0]?.clips[100 + (i % 700)];
    if (!clip) break;
    const request =
      i % 2
        ? editRequest(randomUUID(), 'set', { clips: [clip.id], values: { level: -(i % 20) } })
        : editRequest(randomUUID(), 'set', { clips: [clip.id], values: { fit: 'fit', backdrop: 'black' } });
    head = carryOut(head, request, new Date().toISOString()).head;
  }
  global.gc?.();
  row('memory held by 1 000 more edits in core, with their undo', `${((process.memoryUsage().heapUsed - before) / 1e6).toFixed(1)} MB`);
} finally {
  await browser.close();
  await close();
}
