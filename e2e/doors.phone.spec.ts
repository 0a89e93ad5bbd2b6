import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { chromium } from '@playwright/test';
import type { MediaItem, PieceSummary } from '@flimzy/contract';
import { CHROMIUM_ARGS } from './chromium';
import { serve, withDemo, type Serving } from './serving';
import { expect, home, press, test } from './studio';

/** A page of another site: another origin, as another port is one. */
async function elsewhere(): Promise<{ address: string; close: () => void }> {
  const server: Server = createServer((_request, answer) => answer.setHeader('content-type', 'text/html').end('<h1>Elsewhere</h1>'));
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const address = server.address();
  return { address: `http://127.0.0.1:${typeof address === 'object' ? address?.port : 0}`, close: () => server.close() };
}

test('a page of another site can neither read, nor upload, nor change anything here', async ({ page, request }) => {
  const other = await elsewhere();
  // A server of its own: what it holds is compared as a whole, and other tests bring things in meanwhile.
  const data = mkdtempSync(path.join(tmpdir(), 'flimzy-doors-'));
  cpSync(await withDemo(), data, { recursive: true });
  const server = await serve(data);
  const home = server.address;
  const held = async () => [
    ((await (await request.get(`${home}/api/pieces`)).json()) as PieceSummary[]).map((p) => p.id).sort(),
    ((await (await request.get(`${home}/api/media`)).json()) as MediaItem[]).map((m) => m.id).sort(),
  ];
  const before = await held();
  await page.goto(other.address);
  const tried = await page.evaluate(async (ours) => {
    const outcome = (asking: Promise<Response>) =>
      asking.then(
        async (answer) => (answer.type === 'opaque' ? 'unread' : `read ${answer.status} ${(await answer.text()).slice(0, 40)}`),
        () => 'refused',
      );
    const piece = JSON.stringify({ name: 'Not ours', format: { width: 540, height: 960, rate: { num: 30, den: 1 } } });
    const upload = { 'tus-resumable': '1.0.0', 'upload-length': '4', 'upload-metadata': 'filename YS5tcDQ=' };
    const image = new Promise<string>((resolve) => {
      const one = new Image();
      one.onload = () => resolve('read');
      one.onerror = () => resolve('refused');
      one.src = `${ours}/api/pieces/demo-first-flight/poster`;
    });
    return [
      await outcome(fetch(`${ours}/api/pieces`)),
      await outcome(fetch(`${ours}/api/pieces`, { mode: 'no-cors' })),
      await image,
      await outcome(fetch(`${ours}/api/pieces`, { method: 'POST', mode: 'no-cors', body: piece })),
      await outcome(
        fetch(`${ours}/api/pieces`, { method: 'POST', body: piece, headers: { 'content-type': 'application/json', 'x-flimzy': '1' } }),
      ),
      await outcome(fetch(`${ours}/api/uploads`, { method: 'POST', headers: upload, body: 'film' })),
      await outcome(fetch(`${ours}/api/pieces/demo-first-flight`, { method: 'DELETE', headers: { 'x-flimzy': '1' } })),
    ];
  }, home);
  for (const outcome of tried) expect(outcome).toMatch(/^(refused|unread)$/);
  // What browsers let any page do: send a form.
  await page.setContent(
    `<form method="post" action="${home}/api/pieces" enctype="text/plain"><input name='{"name":"x","y":"' value='"}'></form>`,
  );
  await page.evaluate(() => document.querySelector('form')?.submit());
  await expect(page.locator('body')).toContainText('A page of another site cannot use this server');
  expect(await held()).toEqual(before);
  other.close();
  await server.stop();
  rmSync(data, { recursive: true });
});

test('a name of elsewhere that points to this machine opens nothing', async () => {
  const { port } = new URL(home());
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: [...CHROMIUM_ARGS, '--host-resolver-rules=MAP rebound.example 127.0.0.1'],
  });
  const page = await browser.newPage();
  for (const place of ['/', '/api/pieces']) {
    const answer = await page.goto(`http://rebound.example:${port}${place}`);
    expect(answer?.status()).toBe(403);
    await expect(page.locator('body')).toContainText('does not answer to the name');
  }
  await browser.close();
});

test('with an access code nothing opens before it is typed; a wrong one is said; the device is asked once', async ({ page }) => {
  const data = mkdtempSync(path.join(tmpdir(), 'flimzy-code-'));
  const server: Serving = await serve(data, 0, { CODE: 'wind & paper' }, ['--no-demo']);
  await page.goto(server.address);
  await expect(page.getByRole('heading', { name: 'Your pieces are behind a code' })).toBeVisible();
  expect((await page.request.get(`${server.address}/api/pieces`)).status()).toBe(401);
  await page.getByLabel('Access code').fill('something else');
  await press(page.getByRole('button', { name: 'Open' }));
  await expect(page.getByRole('alert')).toContainText('That is not the code');
  await page.getByLabel('Access code').fill('wind & paper');
  await press(page.getByRole('button', { name: 'Open' }));
  await expect(page.getByText('Nothing here yet')).toBeVisible();
  await press(page.getByTestId('new'));
  await page.getByTestId('piece-name').fill('Behind a code');
  await press(page.getByTestId('make-piece'));
  await expect(page.getByTestId('piece-title')).toHaveText('Behind a code');
  await page.goto(server.address);
  await expect(page.getByText('Behind a code')).toBeVisible();
  await server.stop();
  rmSync(data, { recursive: true });
});

