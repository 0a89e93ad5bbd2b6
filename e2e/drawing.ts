import type { CDPSession, Page } from '@playwright/test';

/** How often a page is asked for a frame, and how long it may take over one: milliseconds. */
const [EVERY, LATE] = [20_000, 30_000];

async function within<T>(ms: number, asked: Promise<T>): Promise<T | null> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<null>((resolve) => (timer = setTimeout(() => resolve(null), ms)));
  return Promise.race([asked, late]).finally(() => clearTimeout(timer));
}

/** Whether a page's thread answers, and whether it then draws a frame; asked beside the page's own script, whose clock a test may have stopped. */
async function look(session: CDPSession): Promise<'drawn' | 'stuck' | 'held'> {
  const tree = await within(LATE, session.send('Page.getFrameTree'));
  if (!tree) return 'held';
  const frameId = tree.frameTree.frame.id;
  const world = await within(LATE, session.send('Page.createIsolatedWorld', { frameId, worldName: 'looking' }));
  if (!world) return 'held';
  const ask = (expression: string) =>
    within(LATE, session.send('Runtime.evaluate', { expression, contextId: world.executionContextId, awaitPromise: true }));
  const frame = await ask('document.visibilityState === "hidden" || new Promise((done) => requestAnimationFrame(done))');
  if (frame) return 'drawn';
  return (await ask('1 + 1')) ? 'stuck' : 'held';
}

/** Ends the process that draws for a page's browser; the browser starts another at once. */
async function drawAnew(page: Page): Promise<void> {
  const session = await page.context().browser()?.newBrowserCDPSession();
  const { processInfo } = (await session?.send('SystemInfo.getProcessInfo')) ?? { processInfo: [] };
  for (const { type, id } of processInfo) if (type === 'GPU') process.kill(id, 'SIGKILL');
  await session?.detach();
}

/**
 * Headless Chromium has stopped drawing a page for good, once in some thousand pages, on a busy machine: no frame ever comes, whatever
 * is asked of it, so that every touch waits for ever. Its thread answers, or is held by what draws and does not answer either: seen
 * once, in a thread that had waited for eleven minutes without computing, and went on as soon as the process that draws was ended.
 * Where either is seen twice in a row, the browser is made to draw anew, and it is said. A thread that only computes loses nothing.
 */
export function keepDrawing(page: Page): void {
  let [stuck, looking] = [0, false];
  let session: CDPSession | null = null;
  const timer = setInterval(() => {
    if (looking) return;
    looking = true;
    void (async () => {
      session ??= await page.context().newCDPSession(page);
      const seen = await look(session);
      stuck = seen === 'drawn' ? 0 : stuck + 1;
      if (stuck < 2) return;
      console.error('STUCK no frame of', page.url(), seen);
      await drawAnew(page);
      console.error('STUCK drawn anew:', await look(session));
    })()
      .catch(() => undefined) // it goes somewhere else, or is closed
      .finally(() => (looking = false));
  }, EVERY);
  page.once('close', () => clearInterval(timer));
}
