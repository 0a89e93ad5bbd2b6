import { execFileSync } from 'node:child_process';
import path from 'node:path';
import { expect, test as plain, type Locator, type Page } from '@playwright/test';
import { OURS_HEADER, type OpenedPiece } from '@flimzy/contract';
import { PLATFORM_FORMATS } from '@flimzy/core/deliver';
import type { Clip, Piece, PieceFormat } from '@flimzy/core/piece';
import { frameLength } from '@flimzy/core/time';
import { keepDrawing } from './drawing';
import { ROOT } from './serving';

export { expect };

/**
 * Tests on a device that has seen the gestures already, and where what the page takes away by itself after some seconds stays ten
 * times as long: a machine that stands still for a while must not make a notice be missed.
 */
export const test = plain.extend({
  context: async ({ context }, use) => {
    context.on('page', keepDrawing);
    await context.addInitScript(() => {
      localStorage.setItem('flimzy.gestures-seen', 'yes');
      const real = window.setTimeout;
      const slower = (run: TimerHandler, ms = 0, ...args: unknown[]) => real(run, ms >= 5000 && ms <= 15_000 ? ms * 10 : ms, ...args);
      window.setTimeout = slower as typeof window.setTimeout;
    });
    await use(context);
  },
});

/** Of a test of what does not depend on the screen, or takes fingers: it is made on the phone alone. */
export const ONCE = { tag: '@once' };

/** A screen with two pixels for each point, as phones have. */
export const SHARP = { deviceScaleFactor: 2 };

export const CODED = (name: string) => path.join(ROOT, 'demo/test-media', `${name}.mp4`);
export const DEMO = (name: string) => path.join(ROOT, 'demo/media', name);
/** What shows that a request comes from our own app. */
export const OURS = { [OURS_HEADER]: '1' };
export const home = () => process.env.FLIMZY ?? '';

/** What the server holds of the piece that a page has open, once it has all that was done there. */
export async function pieceOf(page: Page): Promise<Piece> {
  return (await opened(page)).piece;
}

async function opened(page: Page): Promise<OpenedPiece> {
  await expect(page.getByText('saving …')).toHaveCount(0);
  return stored(page);
}

/** What the server holds of it just now. */
export async function storedPiece(page: Page): Promise<Piece> {
  return (await stored(page)).piece;
}

async function stored(page: Page): Promise<OpenedPiece> {
  const id = /piece\/([a-z0-9-]+)/.exec(page.url())?.[1] ?? '';
  const answer = await page.request.get(`${home()}/api/pieces/${id}`);
  return (await answer.json()) as OpenedPiece;
}

export const mainClips = async (page: Page): Promise<Clip[]> => (await pieceOf(page)).tracks[0]?.clips ?? [];

/** Start, length and in-point of every main clip, in frames of the piece. */
export async function layout(page: Page): Promise<[number, number, number][]> {
  const piece = await pieceOf(page);
  const frame = frameLength(piece.format.rate);
  return (piece.tracks[0]?.clips ?? []).map((c) => [c.start / frame, c.length / frame, Math.round(c.from / frame)]);
}

/** Touches or clicks, as the page is used. */
export async function press(target: Locator): Promise<void> {
  const page = target.page();
  const touch = await page.evaluate(() => navigator.maxTouchPoints > 0);
  await (touch ? target.tap() : target.click());
}

/** Makes a new piece through the interface, with a rate if one is named. */
export async function makePiece(page: Page, name: string, shape: 'vertical' | 'landscape', rate?: string): Promise<void> {
  await page.goto(home());
  await press(page.getByTestId('new'));
  await page.getByTestId('piece-name').fill(name);
  await press(page.getByTestId(`shape-${shape}`));
  if (rate) await press(page.getByRole('radio', { name: rate, exact: true }));
  await press(page.getByTestId('make-piece'));
  await expect(page.getByTestId('piece-title')).toHaveText(name);
}

/** Opens the shelf where it is not always there. */
export async function openShelf(page: Page): Promise<void> {
  if (await page.getByTestId('shelf').isVisible()) return;
  const first = page.getByTestId('add-first');
  await press((await first.isVisible()) ? first : page.getByTestId('add'));
  await expect(page.getByTestId('shelf')).toBeVisible();
}

/** Brings files in through the chooser and waits until each can be used. */
export async function bringIn(page: Page, ...files: string[]): Promise<void> {
  await openShelf(page);
  const chooser = page.waitForEvent('filechooser');
  await press(page.getByTestId('bring-in'));
  await (await chooser).setFiles(files);
}

/** The shelf's item of a name that is ready to be used. */
export const item = (page: Page, name: string) => page.getByRole('checkbox', { name, exact: true }).first();

/**
 * Chooses items on the shelf, in order. What another test brings in meanwhile moves all the others along, under the finger too: what
 * came to be chosen is looked at, as a person would, and chosen anew where it is something else.
 */
