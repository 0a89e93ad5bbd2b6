import { execFileSync } from 'node:child_process';
import { readFile, stat, writeFile } from 'node:fs/promises';
import type { Page } from '@playwright/test';
import type { Delivery, OpenedPiece } from '@flimzy/contract';
import { PLATFORM_FORMATS, type PlatformFormat } from '@flimzy/core/deliver';
import { PLAIN_SHAPE, PLAIN_TEXT } from '@flimzy/core/frame';
import { OVERLAY, pieceLength } from '@flimzy/core/piece';
import { frameLength, frameStart, toSeconds } from '@flimzy/core/time';
import { addFromShelf, ask, bringIn, doAction, expect, home, layout, openPiece, pieceOf, press, test, typeInto, ONCE } from './studio';
import { partsIn, titles } from './written';

const SMALL = { width: 360, height: 640 };
const TALK = { media: 'demo-talk-front', from: 18, frames: 120 };
const HILL = { media: 'demo-hilltop', from: 60, frames: 90 };

/** A format that the tests' small pieces can be made for quickly: given in as a person would, as a file of JSON. */
function format(name: string, size: { width: number; height: number }, more: Partial<PlatformFormat> = {}): PlatformFormat {
  const [short] = PLATFORM_FORMATS as [PlatformFormat];
  const id = `own-${name.toLowerCase().replace(/[^a-z0-9]+/g, '-')}`;
  return { ...short, id, name, platform: 'Breeze', sizes: [size], length: { least: 1, most: 5 }, bytes: 3_000_000, ...more };
}

async function bringFormats(page: Page, file: string, formats: PlatformFormat[]): Promise<void> {
  await writeFile(file, JSON.stringify(formats));
  const chooser = page.waitForEvent('filechooser');
  await press(page.getByTestId('import-format'));
  await (await chooser).setFiles(file);
  for (const { id } of formats) await expect(page.getByTestId(`format-${id}`)).toBeAttached();
}

const send = (page: Page) => press(page.getByTestId('send'));
const closeSheet = (page: Page) => page.keyboard.press('Escape');
const part = (page: Page, { id }: PlatformFormat) => page.getByTestId(`part-${id}`);

async function deliveries(page: Page): Promise<Delivery[]> {
  const { id } = await pieceOf(page);
  return (await (await page.request.get(`${home()}/api/deliveries?piece=${id}`)).json()) as Delivery[];
}

/** Every export of the piece once all are over. */
async function finished(page: Page, count: number): Promise<Delivery[]> {
  await expect(page.getByTestId('delivery-done')).toHaveCount(count);
  return deliveries(page);
}

async function fileOf(page: Page, { id }: Delivery, to: string): Promise<string> {
  await writeFile(to, await (await page.request.get(`${home()}/api/deliveries/${id}/file`)).body());
  return to;
}

const probed = (file: string) =>
  JSON.parse(execFileSync('ffprobe', ['-v', 'error', '-count_frames', '-show_streams', '-of', 'json', file]).toString()) as {
    streams: { codec_type: string; width?: number; height?: number; nb_read_frames?: string }[];
  };

