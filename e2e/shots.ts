import { execFileSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { CHROMIUM_ARGS } from './chromium';
import { ROOT, serve, withDemo } from './serving';
import { DEMO, goTo, press, typeInto } from './studio';

const FIRST = '/piece/demo-first-flight';
const TALK = '/piece/demo-bench-talk';
const LAYERS = '/piece/demo-kite-in-layers';

const SAID =
  'A kite is two sticks, one sheet and a line. Hold the spars as you would hold a flute, fold the paper over, and let the glue dry. Now let the line run.';

/** Selects the clip of a name by touching it. */
const touch = (page: Page, name: string) => press(page.locator('[data-kind="picture"]', { hasText: name }).first());

async function seam(page: Page): Promise<void> {
  await goTo(page, '6.21');
  await press(page.getByTestId('seam'));
  await page.getByTestId('seam-hand-over').fill('-0.08');
  await page.getByTestId('seam-hand-over').press('Enter');
  await page.getByTestId('seam-hand-over').blur();
  await page.getByTestId('seam-before').scrollIntoViewIfNeeded();
}

/** The music selected, with the panel of what keeps it under the speech. */
async function under(page: Page): Promise<void> {
  await goTo(page, '9.00');
  await press(page.locator('[data-kind="sound"]').first());
  await press(page.getByTestId('more'));
  await press(page.getByTestId('do-under'));
  await press(page.getByRole('radio', { name: 'Its track' }));
  await page.getByText(/Speech stands/).waitFor();
}

/** The first clip selected, with the panel of loudness. */
async function loudness(page: Page): Promise<void> {
  await goTo(page, '4.00');
  await touch(page, 'Hilltop');
  await press(page.getByTestId('more'));
  await press(page.getByTestId('do-loudness'));
  await page.getByTestId('loudness-reading').waitFor({ timeout: 60_000 });
}

/** A narration being recorded: the microphone hears one of the demo's own voices. */
async function narration(page: Page): Promise<void> {
  await goTo(page, '2.00');
  await press(page.getByTestId('more'));
  await press(page.getByTestId('do-narrate'));
  await press(page.getByTestId('headphones-on'));
  await page.getByTestId('narrate-ready').fill('0');
  await page.getByTestId('narrate-ready').press('Enter');
  await press(page.getByTestId('narrate-record'));
  await page.waitForTimeout(6_000);
}

/** What is said, spread over the speech, at one of its lines. */
async function captions(page: Page): Promise<void> {
  await press(page.getByTestId('more'));
  await press(page.getByTestId('do-captions'));
  await page.getByTestId('captions-text').fill(SAID);
  await press(page.getByTestId('captions-spread'));
  await press(page.getByRole('button', { name: /^Go to the caption/ }).nth(1));
  await page.getByRole('button', { name: 'Undo', exact: true }).last().waitFor({ state: 'detached' });
}

/** The music selected, with a fade at either end and a stretch that is quieter. */
async function shaped(page: Page): Promise<void> {
  await goTo(page, '6.00');
  await press(page.locator('[data-kind="sound"]').first());
  for (const [field, text] of [
    ['fadeIn', '1.5'],
    ['fadeOut', '2'],
  ] as const) {
    const figure = page.getByTestId(`card-${field}`);
    await figure.fill(text);
    await figure.press('Enter');
    await figure.blur();
  }
  await goTo(page, '5.00');
  await page.keyboard.press('i');
  await goTo(page, '8.00');
  await page.keyboard.press('o');
  await press(page.getByTestId('more'));
  await press(page.getByTestId('do-quieter'));
  await goTo(page, '6.12');
}

const mixing = async (page: Page) => {
  await goTo(page, '6.12');
  await page.keyboard.press('u');
  await press(page.getByTestId('play'));
  await page.waitForTimeout(900);
};

/** A small picture over another one, turned, on its way from one key to the next. */
async function framing(page: Page): Promise<void> {
  await goTo(page, '2.00');
  await press(page.getByTestId('handles'));
  await press(page.getByTestId('zoom-towards'));
  await typeInto(page, 'framing-turn', '−6');
  await typeInto(page, 'framing-scale', '82');
}

/** The join of two clips with a transition chosen. */
async function transition(page: Page): Promise<void> {
  await goTo(page, '6.21');
  await press(page.getByTestId('more'));
  await press(page.getByTestId('do-transition'));
  await press(page.getByTestId('transition-circle'));
}

/** A title being written over a picture. */
async function title(page: Page): Promise<void> {
  await goTo(page, '4.00');
  await press(page.getByTestId('title'));
  await page.getByTestId('title-words').fill('Wait for\nthe wind');
  await page.waitForTimeout(1200);
  await press(page.getByTestId('preset-placard'));
}

/** Looks, each on the frame at the playhead, and one of them chosen. */
async function looks(page: Page): Promise<void> {
  await goTo(page, '4.00');
  await touch(page, 'Hilltop');
  await press(page.getByTestId('more'));
  await press(page.getByTestId('do-looks'));
  await press(page.getByTestId('look-evening'));
}

/** The part of a clip between in and out at double speed. */
async function speed(page: Page): Promise<void> {
  await goTo(page, '4.00');
  await press(page.getByTestId('in'));
  await goTo(page, '5.15');
  await page.keyboard.press('o');
  await goTo(page, '4.15');
  await touch(page, 'Hilltop');
  await press(page.getByTestId('more'));
  await press(page.getByTestId('do-speed'));
  await press(page.getByRole('radio', { name: 'From in to out' }));
  await press(page.getByRole('radio', { name: '200 %' }));
}

interface Shot {
  wide?: boolean;
  /** Where it is taken, and what is done before. */
  at: string;
  before?: (page: Page) => Promise<void>;
  /** Something goes on in it. */
  moving?: boolean;
}

const SHOTS: Record<string, Shot> = {
  'pieces-phone': { at: '/' },
  'vertical-phone': { at: FIRST, before: (page) => goTo(page, '6.06') },
  'landscape-phone': { at: TALK, before: (page) => goTo(page, '8.12') },
  'shelf-phone': {
    at: FIRST,
    before: async (page) => {
      await press(page.getByTestId('add'));
      await press(page.getByRole('checkbox', { name: 'Hilltop' }));
      await press(page.getByRole('checkbox', { name: 'Talk side' }));
    },
  },
  'vertical-wide': {
    at: FIRST,
    wide: true,
    before: async (page) => {
      await goTo(page, '4.00');
      await touch(page, 'Hilltop');
    },
  },
  'seam-phone': { at: FIRST, before: seam },
  'tracks-phone': { at: LAYERS, before: (page) => goTo(page, '6.15') },
  'speed-phone': { at: FIRST, before: speed },
  'framing-phone': { at: LAYERS, before: framing },
  'transition-phone': { at: FIRST, before: transition },
  'looks-phone': { at: FIRST, before: looks },
  'title-phone': { at: FIRST, before: title },
  'sound-phone': { at: FIRST, before: shaped },
  'loudness-phone': { at: FIRST, before: loudness },
  'under-phone': { at: TALK, before: under },
  'mixing-phone': { at: LAYERS, before: mixing, moving: true },
  'narration-phone': { at: FIRST, before: narration, moving: true },
  'send-phone': {
    at: LAYERS,
    before: async (page) => {
      await goTo(page, '7.00');
      await press(page.getByTestId('send'));
      await page.getByTestId('finding-otherShape').waitFor();
      await page
        .getByText(/Measuring/)
        .first()
        .waitFor({ state: 'detached' });
    },
  },
  'captions-phone': { at: LAYERS, before: captions },
};

/** Waits until nothing on the page changes any more: a frame may come late. @throws Error where it goes on for half a minute */
async function settled(page: Page): Promise<Buffer> {
  let before = await page.screenshot();
  for (let tries = 0; tries < 30; tries += 1) {
    await page.waitForTimeout(1000);
    const now = await page.screenshot();
    if (now.equals(before)) return now;
    before = now;
  }
  throw new Error('it does not come to rest');
}

const kept = await withDemo();
const voice = path.join(mkdtempSync(path.join(tmpdir(), 'flimzy-voice-')), 'voice.wav');
execFileSync('ffmpeg', ['-v', 'error', '-i', DEMO('note-to-myself.m4a'), '-ac', '1', '-ar', '48000', voice]);
const MICROPHONE = ['--use-fake-device-for-media-stream', '--use-fake-ui-for-media-stream', `--use-file-for-fake-audio-capture=${voice}`];
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: [...CHROMIUM_ARGS, ...MICROPHONE] });
const folder = process.env.SHOTS ?? path.join(ROOT, 'docs/screenshots');
mkdirSync(folder, { recursive: true });
const wanted = process.argv.slice(2);