async function choose(page: Page, names: string[]): Promise<void> {
  const chosen = page.getByTestId('shelf').getByRole('checkbox', { checked: true });
  for (;;) {
    for (const name of names) {
      await expect(item(page, name)).toBeEnabled();
      await press(item(page, name));
    }
    const each = await Promise.all(names.map((name) => item(page, name).isChecked()));
    if (each.every(Boolean) && (await chosen.count()) === names.length) return;
    while ((await chosen.count()) > 0) await press(chosen.first());
  }
}

/** Chooses items on the shelf in order and adds them. */
export async function addFromShelf(page: Page, names: string[], where: 'end' | 'playhead' = 'end'): Promise<void> {
  await openShelf(page);
  await choose(page, names);
  await press(page.getByTestId(where === 'end' ? 'add-end' : 'add-playhead'));
  await expect(page.getByTestId('shelf-sheet')).toHaveCount(0);
}

/** Types a time into the clock and goes there. */
export async function goTo(page: Page, time: string): Promise<void> {
  await page.getByTestId('clock').fill(time);
  await page.getByTestId('clock').press('Enter');
  await page.getByTestId('clock').blur();
}

export const clip = (page: Page, n: number) => page.locator('[data-kind="picture"]').nth(n);

/** Selects a clip by touching it, near its top but under the names of the tracks. */
export async function selectClip(page: Page, n: number): Promise<void> {
  const block = clip(page, n);
  if ((await block.getAttribute('aria-pressed')) === 'true') return;
  await block.scrollIntoViewIfNeeded();
  const [box, timeline] = [await block.boundingBox(), await page.getByTestId('timeline').boundingBox()];
  const position = { x: 30, y: Math.max(26, (timeline?.y ?? 0) + 60 - (box?.y ?? 0)) };
  const touch = await page.evaluate(() => navigator.maxTouchPoints > 0);
  await (touch ? block.tap({ position }) : block.click({ position }));
  await expect(block).toHaveAttribute('aria-pressed', 'true');
}

/** What is on the page once a held finger has picked something up: on the timeline, from the shelf, and along it. */
export const PICKED_UP = '[data-dragging]';
export const CARRIED = '[data-testid="carried"]';
export const GRIPPED = '[aria-roledescription="sortable"][aria-pressed="true"]';

/** On the page once a finger that drags has rested long enough to let go of what it caught on. */
export const RESTED = '[data-dragging="free"]';

/** Drags from the middle of something by pixels: the mouse, or a finger, which stays until what it picks up is `pickedUp`. */
export async function drag(
  page: Page,
  from: { x: number; y: number },
  by: { x: number; y: number },
  pickedUp: string | null = null,
  whileHeld?: () => Promise<void>,
): Promise<void> {
  const steps = 12;
  const at = (i: number) => ({ x: from.x + (by.x * i) / steps, y: from.y + (by.y * i) / steps });
  if (await page.evaluate(() => navigator.maxTouchPoints > 0)) {
    const cdp = await page.context().newCDPSession(page);
    await cdp.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: [from] });
    if (pickedUp !== null) await expect(page.locator(pickedUp)).toBeAttached();
    for (let i = 1; i <= steps; i += 1) {
      await cdp.send('Input.dispatchTouchEvent', { type: 'touchMove', touchPoints: [at(i)] });
      await page.waitForTimeout(25);
    }
    await whileHeld?.();
    await cdp.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
    return;
  }
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  for (let i = 1; i <= steps; i += 1) {
    await page.mouse.move(at(i).x, at(i).y);
    await page.waitForTimeout(15);
  }
  await whileHeld?.();
  await page.mouse.up();
}

/** Stops the page's own clock, to be moved by the test (`page.clock.runFor`) until it is resumed. */
export async function standStill(page: Page): Promise<void> {
  await page.clock.install();
  await page.clock.pauseAt((await page.evaluate(() => Date.now())) + 100);
}

export async function middleOf(target: Locator): Promise<{ x: number; y: number }> {
  const box = await target.boundingBox();
  if (!box) throw new Error('it is not on the page');
  return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
}

/** Exports through the interface and saves the download; `nth` of this piece. */
export async function exportTo(page: Page, file: string, nth = 1): Promise<string> {
  await press(page.getByTestId('send'));
  await press(page.getByTestId('export'));
  await expect(page.getByTestId('delivery-done')).toHaveCount(nth);
  const coming = page.waitForEvent('download');
  await press(page.getByTestId('download').first());
  const download = await coming;
  await download.saveAs(file);
  return download.suggestedFilename();
}

export function ffprobe(...args: string[]): string {
  return execFileSync('ffprobe', ['-v', 'error', ...args])
    .toString()
    .trim();
}

/** One clip of a piece made over the API: a demo item, first frame and length in frames of the piece; by default on the main track. */
export interface Wanted {
  media: string;
  from: number;
  frames: number;
  track?: string;
  at?: number;
  fit?: 'fit' | 'fill';
}

