import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync } from 'node:fs';
import type { Readable } from 'node:stream';

/** A program that ended badly, with the last lines it wrote about it. */
export class ProgramFailed extends Error {
  override name = 'ProgramFailed';
  constructor(
    program: string,
    /** How it ended; null when a signal ended it. */
    readonly code: number | null,
    readonly said: string,
    signal: NodeJS.Signals | null = null,
  ) {
    super(`${program} ended with ${signal ?? code}: ${said}`);
  }
}

/** A program that is not installed. */
export class ProgramMissing extends Error {
  override name = 'ProgramMissing';
  constructor(readonly program: string) {
    super(`${program} is not installed`);
  }
}

/** The disk was full: said by the system, by a program, or by the database, which names it as the cause of what failed. */
export function isDiskFull(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  const { code } = error as NodeJS.ErrnoException;
  return (
    code === 'ENOSPC' || code === '53100' || /No space left on device|ENOSPC|disk full/i.test(error.message) || isDiskFull(error.cause)
  );
}

const SETPRIV = '/usr/bin/setpriv';

/**
 * Put before a program so that it ends with this process, however this process ends: on Linux the kernel sees to it (PR_SET_PDEATHSIG,
 * by util-linux' setpriv). Elsewhere nothing is put before it, and a program may outlive a server that was killed.
 */
export const TIED: readonly string[] = process.platform === 'linux' && existsSync(SETPRIV) ? [SETPRIV, '--pdeathsig', 'KILL', '--'] : [];

export interface RunOptions {
  /** Stops the program when aborted. */
  signal?: AbortSignal | undefined;
  /** Gets what it writes to standard output, piece by piece; otherwise it is collected and returned. */
  onOutput?: (chunk: Buffer) => void;
  /** Gets what it writes to its file descriptor 3. */
  onExtra?: (chunk: Buffer) => void;
  /** Gets what it writes to standard error, piece by piece. */
  onError?: (text: string) => void;
  /** Gets the process when it runs, to write to its standard input. */
  onStart?: (child: ChildProcess) => void;
}

/**
 * Runs a program without a shell and gives what it wrote to standard output. It has a process group of its own, so that Ctrl-C in a
 * terminal reaches the server alone, which then stops it; and it dies with the server.
 * @throws ProgramFailed, or the signal's reason.
 */
export function run(program: string, args: readonly string[], options: RunOptions = {}): Promise<Buffer> {
  const { signal, onOutput, onExtra, onError, onStart } = options;
  return new Promise((resolve, reject) => {
    if (signal?.aborted) return reject(signal.reason as Error);
    const [command = program, ...rest] = [...TIED, program, ...args];
    const child = spawn(command, rest, {
      stdio: [onStart ? 'pipe' : 'ignore', 'pipe', 'pipe', ...(onExtra ? (['pipe'] as const) : [])],
      detached: true,
    });
    const chunks: Buffer[] = [];
    let said = '';
    const kill = () => child.kill('SIGKILL');
    signal?.addEventListener('abort', kill, { once: true });
    child.stdout?.on('data', (chunk: Buffer) => (onOutput ? onOutput(chunk) : chunks.push(chunk)));
    child.stderr?.on('data', (chunk: Buffer) => {
      said = (said + chunk.toString()).slice(-4000);
      onError?.(chunk.toString());
    });
    if (onExtra) (child.stdio[3] as Readable).on('data', onExtra);
    child.stdin?.on('error', () => undefined); // the exit code tells
    child.on('error', (error: NodeJS.ErrnoException) => reject(error.code === 'ENOENT' ? new ProgramMissing(program) : error));
    child.on('close', (code, by) => {
      signal?.removeEventListener('abort', kill);
      if (signal?.aborted) reject(signal.reason as Error);
      else if (code === 0) resolve(Buffer.concat(chunks));
      else if (code === 127 && TIED.length > 0) reject(new ProgramMissing(program));
      else reject(new ProgramFailed(program, code, said.trim(), by));
    });
    onStart?.(child);
  });
}

/** Runs ffmpeg quietly. `onProgress` gets the time reached in the output, in seconds, and the frames written. */
export function ffmpeg(
  args: readonly string[],
  options: RunOptions & { onProgress?: (seconds: number, frames: number) => void } = {},
): Promise<Buffer> {
  const { onProgress, ...rest } = options;
  const quiet = ['-hide_banner', '-nostdin', '-loglevel', 'error', '-y'];
  if (!onProgress) return run('ffmpeg', [...quiet, ...args], rest);
  let frames = 0;
  let seconds = 0;
  let line = '';
  return run('ffmpeg', [...quiet, '-progress', 'pipe:1', '-stats_period', '0.3', ...args], {
    ...rest,
    onOutput: (chunk) => {
      const lines = (line + chunk.toString()).split('\n');
      line = lines.pop() ?? '';
      for (const one of lines) {
        const [key, value] = one.split('=');
        if (key === 'frame') frames = Number(value);
        if (key === 'out_time_us' && Number.isFinite(Number(value))) seconds = Number(value) / 1e6;
        if (key === 'progress') onProgress(seconds, frames);
      }
    },
  });
}
