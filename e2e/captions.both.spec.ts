import { execFileSync } from 'node:child_process';
import { readFile, writeFile } from 'node:fs/promises';
import type { Page } from '@playwright/test';
import type { Delivery } from '@flimzy/contract';
import { PLATFORM_FORMATS, type PlatformFormat } from '@flimzy/core/deliver';
import { readCaptions } from '@flimzy/core/formats';
import { cuesOf, isCaptions, type Piece } from '@flimzy/core/piece';
import { formatTimecode, fromSeconds } from '@flimzy/core/time';
import { doAction, expect, ffprobe, goTo, home, openPiece, OURS, pieceOf, press, selectClip, test, ONCE } from './studio';

const SMALL = { width: 360, height: 640 };
const TALK = { media: 'demo-talk-front', from: 18, frames: 180 };
const SAID = 'This is the paper. We fold it once, then twice, and hold it down. Then we cut.';

const texts = (piece: Piece) => cuesOf(piece).map(({ text }) => text);
const rows = (page: Page) => page.getByTestId('caption');

test(
  'what is said is spread over the speech, corrected line by line, made to look alike, and saved as a file',
  ONCE,
  async ({ page }, info) => {
    await openPiece(page, `Captions ${info.project.name}`, [TALK], SMALL);
    await doAction(page, 'captions');
    // One for each phrase, to be written; what is typed is kept when the panel is closed.
    await press(page.getByTestId('captions-phrases'));
    await expect(rows(page).first()).toBeVisible();
    expect(texts(await pieceOf(page))).toEqual([]);
    await page.getByTestId('caption-words').first().fill('Paper');
    await page.keyboard.press('Escape');
    await expect(page.getByTestId('captions-panel')).toHaveCount(0);
    await expect.poll(async () => texts(await pieceOf(page))).toEqual(['Paper']);
    await doAction(page, 'captions');
    await press(page.getByRole('button', { name: /^Go to the caption at/ }).first());
    // What is said in it is played, and then it stands at its start again.
    const said = await page.getByTestId('clock').inputValue();
    await page.getByTestId('play').evaluate((node) => {
      const seen: (string | null)[] = [];
      Object.assign(window, { seen });
      new MutationObserver(() => seen.push(node.getAttribute('aria-label'))).observe(node, { attributeFilter: ['aria-label'] });
    });
    await press(page.getByTestId('caption-hear'));
    await expect.poll(() => page.evaluate(() => (window as unknown as { seen: string[] }).seen)).toEqual(['Pause', 'Play']);
    await expect(page.getByTestId('clock')).toHaveValue(said);
    // All of it at once, instead of those.
    await press(page.getByTestId('captions-more'));
    await page.getByTestId('captions-text').fill(SAID);
    await press(page.getByTestId('captions-spread'));
    await expect(rows(page).first()).toBeVisible();
    const written = await pieceOf(page);
    expect(texts(written).join(' ')).toBe(SAID);
    expect(texts(written).length).toBeGreaterThan(2);
    expect(written.tracks.filter(isCaptions)).toHaveLength(1);
    // They begin when she does, within what a frame of listening is off.
    const heard = (await (await page.request.get(`${home()}/api/media/demo-talk-front/hearing`)).json()) as { speech: [number, number][] };
    const begins = fromSeconds(heard.speech[0]![0] / 48_000) - fromSeconds(18 / 30);
    expect(Math.abs(cuesOf(written)[0]!.from - Math.max(0, begins))).toBeLessThanOrEqual(fromSeconds(0.05));
    // A line is corrected; Enter goes on to the next.
    const fields = page.getByTestId('caption-words');
    await fields.first().fill('This here is the paper.');
    await fields.first().press('Enter');
    await expect(fields.nth(1)).toBeFocused();
    await expect.poll(async () => texts(await pieceOf(page))[0]).toBe('This here is the paper.');
    // One is larger, then all are.
    await press(page.getByTestId('captions-more'));
    await press(page.getByTestId('captions-look'));
    await page.getByTestId('title-size').fill('9');
    await page.getByTestId('title-size').press('Enter');
    const sizes = async () =>
      (await pieceOf(page)).tracks
        .filter(isCaptions)
        .flatMap(({ clips }) => clips.map(({ overlay }) => (overlay && overlay !== 'none' ? overlay.parts[0]?.size : null)));
    await expect.poll(async () => (await sizes()).filter((size) => size === 0.09).length).toBe(1);
    await press(page.getByTestId('captions-alike'));
    await expect.poll(async () => new Set(await sizes())).toEqual(new Set([0.09]));
    await press(page.getByTestId('captions-back'));
    // The last one goes, and the rest is saved.
    const before = texts(await pieceOf(page));
    await press(page.getByRole('button', { name: /^Go to the caption at/ }).last());
    await press(page.getByTestId('caption-remove'));
    await expect.poll(async () => texts(await pieceOf(page))).toEqual(before.slice(0, -1));
    await press(page.getByTestId('captions-more'));
    const coming = page.waitForEvent('download');
    await press(page.getByTestId('save-srt'));
    const file = await coming;
    expect(file.suggestedFilename()).toBe(`Captions ${info.project.name}.srt`);
    expect(readCaptions(await readFile(await file.path(), 'utf8')).cues.map(({ text }) => text)).toEqual(before.slice(0, -1));
    // What is said first is cut away on its track alone: its caption goes, the others stay over their words.
    await page.keyboard.press('Escape');
    const [, ...others] = cuesOf(await pieceOf(page));
    const cut = others[0]!.from;
    await selectClip(page, 0);
    await goTo(page, formatTimecode(cut, { num: 30, den: 1 }));
    await doAction(page, 'trim-head');
    await expect
      .poll(async () => cuesOf(await pieceOf(page)))
      .toEqual(others.map(({ from, to, text }) => ({ from: from - cut, to: to - cut, text })));
  },
);

