import type { OpenedPiece } from '@flimzy/contract';
import { PLATFORM_FORMATS, suggest, type DeliverySettings } from '@flimzy/core/deliver';
import { machine, row } from './figures';
import { exported, forgetSegments } from './exporting';
import { servedDemo } from './served';

const served = await servedDemo();
const { api, close } = served;

/** Asks for several and waits for all; seconds. */
async function timed(piece: string, all: readonly DeliverySettings[]): Promise<number> {
  const began = performance.now();
  await Promise.all(all.map((settings) => exported(served, piece, settings)));
  return (performance.now() - began) / 1000;
}

const format = (id: string) => {
  const found = PLATFORM_FORMATS.find((one) => one.id === id);
  if (!found) throw new Error(`there is no format ${id}`);
  return found;
};

try {
  console.log(`\nSending the demo (${machine()})`);
  for (const id of ['demo-first-flight', 'demo-bench-talk', 'demo-kite-in-layers']) {
    const { piece } = await api<OpenedPiece>('GET', `/api/pieces/${id}`);
    const { settings } = suggest(piece, format(piece.format.width > piece.format.height ? 'landscape-video' : 'vertical-short'));
    const began = performance.now();
    const { bytes, seconds } = await api<{ bytes: number; seconds: number }>('POST', '/api/deliveries/estimate', { piece: id, settings });
    const asked = (performance.now() - began) / 1000;
    const exporting = performance.now();
    const { size } = await exported(served, id, settings);
    const took = (performance.now() - exporting) / 1000;
    row(`${piece.name}: bytes estimated / bytes of the file`, (bytes / (size ?? NaN)).toFixed(2), 'bar 0.85 to 1.15');
    row(`${piece.name}: time estimated / time it took`, (seconds / took).toFixed(2), 'bar 0.85 to 1.15');
    row(`${piece.name}: time of estimating / of exporting`, (asked / took).toFixed(2), 'to be said');
  }
  const id = 'demo-first-flight';
  const { piece } = await api<OpenedPiece>('GET', `/api/pieces/${id}`);
  const three = ['vertical-short', 'story', 'square-post'].map((one) => suggest(piece, format(one)).settings);
  let single = 0;
  for (const settings of three) {
    forgetSegments(served);
    single += await timed(id, [{ ...settings, faststart: false }]);
  }
  forgetSegments(served);
  const together = await timed(
    id,
    three.map((settings) => ({ ...settings, sound: settings.sound && { ...settings.sound, bitrate: 160_000 } })),
  );
  row('Three formats at once, two of one size / one by one', (together / single).toFixed(2), 'bar 0.8');
} finally {
  await close();
}
