import { randomUUID } from 'node:crypto';
import { rmSync } from 'node:fs';
import { newFolder, TestServer } from '../apps/server/test/running';
import { machine, median, row } from './figures';

/** Opening a piece: the snapshot and what was done since, however long its log. */
const data = newFolder();
const server = await TestServer.start(data);
const BATCH = 500;

async function opened(entries: number): Promise<number> {
  const piece = await server.newPiece();
  for (let since = 0; since < entries; since += BATCH) {
    const requests = Array.from({ length: Math.min(BATCH, entries - since) }, (_, i) => ({
      kind: 'do',
      id: randomUUID(),
      name: 'rename',
      params: { clip: null, name: `Name ${since + i}` },
    }));
    await server.call('editPiece', { id: piece.id }, {}, { since, requests });
  }
  const times: number[] = [];
  for (let n = 0; n < 11; n += 1) {
    const began = performance.now();
    await server.call('openPiece', { id: piece.id });
    times.push(performance.now() - began);
  }
  return median(times);
}

console.log(`\nOpening a piece with a long log (${machine()})`);
try {
  const short = await opened(100);
  const long = await opened(100_000);
  row('100 entries, 100 000 entries', `${short.toFixed(0)} / ${long.toFixed(0)} ms`, `${(long / short).toFixed(2)} ×`);
} finally {
  await server.stop();
  rmSync(data, { recursive: true, force: true });
}