interface Area {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** How far two files differ in brightness at a time (seconds) in some part of the frame, on average; 0 to 255. */
function difference(one: string, other: string, at: number, { x, y, width, height }: Area): number {
  const grey = ['-frames:v', '1', '-vf', `crop=${width}:${height}:${x}:${y},format=gray`, '-f', 'rawvideo', 'pipe:1'];
  const [a, b] = [one, other].map((file) => execFileSync('ffmpeg', ['-v', 'error', '-ss', String(at), '-i', file, ...grey]));
  if (!a || !b || a.length !== width * height || b.length !== a.length) throw new Error('the frames could not be read');
  return a.reduce((sum, value, n) => sum + Math.abs(value - b[n]!), 0) / a.length;
}

function format(name: string, captions: PlatformFormat['captions']): PlatformFormat {
  const [short] = PLATFORM_FORMATS as [PlatformFormat];
  return { ...short, id: `own-${name}`, name, sizes: [SMALL], length: { least: 1, most: 60 }, loudness: null, captions };
}

test(
  'missing captions are found, brought in from a file, drawn for one format and beside the file of another',
  ONCE,
  async ({ page }, info) => {
    const [drawn, beside] = [format('drawn', 'burned in'), format('beside', 'beside')];
    for (const data of [drawn, beside]) await page.request.post(`${home()}/api/formats`, { headers: OURS, data });
    await openPiece(page, 'Captions sent', [TALK], SMALL);
    await press(page.getByTestId('send'));
    for (const { id } of [drawn, beside]) await press(page.getByTestId(`format-${id}`));
    const part = page.getByTestId(`part-${drawn.id}`);
    await expect(part.getByTestId('finding-uncaptioned')).toContainText('There are no captions.');
    await press(part.getByTestId('mend-uncaptioned'));
    await expect(page.getByTestId('captions-panel')).toBeVisible();
    // A file that is none says so; one that is has its captions on the timeline.
    const [wrong, right] = [info.outputPath('list.srt'), info.outputPath('said.srt')];
    await writeFile(wrong, 'milk\neggs\n');
    const block = (n: number, from: string, to: string, text: string) => `${n}\r\n00:00:${from} --> 00:00:${to}\r\n${text}\r\n\r\n`;
    await writeFile(right, block(1, '00,100', '02,000', '<i>This is</i> the paper') + block(2, '02,000', '05,900', 'fold it, then cut'));
    const bring = async (file: string) => {
      const chooser = page.waitForEvent('filechooser');
      await press(page.getByTestId('captions-bring'));
      await (await chooser).setFiles(file);
    };
    await bring(wrong);
    await expect(page.getByText('“list.srt” has no captions in it')).toBeVisible();
    await bring(right);
    await expect(rows(page)).toHaveCount(2);
    expect(cuesOf(await pieceOf(page))).toEqual([
      { from: fromSeconds(3 / 30), to: fromSeconds(2), text: 'This is the paper' },
      { from: fromSeconds(2), to: fromSeconds(177 / 30), text: 'fold it, then cut' },
    ]);
    await page.keyboard.press('Escape');
    await press(page.getByTestId('send'));
    await expect(part.getByTestId('finding-uncaptioned')).toHaveCount(0);
    await expect(part.getByTestId(`captions-${drawn.id}`)).toHaveText('2 captions, in the picture');
    await expect(page.getByTestId(`captions-${beside.id}`)).toHaveText('2 captions, a file beside it');
    await press(page.getByTestId('export'));
    await expect(page.getByTestId('delivery-done')).toHaveCount(2);
    const coming = page.waitForEvent('download');
    await press(page.getByTestId('captions-srt'));
    expect(readCaptions(await readFile(await (await coming).path(), 'utf8')).cues).toEqual(cuesOf(await pieceOf(page)));
    const { id } = await pieceOf(page);
    const made = (await (await page.request.get(`${home()}/api/deliveries?piece=${id}`)).json()) as Delivery[];
    const fileOf = async (one: PlatformFormat) => {
      const delivery = made.find(({ settings }) => settings.format?.id === one.id);
      const file = info.outputPath(`${one.id}.mp4`);
      await writeFile(file, await (await page.request.get(`${home()}/api/deliveries/${delivery?.id}/file`)).body());
      return file;
    };
    const [withWords, without] = [await fileOf(drawn), await fileOf(beside)];
    for (const file of [withWords, without])
      expect(ffprobe('-select_streams', 's', '-show_entries', 'stream=index', '-of', 'csv', file)).toBe('');
    // Alike but for where the words stand.
    expect(difference(withWords, without, 1, { x: 0, y: 0, width: 360, height: 320 })).toBeLessThan(1);
    expect(difference(withWords, without, 1, { x: 36, y: 430, width: 288, height: 60 })).toBeGreaterThan(5);
  },
);
