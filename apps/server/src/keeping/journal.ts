import { mkdir, open, readdir, readFile, rm, type FileHandle } from 'node:fs/promises';
import path from 'node:path';
import { jsonOrNull } from '../files/json';
import { toDisk } from '../files/whole';
import { Line } from './lines';

const NAME = /^(\d{8})\.jsonl$/;
const nameOf = (n: number) => `${String(n).padStart(8, '0')}.jsonl`;

/** The numbers of the journal's files in a folder, ascending. */
export async function journalNumbers(folder: string): Promise<number[]> {
  const names = await readdir(folder).catch(() => []);
  return names
    .flatMap((name) => NAME.exec(name)?.[1] ?? [])
    .map(Number)
    .sort((a, b) => a - b);
}

/** The lines of the files from a number on. What a power cut left of the last line is passed over: nobody was told of it. */
export async function* readJournal(folder: string, from: number): AsyncGenerator<Line> {
  for (const n of await journalNumbers(folder)) {
    if (n < from) continue;
    for (const text of (await readFile(path.join(folder, nameOf(n)), 'utf8')).split('\n')) {
      const line = Line.safeParse(jsonOrNull(text));
      if (line.success) yield line.data;
    }
  }
}

/**
 * Everything that must outlive a power cut, written down beside the database, which never waits for the disk. What was handed to
 * {@link append} is on the disk when it resolves; what is handed over meanwhile goes along with the next write.
 */
export class Journal {
  private waiting: { text: string; resolve: () => void; reject: (error: unknown) => void }[] = [];
  /** What is done to the file, one after the other. */
  private turn: Promise<unknown> = Promise.resolve();
  private torn = false;
  /** Bytes written since the last file was begun. */
  bytes = 0;

  private constructor(
    private readonly folder: string,
    private handle: FileHandle,
    private number: number,
  ) {}

  /** Begins a new file after all that are there. */
  static async open(folder: string): Promise<Journal> {
    await mkdir(folder, { recursive: true, mode: 0o700 });
    const number = ((await journalNumbers(folder)).at(-1) ?? 0) + 1;
    return new Journal(folder, await Journal.begin(folder, number), number);
  }

  private static async begin(folder: string, number: number): Promise<FileHandle> {
    const handle = await open(path.join(folder, nameOf(number)), 'ax', 0o600);
    await toDisk(folder);
    return handle;
  }

  private inTurn<T>(work: () => Promise<T>): Promise<T> {
    const done = this.turn.then(work);
    this.turn = done.catch(() => undefined);
    return done;
  }

  /** Resolves when the lines are on the disk. Rejects when they cannot be written (a full disk). */
  append(lines: readonly Line[]): Promise<void> {
    if (lines.length === 0) return Promise.resolve();
    const text = lines.map((line) => `${JSON.stringify(line)}\n`).join('');
    return new Promise((resolve, reject) => {
      this.waiting.push({ text, resolve, reject });
      void this.inTurn(() => this.write());
    });
  }

  /** Writes all that waits, with one sync. */
  private async write(): Promise<void> {
    const batch = this.waiting;
    this.waiting = [];
    if (batch.length === 0) return;
    try {
      // After a write that failed half-way, a new line keeps what follows readable.
      const bytes = Buffer.from((this.torn ? '\n' : '') + batch.map((one) => one.text).join(''));
      await this.handle.appendFile(bytes);
      await this.handle.datasync();
      this.torn = false;
      this.bytes += bytes.length;
      for (const { resolve } of batch) resolve();
    } catch (error) {
      this.torn = true;
      for (const { reject } of batch) reject(error);
    }
  }

  /** Goes on in a new file and gives its number: everything before it stands in earlier ones. */
  rotate(): Promise<number> {
    return this.inTurn(async () => {
      const old = this.handle;
      const next = this.number + 1;
      this.handle = await Journal.begin(this.folder, next);
      this.number = next;
      this.bytes = 0;
      await old.close();
      return next;
    });
  }

  /** Removes the files before a number. */
  async forget(before: number): Promise<void> {
    for (const n of await journalNumbers(this.folder)) if (n < before) await rm(path.join(this.folder, nameOf(n)), { force: true });
  }

  close(): Promise<void> {
    return this.inTurn(() => this.handle.close());
  }
}
