import { spawn, type ChildProcess } from 'node:child_process';
import path from 'node:path';
import { newFolder, ROOT } from './running';

const PROGRAM = path.join(ROOT, 'apps/platforms/dist/platforms.mjs');

/** The made-up platforms, as a process of their own, which do what a test wants to go wrong. */
export class TestPlatforms {
  private constructor(
    readonly address: string,
    readonly data: string,
    private readonly process: ChildProcess,
  ) {}

  static async start(data = newFolder(), port = 0): Promise<TestPlatforms> {
    const args = ['--data', data, '--port', String(port), '--trouble', '0', '--tested', '--looking', '50', '--perMinute', '5000'];
    const child = spawn(process.execPath, [PROGRAM, ...args], { stdio: ['ignore', 'pipe', 'inherit'] });
    const address = await new Promise<string>((resolve, reject) => {
      let said = '';
      child.stdout.on('data', (bytes: Buffer) => {
        said += bytes.toString();
        const found = /are at (http:\S+)/.exec(said);
        if (found) resolve(found[1]!);
      });
      child.once('exit', () => reject(new Error(`the platforms did not start: ${said}`)));
    });
    return new TestPlatforms(address, data, child);
  }

  stop(): Promise<void> {
    return new Promise((resolve) => {
      if (this.process.exitCode !== null || this.process.signalCode !== null) return resolve();
      this.process.once('exit', () => resolve());
      this.process.kill('SIGKILL');
    });
  }

  /** Gets a token as a person does: from the platform's page. */
  async token(platform: string, name = 'Ada'): Promise<string> {
    const body = new URLSearchParams({ name });
    const page = await (await fetch(`${this.address}/${platform}/token`, { method: 'POST', body })).text();
    return /<code id="token">([^<]+)</.exec(page)![1]!;
  }

  /** What goes wrong next, in this order. */
  async trouble(...wanted: [place: string, how: string][]): Promise<void> {
    for (const [place, how] of wanted)
      await fetch(`${this.address}/trouble`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ place, how }),
      });
  }

  forget = (platform: string) => fetch(`${this.address}/forget/${platform}`, { method: 'POST' });

  /** The titles that everyone sees on a platform. */
  async titles(platform: string): Promise<string[]> {
    const page = await (await fetch(`${this.address}/${platform}/`)).text();
    return [...page.matchAll(/<li><a [^>]*>([^<]*)</g)].map(([, title]) => title!);
  }
}
