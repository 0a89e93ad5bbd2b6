import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { appendFileSync, closeSync, mkdirSync, openSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import fc from 'fast-check';
import { FolderInUse, lockFolder } from '../src/db/lock';
import { dumpsToKeep } from '../src/keeping/dumps';
import { Journal, readJournal } from '../src/keeping/journal';
import type { Line } from '../src/keeping/lines';
import { PcmWriter, pcmFrames, readPcm } from '../src/media/pcm';
import { folded, height, popped, pushed, taken, under, type Runs } from '../src/pieces/runs';
import { newFolder } from './running';

const folder = newFolder();
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe('the stacks as runs', () => {
  /** A log as it can come about: only what is there can be undone or redone. */
  const logs = fc.array(fc.constantFrom('do' as const, 'do' as const, 'undo' as const, 'redo' as const), { maxLength: 80 }).map((kinds) => {
    let [undo, redo] = [[] as number[], [] as number[]];
    const log: { seq: number; kind: 'do' | 'undo' | 'redo' }[] = [];
    for (const kind of kinds) {
      const seq = log.length + 1;
      if (kind === 'do') [undo, redo] = [[...undo, seq], []];
      else if (kind === 'undo' && undo.length > 0) [undo, redo] = [undo.slice(0, -1), [...redo, undo.at(-1)!]];
      else if (kind === 'redo' && redo.length > 0) [undo, redo] = [[...undo, redo.at(-1)!], redo.slice(0, -1)];
      else continue;
      log.push({ seq, kind });
    }
    return { log, undo, redo };
  });

  it('hold what stacks of single numbers hold, whatever was done', () => {
    fc.assert(
      fc.property(logs, fc.integer({ min: 1, max: 100 }), ({ log, undo, redo }, count) => {
        const stacks = log.reduce(folded, { undo: [] as Runs, redo: [] as Runs });
        for (const [runs, plain] of [
          [stacks.undo, undo],
          [stacks.redo, redo],
        ] as const) {
          expect(height(runs)).toBe(plain.length);
          const { top, rest } = taken(runs, count);
          expect(top).toEqual(plain.slice(-count));
          expect(taken(rest, 1000).top).toEqual(plain.slice(0, -count));
          if (top[0] !== undefined) expect(taken(under(runs, top[0]), 1000).top).toEqual(plain.slice(0, -top.length));
        }
      }),
    );
  });

  it('are one run for edits one after the other, however many', () => {
    let runs: Runs = [];
    for (let n = 1; n <= 1000; n += 1) runs = pushed(runs, n);
    expect(runs).toEqual([[1, 1000]]);
    expect(popped(runs)).toEqual({ top: 1000, rest: [[1, 999]] });
  });
});

describe('the lock of a data folder', () => {
  it.each(['linux', 'darwin'] as const)('is held by one at a time, and free when its holder is gone, as on %s', async (platform) => {
    const place = newFolder();
    const held = await lockFolder(place, platform);
    await expect(lockFolder(place, platform)).rejects.toBeInstanceOf(FolderInUse);
    await held.release();
    const again = await lockFolder(place, platform);
    await again.release();
    rmSync(place, { recursive: true });
  });

  it('is free though its file was left by a process that was killed', async () => {
    const place = newFolder();
    const held = await lockFolder(place, 'darwin');
    const { dev, ino } = statSync(place, { bigint: true });
    const name = createHash('sha256').update(`${dev}:${ino}`).digest('hex').slice(0, 32);
    const file = path.join(tmpdir(), `flimzy-${name}.sock`);
    expect(statSync(file).isSocket()).toBe(true);
    await held.release();
    const script = `require('net').createServer().listen(${JSON.stringify(file)}, () => process.kill(process.pid, 'SIGKILL'))`;
    spawnSync(process.execPath, ['-e', script]);
    expect(statSync(file).isSocket()).toBe(true);
    await (await lockFolder(place, 'darwin')).release();
    rmSync(place, { recursive: true });
  });
});

describe('decoded sound as it is kept', () => {
  let n = 0;
  const kept = (samples: Float32Array, cut: number) => {
    const file = path.join(folder, `sound-${(n += 1)}`);
    const handle = openSync(file, 'w+');
    const writer = new PcmWriter(handle);
    const bytes = Buffer.from(samples.buffer);
    for (let at = 0; at < bytes.length; at += cut) writer.push(bytes.subarray(at, at + cut));
    writer.finish();
    return { handle, file, frames: writer.frames };
  };

  it('comes back within half a step of its block, from any sample to any other, however it was cut', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 60_000 }),
        fc.integer({ min: 1, max: 200_000 }),
        fc.double({ min: 0.001, max: 4, noNaN: true }),
        fc.nat(70_000),
        fc.nat(70_000),
        (frames, cut, loud, from, count) => {
          const samples = Float32Array.from({ length: frames * 2 }, (_, i) => loud * Math.sin(i * i * 0.37));
          const { handle, frames: written } = kept(samples, cut);
          expect([written, pcmFrames(handle)]).toEqual([frames, frames]);
          const back = readPcm(handle, from, count);
          closeSync(handle);
          const due = samples.subarray(Math.min(from, frames) * 2, Math.min(from + count, frames) * 2);
          expect(back.length).toBe(due.length);
          let worst = 0;
          for (let i = 0; i < due.length; i += 1) worst = Math.max(worst, Math.abs(back[i]! - due[i]!));
          expect(worst).toBeLessThanOrEqual((loud / 32_767) * 0.51);
        },
      ),
      { numRuns: 25 },
    );
  });

  it('takes no room where it is silent', () => {
    const { handle, file } = kept(new Float32Array(48_000 * 2 * 20), 1 << 20);
    expect(pcmFrames(handle)).toBe(48_000 * 20);
    expect(statSync(file).blocks * 512).toBeLessThan(50_000);
    expect(readPcm(handle, 47_000, 2000).every((v) => v === 0)).toBe(true);
    closeSync(handle);
  });
});

