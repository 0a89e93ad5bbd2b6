import { spawn } from 'node:child_process';
import { rmSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import type { MediaItem } from '@flimzy/contract';
import { keptDemo } from './kept';

export const ROOT = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '..');

export interface Serving {
  address: string;
  stop(): Promise<void>;
  kill(): Promise<void>;
}

/** Starts the built server on a data folder and waits until it can be used. */
export async function serve(data: string, port = 0, env: Record<string, string> = {}, args: string[] = []): Promise<Serving> {
  const child = spawn(process.execPath, [path.join(ROOT, 'apps/server/dist/server.mjs'), '--data', data, ...args], {
    env: { ...process.env, PORT: String(port), ...env },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const address = await new Promise<string>((resolve, reject) => {
    let said = '';
    child.stdout.on('data', (chunk: Buffer) => {
      said += chunk.toString();
      const found = /Flimzy is at (\S+)/.exec(said);
      if (found?.[1]) resolve(found[1]);
    });
    child.on('exit', () => reject(new Error(`the server did not start: ${said}`)));
  });
  const end = (signal: NodeJS.Signals) =>
    new Promise<void>((resolve) => {
      child.once('exit', () => resolve());
      child.kill(signal);
    });
  return { address, stop: () => end('SIGTERM'), kill: () => end('SIGKILL') };
}

/** A data folder with the demo loaded, made once for as long as the demo and the server stay the same. */
export async function withDemo(): Promise<string> {
  const kept = keptDemo(ROOT);
  if (kept.isThere()) return kept.folder;
  rmSync(kept.folder, { recursive: true, force: true });
  const server = await serve(kept.folder);
  for (;;) {
    const items = (await (await fetch(`${server.address}/api/media`)).json()) as MediaItem[];
    if (items.every((item) => item.work === null)) break; // the last filmstrips are made
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
  await server.stop();
  kept.isMade();
  return kept.folder;
}