test('a piece over the limit is seen to be, mended by one touch, and sent in two shapes at once', async ({ page }, info) => {
  const upright = format(`Upright ${info.project.name}`, SMALL);
  const square = format(`Square ${info.project.name}`, { width: 360, height: 360 });
  await openPiece(page, `Send ${info.project.name}`, [TALK, HILL], SMALL);
  await expect(page.getByTestId('piece-length')).toContainText('0:07.00');
  await send(page);
  await bringFormats(page, info.outputPath('formats.json'), [upright, square]);
  for (const one of [upright, square]) await press(page.getByTestId(`format-${one.id}`));
  // What it is made for is part of the piece, and its length stands against the limit from then on.
  await expect.poll(async () => (await pieceOf(page)).formats).toEqual([square.id, upright.id]);
  await expect(part(page, upright).getByTestId('finding-tooLong')).toContainText('0:02.00 too long');
  await expect(part(page, square).getByTestId('finding-otherShape')).toContainText('sent square');
  await expect(page.getByTestId('shape-1.00')).toHaveAttribute('data-time', /\d/);
  await closeSheet(page);
  await expect(page.getByTestId('piece-length')).toContainText('0:02.00 too long');
  await press(page.getByTestId('piece-length'));
  await press(part(page, upright).getByTestId('mend-tooLong').filter({ hasText: 'Take out “Hilltop”' }));
  await expect(part(page, upright).getByTestId('finding-tooLong')).toHaveCount(0);
  await expect(part(page, square).getByTestId('finding-tooLong')).toHaveCount(0);
  expect(toSeconds(pieceLength(await pieceOf(page)))).toBe(4);
  await press(page.getByTestId('export'));
  const made = await finished(page, 2);
  for (const [n, one] of [square, upright].entries()) {
    const delivery = made.find(({ settings }) => settings.format?.id === one.id);
    if (!delivery) throw new Error(`there is no export for ${one.name}`);
    const { streams } = probed(await fileOf(page, delivery, info.outputPath(`${n}.mp4`)));
    expect(streams.find((stream) => stream.codec_type === 'video')).toMatchObject({ ...one.sizes[0], nb_read_frames: '120' });
    expect(delivery.checks?.map(({ says }) => says)).toContain('120 frames, as many as there should be');
    expect(delivery.fileName).toBe(`Send-${info.project.name}-${one.name.replace(' ', '-')}.mp4`);
  }
  await expect(page.getByTestId('delivery-checks').first()).toContainText('Read to its end');
  // Nothing is made twice.
  await press(page.getByTestId('export'));
  const notice = page.getByRole('status').filter({ hasText: 'Nothing has changed since' });
  await expect(notice).toBeVisible();
  expect(await deliveries(page)).toHaveLength(2);
  // What is said lies above all that can be read and pressed in the sheet, and a touch puts it away.
  const said = (await notice.boundingBox())!;
  const top = page.getByTestId('send-sheet').getByText('Made for');
  await top.scrollIntoViewIfNeeded();
  expect(said.y + said.height).toBeLessThanOrEqual((await top.boundingBox())!.y);
  await press(notice);
  await expect(notice).toHaveCount(0);
  await expect(page.getByTestId('export')).toBeVisible();
  // What was exported is one touch away from there, and how files are named is read whole.
  await press(page.getByTestId('to-exports'));
  await expect(page.getByTestId('delivery-done').first()).toBeInViewport({ ratio: 0.5 });
  const unseen = await page.getByTestId('file-pattern').evaluate((field) => field.scrollWidth - field.clientWidth);
  expect(unseen).toBeLessThanOrEqual(0);
});

test(
  'what is softer than the platform plays is brought there by one touch, taken back by another, and said of the file',
  ONCE,
  async ({ page }, info) => {
    const loud = format(`Loud ${info.project.name}`, SMALL, {
      length: { least: 1, most: null },
      loudness: { target: -14, within: 1, peak: -1 },
      captions: 'none',
    });
    await openPiece(page, `Loudness sent ${info.project.name}`, [TALK], SMALL);
    await send(page);
    await bringFormats(page, info.outputPath('formats.json'), [loud]);
    await press(page.getByTestId(`format-${loud.id}`));
    await expect(part(page, loud).getByTestId('finding-otherLoudness')).toContainText('too soft');
    await press(part(page, loud).getByTestId('mend-otherLoudness'));
    await expect(part(page, loud).getByTestId('nothing-wrong')).toBeVisible();
    expect((await pieceOf(page)).sound?.level).toBeGreaterThan(3);
    await press(page.getByRole('button', { name: 'Undo', exact: true }).last());
    await expect(part(page, loud).getByTestId('finding-otherLoudness')).toBeVisible();
    expect((await pieceOf(page)).sound?.level).toBeUndefined();
    // Sent as it is, the file's own loudness stands apart from what is right with it.
    await press(page.getByTestId('export'));
    await finished(page, 1);
    await expect(page.getByTestId('checks-wrong')).toHaveText(/^Not as asked for−.* LUFS, .* LU too soft for −14\.0$/);
    await expect(page.getByTestId('checks-right')).toContainText('As asked for: 120 frames, as many as there should be');
  },
);

