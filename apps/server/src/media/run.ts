import { spawn, type ChildProcess } from 'node:child_process';

/** A program that ended badly, with the last lines it wrote about it. */
export class ProgramFailed extends Error {
  override name = 'ProgramFailed';
  constructor(
    program: string,
    readonly code: number | null,
    readonly said: string,
  ) {
    super(`${program} ended with ${code}: ${said}`);
  }
}

export interface RunOptions {
  /** Stops the program when aborted. */
  signal?: AbortSignal | undefined;
  /** Gets what it writes to standard output, piece by piece; otherwise it is collected and returned. */
  onOutput?: (chunk: Buffer) => void;
  /** Gets the process when it runs, to write to its standard input. */
  onStart?: (child: ChildProcess) => void;
}

/** Runs a program without a shell and gives what it wrote to standard output. @throws ProgramFailed, or the signal's reason. */
export function run(program: string, args: readonly string[], options: RunOptions = {}): Promise<Buffer> {
  const { signal, onOutput, onStart } = options;
  return new Promise((resolve, reject) => {
    if (signal?.aborted) return reject(signal.reason as Error);
    const child = spawn(program, args, { stdio: [onStart ? 'pipe' : 'ignore', 'pipe', 'pipe'] });
    const chunks: Buffer[] = [];
    let said = '';
    const kill = () => child.kill('SIGKILL');
    signal?.addEventListener('abort', kill, { once: true });
    child.stdout?.on('data', (chunk: Buffer) => (onOutput ? onOutput(chunk) : chunks.push(chunk)));
    child.stderr?.on('data', (chunk: Buffer) => (said = (said + chunk.toString()).slice(-4000)));
    child.stdin?.on('error', () => undefined); // the exit code tells
    child.on('error', reject);
    child.on('close', (code) => {
      signal?.removeEventListener('abort', kill);
      if (signal?.aborted) reject(signal.reason as Error);
      else if (code === 0) resolve(Buffer.concat(chunks));
      else reject(new ProgramFailed(program, code, said.trim()));
    });
    onStart?.(child);
  });
}

/** Runs ffmpeg quietly. `onProgress` gets the time reached in the output, in seconds. */
export function ffmpeg(args: readonly string[], options: RunOptions & { onProgress?: (seconds: number) => void } = {}): Promise<Buffer> {
  const { onProgress, ...rest } = options;
  const quiet = ['-hide_banner', '-nostdin', '-loglevel', 'error', '-y'];
  if (!onProgress) return run('ffmpeg', [...quiet, ...args], rest);
  return run('ffmpeg', [...quiet, '-progress', 'pipe:1', '-stats_period', '0.3', ...args], {
    ...rest,
    onOutput: (chunk) => {
      for (const match of chunk.toString().matchAll(/out_time_us=(\d+)/g)) onProgress(Number(match[1]) / 1e6);
    },
  });
}
