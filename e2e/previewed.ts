import { execFileSync } from 'node:child_process';
import type { Page } from '@playwright/test';
import type { Piece } from '@flimzy/core/piece';
import { greyOfPng, greyOfRgba, ssim, type Grey } from './ssim';
import { expect, home } from './studio';

/** The preview as the page shows it to whoever measures it. */
export interface Measured {
  element: HTMLCanvasElement;
  shared: SharedArrayBuffer;
  show(time: number): void;
  play(from: number): Promise<void>;
  pause(): void;
  resize(width: number, height: number): void;
  onceShown: ((time: number) => void) | null;
}

/** The preview's own pixels at a time, `width` pixels wide. */
export async function previewAt(page: Page, piece: Piece, time: number, width: number): Promise<Grey> {
  const height = Math.round((width * piece.format.height) / piece.format.width);
  await page.evaluate(
    async ({ wanted, w, h }) => {
      const { flimzyPreview: engine } = globalThis as unknown as { flimzyPreview: Measured };
      engine.resize(w, h);
      await new Promise<void>((resolve) => {
        const ask = () => engine.show(wanted);
        // The page itself may ask for another frame meanwhile, which overtakes ours.
        const again = setInterval(ask, 700);
        engine.onceShown = (shown) => {
          if (shown !== wanted) return;
          clearInterval(again);
          resolve();
        };
        ask();
      });
      engine.onceShown = null;
    },
    { wanted: time, w: width, h: height },
  );
  return shownNow(page, width, height);
}

/** What the preview shows just now, in that size. */
export async function shownNow(page: Page, width: number, height: number): Promise<Grey> {
  const url = await page.evaluate(
    ({ w, h }) => {
      const { flimzyPreview: engine } = globalThis as unknown as { flimzyPreview: Measured };
      const copy = document.createElement('canvas');
      [copy.width, copy.height] = [w, h];
      copy.getContext('2d')?.drawImage(engine.element, 0, 0, w, h);
      return copy.toDataURL('image/png');
    },
    { w: width, h: height },
  );
  return greyOfPng(Buffer.from(url.slice(url.indexOf(',') + 1), 'base64'));
}

/** The same frame as the server draws it from the same proxies. */
export async function serverAt(page: Page, piece: Pick<Piece, 'id'>, time: number, width: number): Promise<Grey> {
  const answer = await page.request.get(`${home()}/api/pieces/${piece.id}/frame?at=${time}&width=${width}&from=proxy`);
  expect(answer.status()).toBe(200);
  return greyOfPng(await answer.body());
}

/** Holds that preview and server draw a frame alike; gives what the server draws. */
export async function alike(page: Page, piece: Piece, time: number, width: number, message: string): Promise<Grey> {
  const server = await serverAt(page, piece, time, width);
  await expect.poll(async () => ssim(await previewAt(page, piece, time, width), server), { message }).toBeGreaterThanOrEqual(0.99);
  return server;
}

/** One frame of an exported file, of its size in pixels. */
export function exportedFrame(file: string, frame: number, { width, height }: { width: number; height: number }): Grey {
  const args = [
    '-v',
    'error',
    '-i',
    file,
    '-vf',
    `select=eq(n\\,${frame})`,
    '-frames:v',
    '1',
    '-f',
    'rawvideo',
    '-pix_fmt',
    'rgba',
    'pipe:1',
  ];
  return greyOfRgba(execFileSync('ffmpeg', args), width, height);
}
