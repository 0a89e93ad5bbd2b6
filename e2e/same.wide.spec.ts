import { execFileSync } from 'node:child_process';
import { closeSync, openSync } from 'node:fs';
import path from 'node:path';
import type { MediaItem } from '@flimzy/contract';
import { evaluate, PLAIN, pictureLayers } from '@flimzy/core/frame';
import { clipEnd, pieceLength } from '@flimzy/core/piece';
import { Transition, TransitionKind, type PropertyValues } from '@flimzy/core/properties';
import { mix, type PcmReader } from '@flimzy/core/sound';
import { frameAt, frameStart, fromSamples, toSamples } from '@flimzy/core/time';
import { readPcm } from '../apps/server/src/media/pcm';
import { codePoints, readCode } from '../demo/code';
import { sourceFrames } from './frames';
import { previewAt, serverAt, type Measured } from './previewed';
import { greyOfRgba, ssim, type Grey } from './ssim';
import { ask, CODED, bringIn, clip, expect, exportTo, home, item, mainClips, openPiece, pieceOf, test } from './studio';

test('the compositor draws alike in the browser and on the server, from the same source pictures', async ({ page }) => {
  for (const id of ['demo-first-flight', 'demo-bench-talk']) {
    await page.goto(`${home()}/piece/${id}`);
    await expect(clip(page, 0)).toBeAttached();
    const piece = await pieceOf(page);
    const width = piece.format.width < piece.format.height ? 360 : 640;
    for (const c of piece.tracks[0]?.clips ?? []) {
      const time = frameStart(frameAt(c.start + c.length / 2, piece.format.rate), piece.format.rate);
      const server = await serverAt(page, piece, time, width);
      // What a worker drew reaches the page's canvas when the browser gets to it: a picture that is not there yet is looked at again.
      await expect
        .poll(async () => ssim(await previewAt(page, piece, time, width), server), { message: `${piece.name}, ${c.name}` })
        .toBeGreaterThanOrEqual(0.99);
    }
  }
});

const RATE = { num: 30, den: 1 };

/** What a picture can be made to look like: each is drawn on both sides and compared. */
const LOOKS: { name: string; values: PropertyValues }[] = [
  { name: 'small, between pixels', values: { scale: 0.513, x: 0.0731, y: -0.1177, backdrop: 'black' } },
  { name: 'turned', values: { scale: 0.7, turn: 17, backdrop: 'colour' } },
  { name: 'turned and half there', values: { turn: -33, opacity: 0.6, backdrop: 'gradient' } },
  { name: 'flipped', values: { flip: 'both', backdrop: 'blur', fit: 'fit' } },
  {
    name: 'its own blur, little, light and grey',
    values: { fit: 'fit', scale: 0.6, backdrop: 'blur', backdropSoft: 0.1, backdropLight: 0.95, backdropColourful: 0.3 },
  },
  { name: 'cut and flipped', values: { flip: 'across', cropLeft: 0.31, cropTop: 0.12, scale: 0.8, backdrop: 'gradient', fit: 'fit' } },
  { name: 'near its focus', values: { scale: 2.2, focusX: 0.2, focusY: 0.8 } },
  {
    name: 'cut, turned and moving',
    values: {
      cropRight: 0.4,
      turn: 40,
      scale: {
        keys: [
          { at: 0, value: 0.4, ease: 'even' },
          { at: 705_600_000, value: 0.9, ease: 'even' },
        ],
      },
    },
  },
];

test('framed pictures, backdrops and framed nests are drawn alike in the browser and on the server', async ({ page }) => {
  await openPiece(page, 'Framed', [{ media: 'demo-hilltop', from: 30, frames: 30 }]);
  const at = frameStart(17, RATE);
  const look = async (name: string) => {
    const piece = await pieceOf(page);
    const server = await serverAt(page, piece, at, 360);
    await expect.poll(async () => ssim(await previewAt(page, piece, at, 360), server), { message: name }).toBeGreaterThanOrEqual(0.99);
    return server;
  };
  const [first] = await mainClips(page);
  const plain = await look('plain');
  for (const { name, values } of LOOKS) {
    await ask(page, 'set', { clips: [first!.id], values: { ...PLAIN, fit: 'fill', backdrop: 'blur', opacity: 1, ...values } });
    expect([name, ssim(await look(name), plain) < 0.97]).toEqual([name, true]);
  }
  await ask(page, 'nest', { clips: [first!.id], name: 'Inside' });
  const [nest] = await mainClips(page);
  await ask(page, 'set', { clips: [nest!.id], values: { scale: 0.6, turn: 21, cropTop: 0.2, opacity: 0.8 } });
  await look('a nest');
});

test('every transition is drawn alike in the browser and on the server', async ({ page }) => {
  const size = { width: 270, height: 480 };
  await openPiece(
    page,
    'Going over',
    [
      { media: 'demo-hilltop', from: 30, frames: 40 },
      { media: 'demo-talk-front', from: 60, frames: 40 },
    ],
    size,
  );
  const [, second] = await mainClips(page);
  for (const [n, kind] of TransitionKind.options.entries()) {
    const transition = Transition.parse({
      kind,
      length: frameStart(20, RATE),
      direction: (['left', 'right', 'up', 'down'] as const)[n % 4],
      colour: '#2266aa',
    });
    await ask(page, 'set', { clips: [second!.id], values: { transition } });
    const piece = await pieceOf(page);
    for (const frame of [34, 46]) {
      const at = frameStart(frame, RATE);
      const server = await serverAt(page, piece, at, 270);
      await expect
        .poll(async () => ssim(await previewAt(page, piece, at, 270), server), { message: `${kind} at ${frame}` })
        .toBeGreaterThanOrEqual(0.99);
    }
  }
});

