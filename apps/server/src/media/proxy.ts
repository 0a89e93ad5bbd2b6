import { closeSync, openSync } from 'node:fs';
import { writeFile } from 'node:fs/promises';
import { atEveryBin, PeakCollector, PEAK_BINS } from '@flimzy/core/analyse';
import { toSeconds } from '@flimzy/core/time';
import { whole } from '../files/whole';
import { BT709_TAGS, fileInput, scaleTo, upright } from './filters';
import type { DataFolder } from './folders';
import { PcmWriter } from './pcm';
import type { Probed } from './probe';
import { ffmpeg } from './run';

/** Short side of a proxy, in pixels. */
const PROXY_SIDE = 540;

/** Frames from one key frame of a proxy to the next: short, so that any frame is quickly there. */
const PROXY_GOP = 15;

/** Size with its short side at `side`, never larger than it was; even. */
export function proxySize(width: number, height: number, side = PROXY_SIDE): { width: number; height: number } {
  const scale = Math.min(1, side / Math.min(width, height));
  const even = (n: number) => Math.max(2, Math.round((n * scale) / 2) * 2);
  return { width: even(width), height: even(height) };
}

/** What came out: frames of picture and of sound. */
export interface MadeProxy {
  pictures: number;
  samples: number;
}

export interface ProxyWork {
  folder: DataFolder;
  id: string;
  /** What is read: the original, or what stands in for it. */
  from: string;
  probed: Probed;
  onProgress: (progress: number) => void;
  signal?: AbortSignal | undefined;
}

/** The proxy of what moves: a WebM file where something shines through, which MP4 has no room for. */
export const proxyName = ({ alpha }: { alpha?: true | undefined }) => (alpha ? 'proxy.webm' : 'proxy.mp4');

/** Makes the proxy and, where there is sound, the decoded sound and its peaks, in one pass. @throws ProgramFailed */
export async function makeProxy(work: ProxyWork): Promise<MadeProxy> {
  const { folder, id } = work;
  const { hasSound } = work.probed.facts;
  return whole(folder.file(id, proxyName(work.probed.facts)), (proxy) =>
    hasSound ? whole(folder.file(id, 'sound.pcm'), (sound) => withSound(work, proxy, sound)) : encode(work, proxy, null),
  );
}

async function withSound(work: ProxyWork, proxy: string, sound: string): Promise<MadeProxy> {
  const handle = openSync(sound, 'wx', 0o600);
  try {
    const pcm = new PcmWriter(handle);
    const peaks = new PeakCollector(PEAK_BINS[0]);
    const made = await encode(work, proxy, (bytes) => {
      const samples = pcm.push(bytes);
      const left = new Float32Array(samples.length / 2);
      const right = new Float32Array(samples.length / 2);
      for (let i = 0; i < left.length; i += 1) {
        left[i] = samples[i * 2] as number;
        right[i] = samples[i * 2 + 1] as number;
      }
      peaks.push({ left, right });
    });
    pcm.finish();
    await keepPeaks(work, peaks);
    return { ...made, samples: pcm.frames };
  } finally {
    closeSync(handle);
  }
}

async function keepPeaks({ folder, id }: ProxyWork, collector: PeakCollector): Promise<void> {
  for (const { bin, data } of atEveryBin(collector.finish())) await whole(folder.file(id, `peaks-${bin}`), (to) => writeFile(to, data));
}

async function encode(work: ProxyWork, proxy: string, onSound: ((bytes: Buffer) => void) | null): Promise<MadeProxy> {
  const { facts, source } = work.probed;
  // A file that decodes only in part is taken for what it holds: however many packets are broken, what is whole comes out.
  const args = ['-max_error_rate', '1', ...fileInput(work.from)];
  if (facts.kind === 'video') {
    const { width, height } = proxySize(facts.width, facts.height);
    const filters = [...upright(source), scaleTo(source, width, height), `format=${facts.alpha ? 'yuva420p' : 'yuv420p'}`];
    args.push('-map', `0:${source.videoStream}`, '-vf', filters.join(','), '-fps_mode', 'passthrough', '-enc_time_base', '-1');
    // Half as quick again as `veryfast` at a lower rate factor, as good to look at, and easier on the phone that decodes it; larger, too.
    const plain = ['libx264', '-preset', 'superfast', '-tune', 'fastdecode', '-profile:v', 'main', '-crf', '24', '-bf', '0'];
    const clear = ['libvpx-vp9', '-deadline', 'realtime', '-cpu-used', '6', '-crf', '20', '-b:v', '0', '-auto-alt-ref', '0'];
    args.push('-c:v', ...(facts.alpha ? clear : plain), '-g', String(PROXY_GOP), ...BT709_TAGS);
  }
  // One channel is heard on both sides as loud as any player makes it; left alone, it would come 3 dB quieter.
  const steady = `${source.mono ? 'pan=stereo|c0=c0|c1=c0,' : ''}aresample=48000:async=1:first_pts=0`;
  if (onSound) args.push('-map', `0:${source.soundStream}`, '-af', steady, '-c:a', 'aac', '-b:a', '128k', '-ac', '2');
  args.push('-map_metadata', '-1', ...(facts.alpha ? ['-f', 'webm'] : ['-movflags', '+faststart', '-f', 'mp4']), proxy);
  if (onSound) args.push('-map', `0:${source.soundStream}`, '-af', steady, '-ac', '2', '-f', 'f32le', 'pipe:3');
  const seconds = Math.max(0.1, toSeconds(facts.length));
  let pictures = 0;
  await ffmpeg(args, {
    signal: work.signal,
    ...(onSound ? { onExtra: onSound } : {}),
    onProgress: (done, frames) => {
      pictures = frames;
      work.onProgress(Math.min(1, done / seconds));
    },
  });
  return { pictures, samples: 0 };
}
