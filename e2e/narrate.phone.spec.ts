import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Page } from '@playwright/test';
import type { MediaItem } from '@flimzy/contract';
import { takesWith } from '@flimzy/core/piece';
import { frameLength, SAMPLE_RATE as S } from '@flimzy/core/time';
import type { ExactEngine } from '../apps/studio/src/preview/exact';
import { wrongs } from './axe';
import { CHROMIUM_ARGS } from './chromium';
import { doAction, expect, goTo, home, openPiece, pieceOf, press, samplesOf, test, THREE, typeInto, type Wanted } from './studio';

/** What the microphone of the test hears: a tone of 500 Hz that goes on without end. */
const folder = mkdtempSync(path.join(tmpdir(), 'flimzy-voice-'));
const HEARD = path.join(folder, 'tone.wav');
execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'sine=frequency=500:duration=20:sample_rate=48000,volume=6dB', HEARD]);

test.use({
  launchOptions: {
    executablePath: '/usr/bin/chromium',
    args: [
      ...CHROMIUM_ARGS,
      '--use-fake-device-for-media-stream',
      '--use-fake-ui-for-media-stream',
      `--use-file-for-fake-audio-capture=${HEARD}`,
    ],
  },
});

const F = frameLength({ num: 30, den: 1 });
const TALK: Wanted = { media: 'demo-talk-front', from: 18, frames: 300 };
const SIZE = { width: 270, height: 480 };
const narration = async (page: Page) => (await pieceOf(page)).tracks.find((track) => track.name === 'Narration')!;
/** Seconds that are recorded by now. */
const length = async (page: Page) => Number((await page.getByTestId('narrate-length').textContent())?.split(':')[1] ?? 0);

async function openNarration(page: Page, headphones: 'on' | 'off'): Promise<void> {
  await doAction(page, 'narrate');
  await press(page.getByTestId(`headphones-${headphones}`));
}

/** Records until so many seconds are there. */
async function record(page: Page, seconds: number, button = 'narrate-record'): Promise<void> {
  await press(page.getByTestId(button));
  await expect.poll(() => length(page).catch(() => 0)).toBeGreaterThan(seconds);
  await press(page.getByTestId('narrate-stop'));
  await expect(page.getByTestId('narrate-taken')).toBeVisible();
}

const itemOf = async (page: Page, id: string): Promise<MediaItem | null> => {
  const answer = await page.request.get(`${home()}/api/media/${id}`);
  return answer.ok() ? ((await answer.json()) as MediaItem) : null;
};
const arrived = (page: Page, id: string) => expect.poll(async () => (await itemOf(page, id))?.status).toBe('ready');

/** The left side of what was recorded, as the file that came to the server holds it. */
async function recorded(page: Page, id: string): Promise<Float32Array> {
  const file = path.join(folder, `${id}.wav`);
  writeFileSync(file, await (await page.request.get(`${home()}/api/media/${id}/original`)).body());
  return samplesOf(file).filter((_, i) => i % 2 === 0);
}

/** How far a tone of 500 Hz is from going on as it should, at its worst, as a share of its strength. */
function broken(samples: Float32Array): number {
  let [worst, strength] = [0, 0];
  for (let i = S / 500; i < samples.length; i += 1) {
    strength = Math.max(strength, samples[i]!);
    worst = Math.max(worst, Math.abs(samples[i]! - samples[i - S / 500]!));
  }
  return worst / strength;
}

/** A microphone within the sound card's own graph that hears the same tone: on a machine that has no time, a browser's fills what a real one missed with silence. */
const unbroken = (page: Page) =>
  page.addInitScript(() => {
    AudioContext.prototype.createMediaStreamSource = function (this: AudioContext) {
      const tone = new OscillatorNode(this, { frequency: 500 });
      tone.start();
      return tone.connect(new GainNode(this, { gain: 0.25 })) as unknown as MediaStreamAudioSourceNode;
    };
  });

