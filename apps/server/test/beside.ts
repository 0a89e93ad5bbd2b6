import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { chmodSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { newFolder, ROOT } from './running';

/** An ffmpeg that lies in a folder and makes no proxy before `go` is called; while `full` is on, the disk is full for it. */
export class HeldProxies {
  private readonly file = (name: string) => path.join(this.folder, name);

  constructor(private readonly folder: string) {
    const real = execFileSync('which', ['ffmpeg']).toString().trim();
    const full = `[ -e ${this.file('full')} ] && { echo "No space left on device" >&2; exit 1; }`;
    const wait = `case "$*" in */proxy.*) while [ ! -e ${this.file('go')} ]; do sleep 0.05; done; ${full} ;; esac`;
    writeFileSync(this.file('ffmpeg'), `#!/bin/sh\n${wait}\nexec ${real} "$@"\n`);
    chmodSync(this.file('ffmpeg'), 0o755);
  }

  /** What a server is started with to find it. */
  get env(): Record<string, string> {
    return { PATH: `${this.folder}:${process.env.PATH}` };
  }

  private readonly set = (name: string, on: boolean) =>
    on ? writeFileSync(this.file(name), '') : rmSync(this.file(name), { force: true });
  go = (on = true) => this.set('go', on);
  full = (on = true) => this.set('full', on);
}

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