/** Three joined clips of 60 frames each, with material left on every side, and music under all of it. */
export const THREE: readonly Wanted[] = [
  { media: 'demo-hilltop', from: 60, frames: 60 },
  { media: 'demo-beach-run', from: 40, frames: 60 },
  { media: 'demo-hilltop', from: 180, frames: 60 },
];
/** Three minutes: does not end by itself while something is tried, on any machine. */
export const LONG: readonly Wanted[] = Array.from({ length: 10 }, (_, n) => ({ media: 'demo-talk-front', from: n, frames: 550 }));
export const MUSIC: Wanted = { media: 'demo-up-she-goes', from: 0, frames: 180, track: 'sound-1', at: 0 };
/** Where the three lie, in frames. */
export const STILL = [
  [0, 60],
  [60, 60],
  [120, 60],
];

/** What a piece is by which only frames or sound are looked at: quickly exported. */
export const TINY = { width: 360, height: 640 };

/** Makes a piece (vertical, small, of 30 fps) over the API and opens it: the quick way where assembling is not what is tested. */
export async function openPiece(page: Page, name: string, clips: readonly Wanted[], format: Partial<PieceFormat> = {}): Promise<void> {
  const { width, height, rate } = { width: 540, height: 960, rate: { num: 30, den: 1 }, ...format };
  const time = (n: number) => n * frameLength(rate);
  const made = await page.request.post(`${home()}/api/pieces`, { headers: OURS, data: { name, format: { width, height, rate } } });
  const { id } = (await made.json()) as { id: string };
  const requests = [];
  for (const { media, from, frames, track = 'main', at, fit = 'fill' } of clips) {
    const { facts } = (await (await page.request.get(`${home()}/api/media/${media}`)).json()) as { facts: unknown };
    const params = { track, media: facts, at: at === undefined ? null : time(at), from: time(from), length: time(frames), fit };
    requests.push({ kind: 'do', id: crypto.randomUUID(), name: 'add', params });
  }
  if (requests.length > 0) {
    const answer = await page.request.post(`${home()}/api/pieces/${id}/edits`, { headers: OURS, data: { since: 0, requests } });
    const { refused } = (await answer.json()) as { refused: unknown[] };
    expect(refused).toEqual([]);
  }
  await page.goto(`${home()}/piece/${id}`);
  await expect(page.getByTestId('piece-title')).toHaveText(name);
  if (clips.length > 0) await expect(clip(page, 0)).toBeAttached();
}

/** Makes an edit of the open piece over the API, as another window would. */
export async function ask(page: Page, name: string, params: unknown): Promise<void> {
  const { piece, revision } = await opened(page);
  const data = { since: revision, requests: [{ kind: 'do', id: crypto.randomUUID(), name, params }] };
  const answer = await page.request.post(`${home()}/api/pieces/${piece.id}/edits`, { headers: OURS, data });
  expect(((await answer.json()) as { refused: unknown[] }).refused).toEqual([]);
}

/** Does an action of the editor by its line under More. */
export async function doAction(page: Page, id: string): Promise<void> {
  await press(page.getByTestId('more'));
  await press(page.getByTestId(`do-${id}`));
  await expect(page.getByTestId('more-sheet')).toHaveCount(0);
}

/** Start and length of the clips of a track, in frames. */
export async function trackLayout(page: Page, track: number): Promise<[number, number][]> {
  const piece = await pieceOf(page);
  const frame = frameLength(piece.format.rate);
  return (piece.tracks[track]?.clips ?? []).map((c) => [c.start / frame, c.length / frame]);
}

/** Types into a figure and keeps it. */
export async function typeInto(page: Page, testId: string, text: string): Promise<void> {
  await page.getByTestId(testId).fill(text);
  await page.getByTestId(testId).press('Enter');
}

/** Samples of a file, left and right in turn. */
export function samplesOf(file: string): Float32Array {
  const args = ['-v', 'error', '-i', file, '-f', 'f32le', '-ac', '2', '-ar', '48000', 'pipe:1'];
  const bytes = execFileSync('ffmpeg', args, { maxBuffer: 1 << 28 });
  return new Float32Array(bytes.buffer, bytes.byteOffset, bytes.byteLength >> 2);
}

/** The mean power of a stretch, in dB. Seconds. */
export function power(samples: Float32Array, from: number, to: number): number {
  let sum = 0;
  const [first, last] = [Math.round(from * 96_000), Math.round(to * 96_000)];
  for (let i = first; i < last; i += 1) sum += samples[i]! ** 2;
  return 10 * Math.log10(sum / (last - first) + 1e-12);
}

/** Has a piece made for a format that is small enough to be made in a few seconds. */
export async function forSmall(page: Page, piece: string, id: string, width: number, height: number): Promise<void> {
  const [short] = PLATFORM_FORMATS;
  const format = { ...short, id, name: `Small ${width}`, sizes: [{ width, height }], bitrate: null };
  await page.request.post(`${home()}/api/formats`, { headers: OURS, data: format });
  const request = { kind: 'do', id: crypto.randomUUID(), name: 'setFormats', params: { formats: [id], named: format.name } };
  await page.request.post(`${home()}/api/pieces/${piece}/edits`, { headers: OURS, data: { since: 0, requests: [request] } });
}