/** Takes one picture, of the demo as it is at first: what another one leaves in a piece is not seen. */
async function take(name: string, { wide = false, at, before, moving = false }: Shot): Promise<void> {
  const data = mkdtempSync(path.join(tmpdir(), 'flimzy-shots-'));
  cpSync(kept, data, { recursive: true });
  const server = await serve(data);
  const context = await browser.newContext({
    viewport: wide ? { width: 1280, height: 800 } : { width: 390, height: 844 },
    hasTouch: !wide,
    reducedMotion: 'reduce',
    colorScheme: process.env.LIGHT ? 'light' : 'dark',
  });
  try {
    await context.addInitScript(() => localStorage.setItem('flimzy.gestures-seen', 'yes'));
    const page = await context.newPage();
    await page.goto(server.address + at);
    await settled(page);
    await before?.(page);
    writeFileSync(path.join(folder, `${name}.png`), moving ? await page.screenshot() : await settled(page));
    console.log(name);
  } finally {
    await context.close();
    await server.stop();
    rmSync(data, { recursive: true, force: true });
  }
}

try {
  for (const [name, shot] of Object.entries(SHOTS)) if (wanted.length === 0 || wanted.includes(name)) await take(name, shot);
} finally {
  await browser.close();
  rmSync(path.dirname(voice), { recursive: true, force: true });
}
