import { SAMPLE_RATE } from '../time';

/** Bytes before the samples of a file that {@link wavHeader} begins. */
export const WAV_HEADER = 44;
const BYTES = 4;

/** What stands before mono samples at 48 kHz (32-bit floats, little-endian) in a WAV file of so many. Source: RIFF WAVE, format 3. */
export function wavHeader(samples: number): Uint8Array {
  const view = new DataView(new ArrayBuffer(WAV_HEADER));
  const word = (at: number, text: string) => [...text].forEach((letter, i) => view.setUint8(at + i, letter.charCodeAt(0)));
  word(0, 'RIFF');
  view.setUint32(4, WAV_HEADER - 8 + samples * BYTES, true);
  word(8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  view.setUint16(20, 3, true);
  view.setUint16(22, 1, true);
  view.setUint32(24, SAMPLE_RATE, true);
  view.setUint32(28, SAMPLE_RATE * BYTES, true);
  view.setUint16(32, BYTES, true);
  view.setUint16(34, BYTES * 8, true);
  word(36, 'data');
  view.setUint32(40, samples * BYTES, true);
  return new Uint8Array(view.buffer);
}

/** How many samples such a header says that there are; 0 where it is not whole. */
export const samplesAfter = (head: ArrayBuffer) =>
  head.byteLength < WAV_HEADER ? 0 : Math.floor(new DataView(head).getUint32(WAV_HEADER - 4, true) / BYTES);