test(
  'words out of sight are moved into it; figures of a file are changed and held to; a format of one’s own is copied, limited, saved',
  ONCE,
  async ({ page }, info) => {
    const name = `Words sent ${info.project.name}`;
    await openPiece(page, name, [{ ...HILL, frames: 60 }], SMALL);
    // Green words, far down before a meadow.
    const overlay = { parts: [{ ...PLAIN_TEXT, text: 'Let it out', colour: '#5f9a3f', shadow: null, y: 0.95 }] };
    await ask(page, 'add', {
      track: null,
      media: OVERLAY,
      at: 0,
      from: 0,
      length: frameStart(60, { num: 30, den: 1 }),
      values: { overlay },
    });
    await expect.poll(() => titles(page)).toHaveLength(1);
    await send(page);
    await press(page.getByTestId('format-vertical-short'));
    const short = page.getByTestId('part-vertical-short');
    for (const check of ['wordsOutside', 'wordsFaint']) {
      await press(short.getByTestId(`mend-${check}`));
      await expect(short.getByTestId(`finding-${check}`)).toHaveCount(0);
    }
    const [words] = partsIn((await titles(page))[0]);
    if (words?.kind !== 'text') throw new Error('the title is gone');
    expect(words.y).toBeLessThan(0.8);
    expect(words.panel).not.toBeNull();
    await press(page.getByTestId('copy-vertical-short'));
    const own = page.getByTestId(/^part-own-/);
    await expect(own).toBeVisible();
    await press(page.getByTestId('format-vertical-short'));
    await expect(page.getByTestId('part-vertical-short')).toHaveCount(0);
    await press(own.getByTestId(/^limits-own-/));
    await typeInto(page, 'own-name', `Kite feed ${info.project.name}`);
    await expect(own.getByRole('heading', { name: `Kite feed ${info.project.name}` })).toBeVisible();
    await typeInto(page, 'own-sizes', '270x480');
    await expect(page.getByTestId('own-sizes')).toHaveValue('270×480');
    await typeInto(page, 'own-shortest', '1');
    await expect(page.getByTestId('own-shortest')).toHaveValue('1 s');
    await typeInto(page, 'own-longest', '1.5 s');
    await expect(own.getByTestId('finding-tooLong')).toBeVisible();
    await typeInto(page, 'own-longest', 'any');
    await expect(own.getByTestId('finding-tooLong')).toHaveCount(0);
    await typeInto(page, 'own-longest', 'a while');
    await expect(own.getByText(/Seconds, from/)).toBeVisible();
    const saved = page.waitForEvent('download');
    await press(own.getByTestId(/^save-own-/));
    const json = JSON.parse(await readFile(await (await saved).path(), 'utf8')) as PlatformFormat;
    expect(json).toMatchObject({
      name: `Kite feed ${info.project.name}`,
      sizes: [{ width: 270, height: 480 }],
      length: { least: 1, most: null },
    });
    // So many bytes and no more.
    await press(own.getByTestId(/^change-own-/));
    await press(own.getByRole('radio', { name: 'File size', exact: true }));
    await typeInto(page, `bytes-${json.id}`, '0.3 MB');
    await press(page.getByTestId(`estimate-${json.id}`));
    const told = /^About 0\.3 MB.* It takes about \d+ s to make, up to \d+ s where it has to be tried again to come to that\.$/;
    await expect(page.getByTestId(`estimated-${json.id}`)).toHaveText(told);
    await press(page.getByTestId('export'));
    const [delivery] = await finished(page, 1);
    if (!delivery) throw new Error('there is no export');
    const file = await fileOf(page, delivery, info.outputPath('small.mp4'));
    expect((await stat(file)).size).toBeLessThanOrEqual(300_000);
    expect((await stat(file)).size).toBeGreaterThan(291_000);
    expect(probed(file).streams.find(({ codec_type }) => codec_type === 'video')).toMatchObject({
      width: 270,
      height: 480,
      nb_read_frames: '60',
    });
    // Removed, and brought back.
    await press(own.getByTestId(/^remove-own-/));
    await expect(own).toHaveCount(0);
    // The notice comes with the server's answer; until then an earlier one has an Undo of its own.
    await expect(page.getByText(/” is removed\.$/)).toBeVisible();
    await press(page.getByRole('button', { name: 'Undo', exact: true }).last());
    await expect(own).toBeVisible();
  },
);

