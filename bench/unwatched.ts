import type { Browser } from '@playwright/test';

/** A page of a browser that is only asked to run what it is told. */
export interface Unwatched {
  /** Runs a function in the page and gives what comes of it. @throws what it threw */
  run<T, A>(work: (argument: A) => T | Promise<T>, argument: A): Promise<T>;
  /** What the browser said of it and its workers, which Playwright does not pass on. */
  said: string[];
}

/**
 * Opens a page beside those of Playwright, which has the browser keep all that its pages fetch, up to 200 MB in their memory.
 *
 * @param before run in the page before its own code
 */
export async function openUnwatched(browser: Browser, url: string, screen: object, before: () => void): Promise<Unwatched> {
  const cdp = await browser.newBrowserCDPSession();
  const { targetId } = await cdp.send('Target.createTarget', { url: 'about:blank' });
  const { sessionId } = await cdp.send('Target.attachToTarget', { targetId, flatten: false });
  const said: string[] = [];
  const waiting = new Map<number, (answer: { result?: unknown; error?: { message: string } }) => void>();
  cdp.on('Target.receivedMessageFromTarget', ({ message }) => {
    const told = JSON.parse(message) as { id?: number; method?: string; params?: unknown };
    if (told.id !== undefined) waiting.get(told.id)?.(told as never);
    else said.push(message);
  });
  let last = 0;
  const send = async <T>(method: string, params: object = {}): Promise<T> => {
    const id = (last += 1);
    const answered = new Promise<{ result?: unknown; error?: { message: string } }>((resolve) => waiting.set(id, resolve));
    await cdp.send('Target.sendMessageToTarget', { sessionId, message: JSON.stringify({ id, method, params }) });
    const { result, error } = await answered;
    waiting.delete(id);
    if (error) throw new Error(`${method}: ${error.message}`);
    return result as T;
  };
  // tsx names functions by a helper that the page has not got.
  const source = (work: (argument: never) => unknown) => `(() => { const __name = (f) => f; return ${work.toString()}; })()`;
  await send('Page.enable');
  await send('Log.enable');
  await send('Emulation.setDeviceMetricsOverride', screen);
  await send('Emulation.setTouchEmulationEnabled', { enabled: true });
  await send('Page.addScriptToEvaluateOnNewDocument', { source: `(${source(before)})()` });
  await send('Page.navigate', { url });
  return {
    said,
    async run(work, argument) {
      const expression = `(${source(work)})(${JSON.stringify(argument)})`;
      const { result, exceptionDetails } = await send<{
        result: { value: never };
        exceptionDetails?: { text: string; exception?: { description?: string } };
      }>('Runtime.evaluate', { expression, awaitPromise: true, returnByValue: true, userGesture: true });
      if (exceptionDetails) throw new Error(exceptionDetails.exception?.description ?? exceptionDetails.text);
      return result.value;
    },
  };
}