test('on another device, over HTTPS with the server’s own certificate, every frame is exact and a voice can be recorded', async () => {
  const data = mkdtempSync(path.join(tmpdir(), 'flimzy-https-'));
  cpSync(await withDemo(), data, { recursive: true });
  const server = await serve(data, 0, { HTTPS: 'own', HOST: '0.0.0.0', CODE: 'wind & paper', NAMES: 'studio.example' });
  const { port } = new URL(server.address);
  // A name that is not this machine's own, as a phone has one for it: under that a browser allows nothing without HTTPS.
  const args = [...CHROMIUM_ARGS, '--host-resolver-rules=MAP studio.example 127.0.0.1'];
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args });
  const context = await browser.newContext({ ignoreHTTPSErrors: true, viewport: { width: 390, height: 844 }, hasTouch: true });
  await context.addInitScript(() => localStorage.setItem('flimzy.gestures-seen', 'yes'));
  const page = await context.newPage();
  await page.goto(`https://studio.example:${port}`);
  await page.getByLabel('Access code').fill('wind & paper');
  await page.getByRole('button', { name: 'Open' }).tap();
  await page.getByTestId('piece-demo-first-flight').tap();
  await expect(page.getByTestId('picture')).toBeVisible();
  await expect(page.getByTestId('stand-in')).toHaveCount(0);
  await expect(page.getByText('This browser cannot decode video frame by frame')).toHaveCount(0);
  expect(await page.evaluate(() => [isSecureContext, crossOriginIsolated, 'getUserMedia' in navigator.mediaDevices])).toEqual([
    true,
    true,
    true,
  ]);
  await browser.close();
  await server.stop();
  rmSync(data, { recursive: true });
});

test('storage says what takes room, and frees it only when asked twice', async ({ page }) => {
  await page.goto(home());
  await press(page.getByTestId('storage'));
  await expect(page.getByTestId('storage-free')).toContainText(/GB free of/);
  await expect(page.getByTestId('free-segments')).toContainText('The next export of each piece takes as long as the first.');
  await press(page.getByTestId('free-unused-ask'));
  await expect(page.getByTestId('free-unused-sure')).toBeVisible();
  await press(page.getByRole('button', { name: 'Leave it' }));
  await expect(page.getByTestId('free-unused-sure')).toHaveCount(0);
  await page.keyboard.press('Escape');
  await expect(page.getByTestId('storage-sheet')).toHaveCount(0);
});

test('recordings that were not sent before their piece was deleted are found, saved and deleted', async ({ page }) => {
  await page.goto(home());
  // As the recorder leaves them when the page is closed: of a piece that is gone, and of one that is there.
  await page.evaluate(async () => {
    const folder = await (await navigator.storage.getDirectory()).getDirectoryHandle('takes', { create: true });
    const write = async (name: string, text: string) => {
      const file = await (await folder.getFileHandle(name, { create: true })).createWritable();
      await file.write(text);
      await file.close();
    };
    for (const [id, piece] of [
      ['3f0f4c3e-8f1c-4a52-9a43-8f4a1f0c2b11', 'gone'],
      ['3f0f4c3e-8f1c-4a52-9a43-8f4a1f0c2b12', 'demo-first-flight'],
    ]) {
      await write(`${id}.json`, JSON.stringify({ id, name: 'Narration 1', piece, inside: null, of: id, at: 0 }));
      await write(`${id}.wav`, 'R'.repeat(2048));
    }
  });
  await press(page.getByTestId('storage'));
  await expect(page.getByTestId('left-recordings')).toContainText('1 · 3 kB');
  const coming = page.waitForEvent('download');
  await press(page.getByTestId('left-recordings-save'));
  expect((await coming).suggestedFilename()).toBe('Narration-1.wav');
  await press(page.getByTestId('left-recordings-ask'));
  await press(page.getByTestId('left-recordings-sure'));
  await expect(page.getByTestId('left-recordings')).toHaveCount(0);
  const left = await page.evaluate(async () => {
    const folder = await (await navigator.storage.getDirectory()).getDirectoryHandle('takes');
    const names: string[] = [];
    for await (const name of (folder as unknown as { keys(): AsyncIterable<string> }).keys()) names.push(name);
    return names.length;
  });
  expect(left).toBe(2);
});
