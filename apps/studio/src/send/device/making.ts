import type { DeliveryCheck } from '@flimzy/contract';
import { asSent, cuesBeside, fileNameFrom, FILES, nameWords, partSent, type BoxOf, type DeliverySettings } from '@flimzy/core/deliver';
import type { Cue, Piece } from '@flimzy/core/piece';
import { v4 as uuid } from 'uuid';
import { create } from 'zustand';
import type { DeviceReport } from './messages';

/** A file that is made, or was made, on this device. */
export interface Made {
  id: string;
  piece: string;
  name: string;
  settings: DeliverySettings;
  frames: number;
  of: number;
  /** Seconds left, once there is something to go by. */
  secondsLeft: number | null;
  file: Blob | null;
  checks: DeliveryCheck[];
  /** The captions that go beside it. */
  cues: readonly Cue[];
  /** Why there is none: a sentence. */
  error: string | null;
  cancel: () => void;
}

export const useMade = create<{ made: Made[] }>(() => ({ made: [] }));

const change = (id: string, values: Partial<Made>) =>
  useMade.setState(({ made }) => ({ made: made.map((one) => (one.id === id ? { ...one, ...values } : one)) }));
export const forget = (id: string): void => useMade.setState(({ made }) => ({ made: made.filter((one) => one.id !== id) }));

/** Whether this browser can make files: H.264 for the picture (sound has an encoder of its own with us). */
export async function canMake(): Promise<boolean> {
  if (typeof VideoEncoder === 'undefined' || typeof OffscreenCanvas === 'undefined') return false;
  const config = { codec: 'avc1.42003e', width: 1080, height: 1920, bitrate: 4_000_000, framerate: 30 };
  return VideoEncoder.isConfigSupported(config).then(
    ({ supported }) => supported === true,
    () => false,
  );
}

/** Whether a file of this kind is made on the device: MP4 with H.264 and AAC. */
export const isMadeHere = ({ file, picture, size }: DeliverySettings): boolean =>
  file === 'mp4' && picture?.codec === 'h264' && size !== null;

/** One after the other: each takes all that the device has. */
let turn: Promise<void> = Promise.resolve();

/** Makes a file of a piece here. @param pattern of its name */
export function makeHere(piece: Piece, settings: DeliverySettings, pattern: string, boxOf: BoxOf): void {
  const mine = partSent(piece, settings);
  if (!mine || !settings.size) return;
  const id = uuid();
  const name = fileNameFrom(pattern, nameWords(piece.name, settings, mine.parts.length), FILES.mp4.extension);
  const stop = new AbortController();
  const cancel = () => {
    stop.abort();
    forget(id);
  };
  const one: Made = {
    id,
    piece: piece.id,
    name,
    settings,
    frames: 0,
    of: 0,
    secondsLeft: null,
    file: null,
    checks: [],
    cues: cuesBeside(piece, settings),
    error: null,
    cancel,
  };
  useMade.setState(({ made }) => ({ made: [one, ...made] }));
  turn = turn.then(() => work(one, asSent(piece, settings, boxOf), mine.part, stop.signal));
}

function work({ id, settings, name }: Made, piece: Piece, { from, to }: { from: number; to: number }, signal: AbortSignal): Promise<void> {
  if (signal.aborted) return Promise.resolve();
  return new Promise((resolve) => {
    const worker = new Worker(new URL('./device.worker', import.meta.url));
    const began = performance.now();
    const end = () => {
      worker.terminate();
      resolve();
    };
    signal.addEventListener('abort', () => worker.postMessage({ type: 'cancel' }));
    worker.onerror = () => {
      change(id, { error: 'It could not be made here: this browser stopped the work.' });
      end();
    };
    worker.onmessage = ({ data }: MessageEvent<DeviceReport>) => {
      if (data.type === 'progress') {
        const spent = (performance.now() - began) / 1000;
        const secondsLeft = spent > 1 ? (spent * (data.of - data.frames)) / data.frames : null;
        change(id, { frames: data.frames, of: data.of, secondsLeft });
        return;
      }
      if (data.type === 'made') change(id, { file: data.file, checks: data.checks, secondsLeft: null });
      else change(id, { error: data.sentence });
      end();
    };
    worker.postMessage({ type: 'make', piece, from, to, settings, name, origin: window.location.origin });
  });
}