test('a voice is judged, recorded over the piece, heard, recorded again, and its takes are swapped', async ({ page }) => {
  await unbroken(page);
  await openPiece(page, 'Narration', THREE, SIZE);
  await goTo(page, '1.00');
  await openNarration(page, 'off');
  await expect(page.getByTestId('voice-verdict')).toHaveText('That is fine.');
  expect(await wrongs(page, 'all')).toEqual([]);
  await expect(page.getByTestId('narrate-ready')).toHaveValue('3 s');
  await typeInto(page, 'narrate-ready', 'soon');
  await expect(page.getByText('Between 0 and 10 s.')).toBeVisible();
  await typeInto(page, 'narrate-ready', '10');
  await press(page.getByTestId('narrate-record'));
  await expect(page.getByTestId('narrate-left')).toBeVisible();
  await press(page.getByTestId('narrate-cancel'));
  await typeInto(page, 'narrate-ready', '0.5');
  await record(page, 1.5);

  const track = await narration(page);
  expect(track).toMatchObject({ kind: 'sound', role: 'speech', clips: [{ name: 'Narration 1', start: 30 * F, from: 0 }] });
  const first = track.clips[0]!;
  await arrived(page, first.media);
  const { facts } = (await itemOf(page, first.media))!;
  expect(facts!.length - first.length).toBeLessThan(F);
  // Nothing is missing and nothing is twice: the tone goes on as it should all the way.
  const samples = await recorded(page, first.media);
  expect(samples.length).toBeGreaterThan(1.5 * S);
  expect(samples.some((one) => one > 0.1)).toBe(true);
  expect(broken(samples)).toBeLessThan(0.05);

  for (const colorScheme of ['light', 'dark'] as const) {
    await page.emulateMedia({ colorScheme });
    expect(await wrongs(page, 'contrast')).toEqual([]);
  }
  await press(page.getByTestId('narrate-hear'));
  await expect(page.getByRole('button', { name: 'Pause' }).first()).toBeVisible();
  await press(page.getByTestId('narrate-hear'));
  await record(page, 0.8, 'narrate-once-more');
  const second = (await narration(page)).clips;
  expect(second).toMatchObject([{ name: 'Narration 2', start: 30 * F }]);
  expect(takesWith(await pieceOf(page), first.media).map((entry) => entry.media.name)).toEqual(['Narration 1', 'Narration 2']);
  await press(page.getByRole('radio', { name: 'Narration 1' }));
  await expect.poll(async () => (await narration(page)).clips).toMatchObject([{ media: first.media, start: 30 * F, length: first.length }]);
  await press(page.getByTestId('narrate-keep'));
  await expect(page.getByTestId('narrate-record')).toBeVisible();
  await press(page.getByTestId('undo'));
  await press(page.getByTestId('undo'));
  await press(page.getByTestId('undo'));
  await expect.poll(async () => (await pieceOf(page)).tracks.some((one) => one.name === 'Narration')).toBe(false);
});

test('a microphone that may not be had is said with what to do, and can be tried again', async ({ page }) => {
  await page.addInitScript(() => {
    const real = navigator.mediaDevices.getUserMedia.bind(navigator.mediaDevices);
    let asked = 0;
    navigator.mediaDevices.getUserMedia = (wish) => {
      asked += 1;
      return asked === 1 ? Promise.reject(new DOMException('no', 'NotAllowedError')) : real(wish);
    };
  });
  await openPiece(page, 'No microphone', THREE, SIZE);
  await doAction(page, 'narrate');
  await expect(page.getByTestId('narrate-trouble')).toContainText('Allow it beside the address');
  await press(page.getByTestId('narrate-again'));
  await expect(page.getByTestId('voice-verdict')).toBeVisible();
});

test('a recording that is stopped before it began leaves everything ready for the next', async ({ page }) => {
  await openPiece(page, 'Stopped at once', THREE, SIZE);
  await openNarration(page, 'off');
  await typeInto(page, 'narrate-ready', '0');
  await expect(page.getByTestId('narrate-record')).toBeEnabled();
  // Touched the moment that it is on the page, so that nothing can have begun.
  await page.evaluate(() =>
    new MutationObserver((_, watching) => {
      const stop = document.querySelector<HTMLElement>('[data-testid="narrate-stop"]');
      if (!stop) return;
      watching.disconnect();
      stop.click();
    }).observe(document.body, { childList: true, subtree: true }),
  );
  await press(page.getByTestId('narrate-record'));
  await expect(page.getByTestId('narrate-record')).toBeEnabled();
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
  // One that is begun while the piece plays begins on a frame all the same.
  await press(page.getByTestId('play'));
  await expect(page.getByRole('button', { name: 'Pause' }).first()).toBeVisible();
  await record(page, 0.6);
  const [clip] = (await narration(page)).clips;
  expect(clip!.start % F).toBe(0);
  await arrived(page, clip!.media);
  expect((await recorded(page, clip!.media)).some((one) => one > 0.1)).toBe(true);
});