test('what flashes so that it can harm is found before it is sent, shown, and taken out by a touch', ONCE, async ({ page }, info) => {
  const file = info.outputPath('strobe.mp4');
  const strobe = 'color=white:size=180x320:rate=30:duration=2,drawbox=color=black:t=fill:enable=gte(mod(n\\,6)\\,3)';
  execFileSync('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', strobe, '-pix_fmt', 'yuv420p', file]);
  await openPiece(page, 'Flashes', [{ ...HILL, frames: 45 }], { width: 180, height: 320 });
  await bringIn(page, file);
  await addFromShelf(page, ['strobe']);
  await send(page);
  await press(page.getByTestId('format-vertical-short'));
  const short = page.getByTestId('part-vertical-short');
  await expect(short.getByTestId('finding-flashing')).toContainText('more than three times a second from 0:01.15 on');
  await press(short.getByTestId('show-flashing'));
  await expect.poll(async () => (await layout(page)).length).toBe(2);
  await send(page);
  await press(short.getByTestId('mend-flashing'));
  await expect(short.getByTestId('finding-flashing')).toHaveCount(0);
  expect((await layout(page))[0]).toEqual([0, 45, 60]);
  const left = toSeconds(pieceLength(await pieceOf(page)));
  expect(left).toBeGreaterThanOrEqual(1.5);
  expect(left).toBeLessThan(2.2);
  // So do shapes that come and go over a quarter of the frame.
  const F = frameLength({ num: 30, den: 1 });
  const disc = (colour: string) => ({ parts: [{ ...PLAIN_SHAPE, shape: 'disc', colour, size: 3, shadow: null }] });
  const add = (n: number) => {
    const values = { overlay: disc(n % 2 ? '#000000' : '#ffffff') };
    return { name: 'add', params: { track: null, top: n > 0, media: OVERLAY, at: n * 3 * F, from: 0, length: 3 * F, values } };
  };
  await ask(page, 'together', { title: 'Shapes', edits: Array.from({ length: 12 }, (_, n) => add(n)) });
  await expect(short.getByTestId('finding-flashing')).toContainText('more than three times a second from 0:00');
});

test('a loop and the sound alone come out of the piece as it is', ONCE, async ({ page }, info) => {
  await openPiece(page, `Loop ${info.project.name}`, [{ ...HILL, frames: 45 }], { width: 180, height: 320 });
  await send(page);
  for (const id of ['silent-loop', 'sound-only']) await press(page.getByTestId(`format-${id}`));
  await press(page.getByTestId('export'));
  const made = await finished(page, 2);
  const kinds = await Promise.all(
    made.map(async (delivery) => {
      const file = await fileOf(page, delivery, info.outputPath(delivery.fileName));
      return [path(delivery.fileName), probed(file).streams.map(({ codec_type, width, height }) => [codec_type, width, height])];
    }),
  );
  expect(kinds.sort()).toEqual([
    ['gif', [['video', 180, 320]]],
    ['mp3', [['audio', undefined, undefined]]],
  ]);
});

