import { execFileSync } from 'node:child_process';
import type { CDPSession, Page } from '@playwright/test';

/** After this a touch counts as stuck: seconds. */
const STUCK = 90;

const NEXT_FRAME = 'new Promise((done) => requestAnimationFrame(() => done("drawn")))';

async function answer(session: CDPSession, expression: string): Promise<string> {
  const asked = session.send('Runtime.evaluate', { expression, awaitPromise: true, returnByValue: true });
  const late = new Promise<null>((resolve) => setTimeout(() => resolve(null), 10_000));
  const said = await Promise.race([asked, late]).catch((error: unknown) => ({ result: { value: String(error) } }));
  return said === null ? 'no answer' : String(said.result.value);
}

/** Where the page's own thread stands, if it is busy with something. */
async function standsAt(session: CDPSession): Promise<string> {
  await session.send('Debugger.enable');
  const stopped = new Promise<string>((resolve) => {
    session.once('Debugger.paused', ({ callFrames }) =>
      resolve(
        callFrames
          .slice(0, 20)
          .map(({ functionName, url, location }) => `${functionName} ${url}:${location.lineNumber + 1}:${location.columnNumber ?? 0}`)
          .join('\n  '),
      ),
    );
    setTimeout(() => resolve('in no script'), 10_000);
  });
  await session.send('Debugger.pause');
  const where = await stopped;
  await session.send('Debugger.disable');
  return where;
}

/** Says what a page does that takes so long, and which programs take the machine. */
async function tell(page: Page): Promise<void> {
  const session = await page.context().newCDPSession(page);
  const say = (...words: string[]) => console.error('STUCK', ...words);
  say(`for ${STUCK} s at`, page.url());
  const alive = await answer(session, '1 + 1');
  say('its thread answers:', alive, '; it is', await answer(session, 'document.visibilityState'));
  const frame = await answer(session, NEXT_FRAME);
  say('its next frame:', frame);
  say('its thread stands at', await standsAt(session));
  const list = execFileSync('ps', ['-eo', 'pid,pcpu,time,stat,wchan:24,args', '--sort=-pcpu', '--cols', '140']).toString();
  say(list.split('\n').slice(0, 20).join('\n'));
  const size = page.viewportSize();
  if (alive === '2' && frame !== 'drawn' && size) {
    // The page waits for a browser that draws nothing any more: another size makes it begin anew.
    await page.setViewportSize({ ...size, height: size.height + 1 });
    await page.setViewportSize(size);
    say('its next frame after another size:', await answer(session, NEXT_FRAME));
  }
  await session.detach();
}

/** Does something to a page; when that takes far too long, says once what the page is doing, and goes on waiting. */
export async function watched<T>(page: Page, work: () => Promise<T>): Promise<T> {
  const timer = setTimeout(() => void tell(page).catch((error: unknown) => console.error('STUCK', String(error))), STUCK * 1000);
  try {
    return await work();
  } finally {
    clearTimeout(timer);
  }
}
