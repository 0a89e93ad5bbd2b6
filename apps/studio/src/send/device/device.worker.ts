import '../../api/registry';
import { registerAacEncoder } from '@mediabunny/aac-encoder';
import { Loudness } from '@flimzy/core/analyse';
import type { DeliverySettings } from '@flimzy/core/deliver';
import { evaluate, lastShown } from '@flimzy/core/frame';
import { heardTracks, isHeard, type Piece } from '@flimzy/core/piece';
import { duckLines, mix } from '@flimzy/core/sound';
import { frameStart, SAMPLE_RATE, toGridBelow, toSamples, toSeconds } from '@flimzy/core/time';
import { toPlanes } from '@flimzy/kernels';
import {
  AudioSample,
  AudioSampleSource,
  canEncodeAudio,
  Mp4OutputFormat,
  Output,
  Quality,
  VideoSample,
  VideoSampleSource,
  type Target,
} from 'mediabunny';
import { addressOf } from '../../api/address';
import { Decoded } from '../../preview/decoded';
import { Heard } from '../../preview/heard';
import { Painter } from '../../preview/painter';
import { Pictures } from '../../preview/pictures';
import { lookThrough } from './look';
import type { DeviceOrder, DeviceReport } from './messages';
import { openPlace } from './target';

const report = (message: DeviceReport) => self.postMessage(message);

/** What cannot be had ends the making: a file with a hole in it helps nobody. */
class Missing extends Error {
  override name = 'Missing';
}

class Cancelled extends Error {
  override name = 'Cancelled';
}

/** Samples mixed at a time. */
const BLOCK = 8_192;

/** Bits a second for each pixel of each second, where quality is asked for: about what the server's encoder writes, and half as much again. */
const BITS_A_PIXEL = 0.16;

/**
 * Samples by which the AAC encoder lags: what is heard first of its file is this much of nothing. So much is left out of the sound's
 * beginning, which no one hears, so that all that follows is in step.
 */
const AAC_LAG = 1_024;

let cancelled = false;

/** How many bits a second the picture gets. */
function bitrateFor({ picture, size, rate, sound, format }: DeliverySettings, seconds: number): number {
  const control = picture?.control;
  const most = format?.bitrate ?? Infinity;
  if (control?.by === 'bitrate') return Math.min(most, control.bitrate);
  if (control?.by === 'bytes') return Math.max(50_000, Math.min(most, (control.bytes * 8 * 0.97) / seconds - (sound?.bitrate ?? 0)));
  const better = 2 ** (((control?.quality ?? 80) - 80) / 20);
  const pixels = (size?.width ?? 0) * (size?.height ?? 0) * (rate.num / rate.den);
  return Math.round(Math.min(most, Math.max(400_000, pixels * BITS_A_PIXEL * better)));
}