test(
  'what was sent is watched beside the piece as it is now, sent again, and opened as it was; all of it on a contact sheet',
  ONCE,
  async ({ page }, info) => {
    const name = `Sent ${info.project.name}`;
    await openPiece(
      page,
      name,
      [
        { ...HILL, frames: 45 },
        { ...TALK, frames: 30 },
      ],
      { width: 180, height: 320 },
    );
    await send(page);
    await press(page.getByTestId('export'));
    await finished(page, 1);
    await press(page.getByTestId('watch-export'));
    const video = page.getByTestId('watched');
    await video.evaluate((node: HTMLVideoElement) => (node.currentTime = 2));
    await expect(page.getByTestId('watched-now')).toHaveAttribute('data-time', String(2 * 705_600_000));
    expect(await video.evaluate((node: HTMLVideoElement) => [node.videoWidth, node.videoHeight, node.error])).toEqual([180, 320, null]);
    for (const [kind, begins] of [
      ['png', '\u0089PNG'],
      ['pdf', '%PDF'],
    ] as const) {
      const coming = page.waitForEvent('download');
      await press(page.getByTestId(`sheet-${kind}`));
      const sheet = await coming;
      expect(sheet.suggestedFilename()).toBe(`${name.replace(' ', '-')}-contact-sheet.${kind}`);
      expect((await readFile(await sheet.path())).toString('latin1', 0, 4)).toBe(begins);
    }
    await closeSheet(page);
    await ask(page, 'rename', { clip: null, name: `${name} on` });
    await send(page);
    await press(page.getByTestId('export-again'));
    await finished(page, 2);
    // The two of them beside each other, at the same moment.
    await press(page.getByTestId('watch-export').first());
    await press(page.getByRole('radiogroup', { name: 'Compare with' }).getByRole('radio').nth(1));
    const beside = page.getByTestId('watched-beside');
    await expect.poll(() => beside.evaluate((node: HTMLVideoElement) => node.readyState)).toBeGreaterThan(0);
    await video.evaluate((node: HTMLVideoElement) => (node.currentTime = 1.5));
    await expect.poll(() => beside.evaluate((node: HTMLVideoElement) => node.currentTime)).toBe(1.5);
    expect(new Set([await video.getAttribute('src'), await beside.getAttribute('src')]).size).toBe(2);
    await press(page.getByTestId('open-as-sent').last());
    await expect(page.getByTestId('piece-title')).toHaveText(new RegExp(`^${name} \\(as sent `));
  },
);

const path = (name: string) => name.split('.').at(-1);

test('what is exported is what one sees: it waits for the edits that are still on their way', ONCE, async ({ page }) => {
  await openPiece(page, 'On their way', [{ media: 'demo-hilltop', from: 0, frames: 30 }], { width: 270, height: 480 });
  let release: () => void = () => undefined;
  const held = new Promise<void>((resolve) => (release = resolve));
  await page.route('**/edits', async (route) => {
    await held;
    await route.continue();
  });
  const asked: string[] = [];
  page.on('request', (request) => void (/api\/deliveries$/.test(request.url()) && asked.push(request.method())));
  await doAction(page, 'from-black');
  await press(page.getByTestId('send'));
  await press(page.getByTestId('export'));
  await expect(page.getByTestId('export')).toBeDisabled();
  expect(asked).toEqual([]);
  release();
  await expect(page.getByTestId('delivery-done')).toHaveCount(1);
  expect(asked).toEqual(['POST']);
  const piece = await pieceOf(page);
  const { revision } = (await (await page.request.get(`${home()}/api/pieces/${piece.id}`)).json()) as OpenedPiece;
  const [delivery] = (await (await page.request.get(`${home()}/api/deliveries?piece=${piece.id}`)).json()) as Delivery[];
  expect([revision, delivery?.revision]).toEqual([2, 2]);
});
