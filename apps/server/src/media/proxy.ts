import { closeSync, openSync } from 'node:fs';
import { writeFile } from 'node:fs/promises';
import { atEveryBin, PeakCollector, PEAK_BINS } from '@flimzy/core/analyse';
import { toSeconds } from '@flimzy/core/time';
import { whole } from '../files/whole';
import { BT709_TAGS, fileInput, scaleTo, upright } from './filters';
import type { DataFolder, MediaFile } from './folders';
import { PcmWriter } from './pcm';
import type { Probed } from './probe';
import { ffmpeg } from './run';
import type { SourceFacts } from './source';

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

export interface ProxyWork {
  folder: DataFolder;
  id: string;
  /** What is read: the original, or what stands in for it. */
  from: string;
  facts: Probed['facts'];
  source: SourceFacts;
  onProgress: (progress: number) => void;
  signal?: AbortSignal | undefined;
}

/** The proxy of what moves: a WebM file where something shines through, which MP4 has no room for. */
export const proxyName = ({ alpha }: { alpha?: true | undefined }) => (alpha ? 'proxy.webm' : 'proxy.mp4');

/** Makes the proxy; gives how many pictures it holds. @throws ProgramFailed */
export async function makeProxy(work: ProxyWork): Promise<number> {
  const { folder, id, facts, source, onProgress } = work;
  const make = (name: MediaFile, how: ProxyWork) => whole(folder.file(id, name), (proxy) => encode(how, proxy));
  if (!source.interlaced) return make(proxyName(facts), work);
  const made = await make(proxyName(facts), { ...work, onProgress: (done) => onProgress(done / 2) });
  const recorded = { ...work, facts: { ...facts, hasSound: false }, source: { ...source, interlaced: false } };
  await make('proxy-fields.mp4', { ...recorded, onProgress: (done) => onProgress((1 + done) / 2) });
  return made;
}

/** However many packets of a file are broken, what is whole comes out: it is taken for what it holds. */
const WHAT_IS_WHOLE = ['-max_error_rate', '1'];

/** The sound of a file in step with its picture. One channel is heard on both sides as loud as any player makes it; left alone, it would come 3 dB quieter. */
const soundOf = ({ soundStream, mono }: SourceFacts) => [
  ...['-map', `0:${soundStream}`, '-ac', '2'],
  ...['-af', `${mono ? 'pan=stereo|c0=c0|c1=c0,' : ''}aresample=48000:async=1:first_pts=0`],
];

/** Decodes the sound of a file, and makes the peaks of it; gives how many samples there are. @throws ProgramFailed */
export async function makeSound(work: Pick<ProxyWork, 'folder' | 'id' | 'from' | 'source' | 'signal'>): Promise<number> {
  const { folder, id, from, source, signal } = work;
  return whole(folder.file(id, 'sound.pcm'), async (sound) => {
    const handle = openSync(sound, 'wx', 0o600);
    try {
      const pcm = new PcmWriter(handle);
      const peaks = new PeakCollector(PEAK_BINS[0]);
      const onOutput = (bytes: Buffer) => {
        const samples = pcm.push(bytes);
        const left = new Float32Array(samples.length / 2);
        const right = new Float32Array(samples.length / 2);
        for (let i = 0; i < left.length; i += 1) {
          left[i] = samples[i * 2] as number;
          right[i] = samples[i * 2 + 1] as number;
        }
        peaks.push({ left, right });
      };
      await ffmpeg([...WHAT_IS_WHOLE, ...fileInput(from), ...soundOf(source), '-f', 'f32le', 'pipe:1'], { signal, onOutput });
      pcm.finish();
      for (const { bin, data } of atEveryBin(peaks.finish())) await whole(folder.file(id, `peaks-${bin}`), (to) => writeFile(to, data));
      return pcm.frames;
    } finally {
      closeSync(handle);
    }
  });
}

async function encode(work: ProxyWork, proxy: string): Promise<number> {
  const { facts, source } = work;
  const args = [...WHAT_IS_WHOLE, ...fileInput(work.from)];
  if (facts.kind === 'video') {
    const { width, height } = proxySize(facts.width, facts.height);
    const filters = [...upright(source), scaleTo(source, width, height), `format=${facts.alpha ? 'yuva420p' : 'yuv420p'}`];
    args.push('-map', `0:${source.videoStream}`, '-vf', filters.join(','));
    args.push('-fps_mode', 'passthrough', '-enc_time_base', '-1');
    // Half as quick again as `veryfast` at a lower rate factor, as good to look at, and easier on the phone that decodes it; larger, too.
    const plain = ['libx264', '-preset', 'superfast', '-tune', 'fastdecode', '-profile:v', 'main', '-crf', '24', '-bf', '0'];
    const clear = ['libvpx-vp9', '-deadline', 'realtime', '-cpu-used', '6', '-crf', '20', '-b:v', '0', '-auto-alt-ref', '0'];
    args.push('-c:v', ...(facts.alpha ? clear : plain), '-g', String(PROXY_GOP), ...BT709_TAGS);
  }
  if (facts.hasSound) args.push(...soundOf(source), '-c:a', 'aac', '-b:a', '128k');
  args.push('-map_metadata', '-1', ...(facts.alpha ? ['-f', 'webm'] : ['-movflags', '+faststart', '-f', 'mp4']), proxy);
  const seconds = Math.max(0.1, toSeconds(facts.length));
  let pictures = 0;
  await ffmpeg(args, {
    signal: work.signal,
    onProgress: (done, frames) => {
      pictures = frames;
      work.onProgress(Math.min(1, done / seconds));
    },
  });
  return pictures;
}