async function make({ piece, from, to, settings, name, origin }: Extract<DeviceOrder, { type: 'make' }>): Promise<void> {
  const began = performance.now();
  const { size, rate } = settings;
  if (!size) throw new Error('There is no picture to make.');
  let missing: string | null = null;
  const onTrouble = (sentence: string) => (missing ??= sentence);
  const check = () => {
    if (cancelled) throw new Cancelled();
    if (missing) throw new Missing(missing);
  };
  const pictures = new Pictures((what, id, query) => new URL(addressOf(what, { id }, query), origin).href, true);
  const painter = new Painter(pictures, () => origin, onTrouble);
  const seconds = toSeconds(to - from);
  const frames = Math.round((seconds * rate.num) / rate.den);
  const place = await openPlace(name);
  try {
    const output = new Output<Mp4OutputFormat, Target>({
      format: new Mp4OutputFormat({ fastStart: place.inMemory && settings.faststart ? 'in-memory' : false }),
      target: place.target,
    });
    const video = new VideoSampleSource({
      codec: 'avc',
      quality: new Quality({ bitrate: bitrateFor(settings, seconds) }),
      keyFrameInterval: 2,
      latencyMode: 'quality',
    });
    output.addVideoTrack(video, { frameRate: rate.num / rate.den });
    const silent =
      !settings.sound || !heardTracks(piece).some((track) => track.clips.some((clip) => isHeard(clip, piece.media[clip.media])));
    const sound = settings.sound && !silent ? await soundOf(piece, from, to, settings.sound.bitrate, origin, onTrouble, check) : null;
    if (sound) output.addAudioTrack(sound.source);
    await output.start();
    const canvas = new OffscreenCanvas(size.width, size.height);
    const context = canvas.getContext('2d', { alpha: false, willReadFrequently: true });
    if (!context) throw new Error('This browser draws nothing here.');
    for (let n = 0; n < frames; n += 1) {
      const within = frameStart(n, rate);
      await painter.draw(piece, evaluate(piece, lastShown(piece, toGridBelow(from + within, piece.format.rate))), true, context);
      check();
      const { data } = context.getImageData(0, 0, size.width, size.height);
      const frame = new VideoFrame(toPlanes(data, size.width, size.height), {
        format: 'I420',
        codedWidth: size.width,
        codedHeight: size.height,
        timestamp: Math.round(toSeconds(within) * 1e6),
        colorSpace: { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', fullRange: false },
      });
      const sample = new VideoSample(frame, { timestamp: toSeconds(within), duration: rate.den / rate.num });
      try {
        await video.add(sample);
      } finally {
        sample.close();
        frame.close();
      }
      await sound?.upTo(toSeconds(within) + 1);
      if (n % 4 === 0 || n === frames - 1) report({ type: 'progress', frames: n + 1, of: frames });
    }
    await sound?.upTo(Infinity);
    await output.finalize();
    const file = await place.finish();
    const checks = await lookThrough(file, { settings, frames, seconds, loud: sound?.loud() ?? null });
    report({ type: 'made', file, checks, seconds: (performance.now() - began) / 1000 });
  } catch (error) {
    await place.drop();
    throw error;
  }
}

/** The sound of a stretch, mixed as the pictures go on, by the one mixer. */
async function soundOf(
  piece: Piece,
  from: number,
  to: number,
  bitrate: number,
  origin: string,
  onTrouble: (sentence: string) => void,
  check: () => void,
) {
  const own = await canEncodeAudio('aac', { numberOfChannels: 2, sampleRate: SAMPLE_RATE });
  if (!own) registerAacEncoder();
  const source = new AudioSampleSource({ codec: 'aac', quality: new Quality({ bitrate }) });
  const decoded = new Decoded(() => origin, onTrouble);
  const heard = new Heard(() => undefined);
  await heard.want(piece, origin);
  const meter = new Loudness();
  const [first, last] = [toSamples(from), toSamples(to)];
  let at = first;
  let given = 0;
  /** Mixes on until so many seconds of it are there. */
  const upTo = async (seconds: number) => {
    while (at < last && at - first < seconds * SAMPLE_RATE) {
      const end = Math.min(last, at + BLOCK);
      await decoded.gather(piece, at, end);
      check();
      const mixed = mix(piece, at, end, decoded.read, { lines: duckLines(piece, heard.reader) });
      meter.push(mixed);
      const skipped = own ? 0 : Math.max(0, first + AAC_LAG - at);
      const count = end - at - skipped;
      at = end;
      if (count <= 0) continue;
      const data = new Float32Array(count * 2);
      data.set(mixed.left.subarray(skipped), 0);
      data.set(mixed.right.subarray(skipped), count);
      const sample = new AudioSample({
        data,
        format: 'f32-planar',
        numberOfChannels: 2,
        sampleRate: SAMPLE_RATE,
        timestamp: given / SAMPLE_RATE,
      });
      given += count;
      await source.add(sample);
      sample.close();
    }
  };
  return { source, upTo, loud: () => ({ integrated: meter.integrated, peak: meter.peak }) };
}

self.onmessage = ({ data }: MessageEvent<DeviceOrder>) => {
  if (data.type === 'cancel') {
    cancelled = true;
    return;
  }
  make(data).catch((error: unknown) => {
    if (error instanceof Cancelled) return report({ type: 'failed', sentence: '' });
    const { message } = error as Error;
    report({
      type: 'failed',
      sentence:
        error instanceof Missing
          ? `${message} Nothing was made: try again when the server can be reached.`
          : `It could not be made here: ${message}`,
    });
  });
};