test('the preview from proxies is the exported frame, around every cut: the same picture and the right frame', async ({ page }, info) => {
  const names = ['hilltop', 'line-in-hand', 'beach-run', 'spars'];
  await openPiece(page, 'Brought in', []);
  await bringIn(page, ...names.map(CODED));
  for (const name of names) await expect(item(page, name)).toBeEnabled();
  const all = (await (await page.request.get(`${home()}/api/media`)).json()) as MediaItem[];
  const clips = names.map((name, i) => ({
    media: all.find((m) => m.name === name && m.usable)?.id ?? name,
    from: 20 + i,
    frames: 50,
    fit: name === 'spars' ? ('fit' as const) : ('fill' as const), // the one of another shape
  }));
  await openPiece(page, 'Same', clips);
  const piece = await pieceOf(page);
  const { rate } = piece.format;
  const [width, height] = [360, 640];
  const file = path.join(info.outputDir, 'out.mp4');
  await exportTo(page, file);
  await page.keyboard.press('Escape');
  const frameOf = await sourceFrames(page, piece);
  const cuts = (piece.tracks[0]?.clips ?? []).map(clipEnd);
  const frames = cuts
    .flatMap((cut) => [-2, -1, 0, 1].map((n) => frameAt(cut, rate) + n))
    .filter((n) => n < frameAt(pieceLength(piece), rate));
  const wanted = [0, 1, ...frames];
  const select = `select=${wanted.map((n) => `eq(n\\,${n})`).join('+')},scale=${width}:${height}:flags=bicubic`;
  const args = ['-v', 'error', '-i', file, '-vf', select, '-fps_mode', 'passthrough', '-f', 'rawvideo', '-pix_fmt', 'rgba', 'pipe:1'];
  const rgba = execFileSync('ffmpeg', args, { maxBuffer: 1 << 28 });
  const size = width * height * 4;
  expect(rgba.length).toBe(size * wanted.length);
  for (const [i, n] of wanted.entries()) {
    const time = frameStart(n, rate);
    const exported = greyOfRgba(rgba.subarray(i * size, (i + 1) * size), width, height);
    const layer = pictureLayers(evaluate(piece, time).layers).at(-1);
    const facts = layer ? piece.media[layer.picture.media] : undefined;
    if (!layer || !facts) throw new Error(`nothing is due at frame ${n}`);
    const side = (Math.min(facts.width, facts.height) * layer.rect.width * width) / facts.width / piece.format.width;
    const due = frameOf(layer.picture);
    const read = (g: Grey) => readCode(codePoints(width, height, side).map(({ x, y }) => g.data[y * width + x] ?? 0));
    expect(read(exported), `frame ${n}`).toBe(due);
    await expect
      .poll(
        async () => {
          const preview = await previewAt(page, piece, time, width);
          return [read(preview), ssim(preview, exported) >= 0.96];
        },
        { message: `frame ${n}` },
      )
      .toEqual([due, true]);
  }
});

/** Reads decoded sound as the server does for an export. */
function serverSound(): { read: PcmReader; close: () => void } {
  const open = new Map<string, number>();
  const read: PcmReader = (media, from, count) => {
    let handle = open.get(media);
    if (handle === undefined)
      open.set(media, (handle = openSync(path.join(process.env.FLIMZY_DATA ?? '', 'media', media, 'sound.pcm'), 'r')));
    const samples = readPcm(handle, from, count);
    const channel = (c: number) => samples.filter((_, i) => i % 2 === c);
    return { left: channel(0), right: channel(1) };
  };
  return { read, close: () => open.forEach((handle) => closeSync(handle)) };
}

test('what is heard is what is sent: the preview’s mix equals the export’s before encoding, sample for sample', async ({ page }) => {
  await page.goto(`${home()}/piece/demo-first-flight`);
  await expect(clip(page, 0)).toBeAttached();
  const piece = await pieceOf(page);
  const sound = serverSound();
  await page.getByTestId('play').click();
  await page.getByTestId('play').click();
  for (const seconds of [0, 1.7, 7.3]) {
    const from = toSamples(seconds * 705_600_000);
    const heard = await page.evaluate(async (start) => {
      const { flimzyPreview: engine } = globalThis as unknown as { flimzyPreview: Measured };
      const control = new Int32Array(engine.shared, 0, 16); // the first slot counts what is written
      for (;;) {
        await engine.play(start);
        while (Atomics.load(control, 0) < 32_768) await new Promise((resolve) => setTimeout(resolve, 5));
        const ring = [...new Float32Array(engine.shared, 64, 2 * 32_768)];
        const written = Atomics.load(control, 0);
        engine.pause();
        if (written <= 65_536) return ring; // else the ring has come round meanwhile, and holds what is later
      }
    }, fromSamples(from));
    const due = mix(piece, from, from + 32_768, sound.read);
    let worst = 0;
    let loudest = 0;
    for (let i = 0; i < 32_768; i += 1) {
      worst = Math.max(worst, Math.abs((heard[i * 2] ?? 9) - (due.left[i] ?? 0)), Math.abs((heard[i * 2 + 1] ?? 9) - (due.right[i] ?? 0)));
      loudest = Math.max(loudest, Math.abs(due.left[i] ?? 0));
    }
    expect(loudest, `there is something to hear at ${seconds} s`).toBeGreaterThan(0.01);
    expect(worst, `from ${seconds} s`).toBeLessThan(1e-4);
  }
  sound.close();
});