test('what was recorded when the page is killed is on the shelf afterwards', async ({ page, context }) => {
  await unbroken(page);
  await openPiece(page, 'Killed', THREE, SIZE);
  await goTo(page, '1.00');
  await openNarration(page, 'on');
  await typeInto(page, 'narrate-ready', '0');
  await press(page.getByTestId('narrate-record'));
  await expect.poll(() => length(page)).toBeGreaterThan(2.5);
  const told = await length(page);
  const address = page.url();
  const cdp = await context.newCDPSession(page);
  void cdp.send('Page.crash').catch(() => undefined);
  await page.waitForEvent('crash');

  const next = await context.newPage();
  await next.goto(address);
  await expect(next.getByText(/s that were recorded when the page was closed are on the shelf as “Narration 1, cut off”/)).toBeVisible();
  const entry = (await pieceOf(next)).shelf!.at(-1)!;
  expect(entry).toMatchObject({ media: { name: 'Narration 1, cut off' }, take: { at: 30 * F } });
  await arrived(next, entry.media.id);
  const samples = await recorded(next, entry.media.id);
  expect(samples.length / S).toBeGreaterThan(told - 1);
  expect(entry.media.length).toBe((await itemOf(next, entry.media.id))!.facts!.length);
  expect(broken(samples)).toBeLessThan(0.05);
});

test.describe('what the loudspeaker plays, heard by the microphone', () => {
  /** So many seconds pass in the air. */
  const AIR = 0.137;

  test.beforeEach(async ({ context }) => {
    await context.addInitScript((air) => {
      const airs = new Map<BaseAudioContext, DelayNode>();
      const plain = AudioNode.prototype.connect as (this: AudioNode, to: AudioNode) => AudioNode;
      const airOf = (context: BaseAudioContext) => {
        const made = airs.get(context) ?? new DelayNode(context, { delayTime: air, maxDelayTime: 1 });
        airs.set(context, made);
        return made;
      };
      AudioNode.prototype.connect = function (this: AudioNode, to: AudioNode) {
        if (to === this.context.destination) plain.call(this, airOf(this.context));
        return plain.call(this, to);
      } as typeof AudioNode.prototype.connect;
      // Through the sound card's own graph: no buffers of streams between, whose length changes with how busy the machine is.
      AudioContext.prototype.createMediaStreamSource = function (this: AudioContext) {
        return airOf(this) as unknown as MediaStreamAudioSourceNode;
      };
    }, AIR);
  });

  test('the delay is measured, and what is recorded over a stretch is in step with the piece', async ({ page }) => {
    await openPiece(page, 'In step', [TALK], SIZE);
    await openNarration(page, 'on');
    await press(page.getByTestId('narrate-measure'));
    await expect(page.getByText('Delay, as measured')).toBeVisible();
    expect(Number.parseInt(await page.getByTestId('narrate-delay').inputValue())).toBeGreaterThanOrEqual(AIR * 1000);
    await press(page.getByRole('radio', { name: 'As it is' }));
    await typeInto(page, 'narrate-ready', '0');
    await goTo(page, '2.00');
    await page.keyboard.press('i');
    await goTo(page, '5.00');
    await page.keyboard.press('o');
    await expect(page.getByTestId('narrate-record')).toHaveText('Record 0:02.00 to 0:05.00');
    await press(page.getByTestId('narrate-record'));
    // It ends by itself at the end of the stretch, to the sample.
    await expect(page.getByTestId('narrate-taken')).toBeVisible();
    const [clip] = (await narration(page)).clips;
    expect([clip!.start / F, clip!.length / F]).toEqual([60, 90]);
    await arrived(page, clip!.media);
    const heard = await recorded(page, clip!.media);
    expect(heard.length).toBe(3 * S);

    // The same three seconds as they are in the material: they fit best where they lie.
    const query = { from: Math.round(((18 + 60) / 30) * S), count: 3 * S };
    const address = `${home()}/api/media/${TALK.media}/sound?from=${query.from}&count=${query.count}`;
    const bytes = await (await page.request.get(address)).body();
    const both = new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength));
    const fit = (shift: number) => {
      let sum = 0;
      for (let i = S / 2; i < 2.5 * S; i += 1) sum += heard[i + shift]! * both[i * 2]!;
      return sum;
    };
    const shifts = Array.from({ length: 4_001 }, (_, n) => n - 2_000);
    const fits = shifts.map(fit);
    const best = shifts[fits.indexOf(Math.max(...fits))]!;
    // Where the machine was too busy to play on for a moment, what followed was played that much later.
    const stumbled = await page.evaluate(() => (globalThis as unknown as { flimzyPreview: ExactEngine }).flimzyPreview.figures.underruns);
    expect(Math.abs(best / S)).toBeLessThanOrEqual(0.01 + (stumbled * 128) / S);
  });
});