describe('the journal', () => {
  const line = (n: number): Line => ({ in: 'notes', put: { key: `k${n}`, value: `v${n}` } });
  const all = async (place: string, from = 0) => {
    const found: Line[] = [];
    for await (const one of readJournal(place, from)) found.push(one);
    return found;
  };

  it('gives back everything that was acknowledged, in order, through new files and what a power cut left half', async () => {
    const place = path.join(folder, 'journal');
    const journal = await Journal.open(place);
    await Promise.all([1, 2, 3].map((n) => journal.append([line(n)])));
    const second = await journal.rotate();
    await journal.append([line(4), line(5)]);
    await journal.close();
    appendFileSync(path.join(place, readdirSync(place).sort().at(-1)!), '{"in":"notes","put":{"key":"ha');
    const again = await Journal.open(place);
    await again.append([line(6)]);
    await again.close();
    expect(await all(place)).toEqual([1, 2, 3, 4, 5, 6].map(line));
    expect(await all(place, second)).toEqual([4, 5, 6].map(line));
    await (await Journal.open(place)).forget(second);
    expect(await all(place)).toEqual([4, 5, 6].map(line));
  });

  it('is not written over by a second one', async () => {
    const place = path.join(folder, 'two');
    mkdirSync(place);
    const one = await Journal.open(place);
    const other = await Journal.open(place);
    await one.append([line(1)]);
    await other.append([line(2)]);
    expect(readdirSync(place).map((name) => readFileSync(path.join(place, name), 'utf8'))).toHaveLength(2);
    expect(await all(place)).toEqual([line(1), line(2)]);
    await one.close();
    await other.close();
  });
});

describe('the dumps that are kept', () => {
  const HOUR = 3_600_000;

  it('always hold the two newest, never more than a handful, and reach back as far as there are any, up to four weeks', () => {
    const now = new Date('2026-11-25T12:00:00Z');
    fc.assert(
      fc.property(fc.uniqueArray(fc.integer({ min: 0, max: 60 * 24 * 60 }), { minLength: 1, maxLength: 300 }), (minutes) => {
        const dumps = minutes.sort((a, b) => a - b).map((m) => ({ at: new Date(now.getTime() - m * 60_000) }));
        const kept = dumpsToKeep(dumps, now);
        expect(kept.slice(0, 2)).toEqual(dumps.slice(0, 2));
        expect(kept.length).toBeLessThanOrEqual(2 + 6 + 7 + 4);
        for (const [step, count] of [
          [HOUR, 6],
          [24 * HOUR, 7],
          [168 * HOUR, 4],
        ] as const)
          for (let slot = 0; slot < count; slot += 1) {
            const inSlot = (d: { at: Date }) => Math.floor((now.getTime() - d.at.getTime()) / step) === slot;
            if (dumps.some(inSlot)) expect(kept.some(inSlot)).toBe(true);
          }
      }),
    );
  });
});
