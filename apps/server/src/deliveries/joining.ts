import { stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import type { DeliverySettings, Segment } from '@flimzy/core/deliver';
import { frameLength, toSeconds, type Rate } from '@flimzy/core/time';
import { ProblemError } from '../http/problem';
import { ffmpeg } from '../media/run';
import { atBitrate, atQuality, timescale } from './encoding';

/** Segments in order with the files they were rendered into, and how they become one. */
export interface Joined {
  segments: readonly Segment[];
  files: readonly string[];
  /** Of the piece. */
  rate: Rate;
  settings: DeliverySettings;
  /** Where the encoded sound lies; null: none. */
  sound: string | null;
  scratch: string;
  signal: AbortSignal;
}

/** ffmpeg's names for the kinds of file with pictures. */
const MUXERS = { mp4: 'mp4', webm: 'webm', gif: 'gif', webp: 'webp' } as const;

/** ffmpeg's input that reads files one after the other, each with a line that says how much of it. */
export async function inARow(parts: readonly { file: string; says: string }[], list: string): Promise<string[]> {
  const lines = parts.map(({ file, says }) => `file '${file.replaceAll("'", "'\\''")}'\n${says}`);
  await writeFile(list, `ffconcat version 1.0\n${lines.join('\n')}\n`);
  return ['-f', 'concat', '-safe', '0', '-i', list];
}

/** ffmpeg's input that reads segments one after the other. */
async function asOne({ segments, files, rate, scratch }: Joined): Promise<string[]> {
  // Each length is written to the microsecond so that the sum, not each one, is rounded: frames stay on their clock.
  const micro = (frames: number) => Math.round(toSeconds(frames * frameLength(rate)) * 1e6);
  const parts = segments.map((part, i) => ({
    file: files[i] ?? '',
    says: `duration ${micro(part.start + part.frames) - micro(part.start)}us`,
  }));
  return inARow(parts, path.join(scratch, 'segments.txt'));
}

/** ffmpeg's options for the file itself. */
function container({ settings }: Pick<Joined, 'settings'>, rate: Rate): string[] {
  const { file, faststart } = settings;
  if (file === 'mp4')
    return ['-video_track_timescale', String(timescale(rate)), ...(faststart ? ['-movflags', '+faststart'] : []), '-f', 'mp4'];
  return ['-f', MUXERS[file as keyof typeof MUXERS]];
}

const withSound = ({ sound }: Joined) => ({ input: sound ? ['-i', sound] : [], map: sound ? ['-map', '1:a', '-c:a', 'copy'] : [] });

/** Joins segments and sound without encoding anything again. */
export async function join(work: Joined, target: string): Promise<void> {
  const { input, map } = withSound(work);
  await ffmpeg([...(await asOne(work)), ...input, '-map', '0:v', '-c:v', 'copy', ...map, ...container(work, work.rate), target], {
    signal: work.signal,
  });
}

/** How near to the bytes that were asked for a file has to come, and how often it is tried at most. */
const NEAR = 0.025;
export const TRIES = 5;

type Control = NonNullable<DeliverySettings['picture']>['control'];

/** Bytes of a file whose picture is given so many, and bits a second for that picture. @param heard bytes of its sound @param seconds how long it is */
export function givenTo(control: Exclude<Control, { by: 'quality' }>, heard: number, seconds: number): { bytes: number; bitrate: number } {
  if (control.by === 'bitrate') return { bytes: heard + (control.bitrate * seconds) / 8, bitrate: control.bitrate };
  return { bytes: control.bytes, bitrate: ((control.bytes - heard) * 8) / seconds };
}

/** Encodes segments once more into what cannot be joined: another rate, so many bytes or bits a second, a loop. @param seconds how long it is */
export async function remake(work: Joined, target: string, seconds: number, onProgress: (share: number) => void): Promise<void> {
  const { settings, signal, sound } = work;
  const { input: heard, map } = withSound(work);
  const input = [...(await asOne(work)), ...heard];
  const again = (share = (done: number) => done): Again => {
    const reached = (at: number) => onProgress(share(Math.min(1, at / seconds)));
    return { settings, signal, scratch: work.scratch, onProgress: reached };
  };
  const { picture } = settings;
  if (picture === null || picture.control.by === 'quality') return encodeAgain(input, again(), target, map);
  const { control } = picture;
  const heardBytes = sound ? (await stat(sound)).size : 0;
  const given = givenTo(control, heardBytes, seconds);
  const wanted = given.bytes;
  const least = heardBytes + (LEAST_BITRATE * seconds) / 8;
  if (wanted < least)
    throw new ProblemError(
      'bad-request',
      `${(wanted / 1e6).toFixed(1)} MB are too few for its length: ${(least / 1e6).toFixed(1)} MB and more can be looked at.`,
    );
  let { bitrate } = given;
  let under: number | null = null;
  for (let tried = 1; ; tried += 1) {
    // Each further try is half of what is left: nobody knows how many there will be, and it never goes back.
    const share = (done: number) => 1 - 0.5 ** (tried - 1) + done * 0.5 ** tried;
    await encodeAgain(input, again(share), target, map, bitrate);
    const { size } = await stat(target);
    // A picture that needs less than it may take gets no larger, however much is asked for.
    if (under !== null && size < under * (1 + NEAR)) return;
    under = size < wanted ? size : null;
    // Encoders keep to a rate over minutes; over seconds they have to be asked again. What is asked for may not be gone over.
    const over = (size - heardBytes) / (wanted - heardBytes);
    if (tried === TRIES || (size <= wanted && size >= wanted * (1 - NEAR))) return;
    bitrate = Math.max(LEAST_BITRATE / 2, (bitrate / over) * (1 - NEAR / 3));
  }
}

/** What is to be encoded once more, and where. `onProgress` gets the seconds reached. */
export type Again = Pick<Joined, 'settings' | 'scratch' | 'signal'> & { onProgress?: (seconds: number) => void };

const fpsOf = ({ num, den }: Rate) => `fps=${num}/${den}`;

/**
 * Encodes a picture once more: into a loop, at its quality, or at so many bits a second.
 *
 * @param input ffmpeg's
 * @param sound how sound in it is mapped and taken along
 * @param bitrate how many may be written; null: its settings say how good it is
 */
export async function encodeAgain(
  input: readonly string[],
  work: Again,
  target: string,
  sound: readonly string[] = [],
  bitrate: number | null = null,
): Promise<void> {
  const { picture, rate } = work.settings;
  if (!picture) return loop(work, input, target);
  const { codec, control } = picture;
  if (bitrate === null && control.by !== 'quality') throw new Error('how much may be written decides how it is encoded');
  const encoder = control.by === 'quality' ? atQuality(codec, control.quality, rate) : atBitrate(codec, bitrate ?? 0, rate);
  const encoded = ['-map', '0:v', '-vf', fpsOf(rate), ...encoder, ...sound, ...container(work, rate), target];
  await ffmpeg([...input, ...encoded], running(work));
}

/** How ffmpeg is run for it. */
const running = ({ signal, onProgress }: Again) => ({ signal, ...(onProgress ? { onProgress } : {}) });

/** Encodes segments into a picture that moves and begins again. The colours of a GIF are chosen first, in a run of their own, so that no frame has to be held. */
async function loop(work: Again, input: readonly string[], target: string): Promise<void> {
  const { settings, signal, scratch } = work;
  const fps = fpsOf(settings.rate);
  const out = ['-an', '-loop', '0', ...container(work, settings.rate), target];
  if (settings.file === 'webp') {
    const encoder = ['-vf', fps, '-c:v', 'libwebp_anim', '-quality', '75', '-compression_level', '4'];
    await ffmpeg([...input, ...encoder, ...out], running(work));
    return;
  }
  const colours = path.join(scratch, 'colours.png');
  await ffmpeg([...input, '-vf', `${fps},palettegen=stats_mode=diff`, '-frames:v', '1', '-f', 'image2', colours], { signal });
  const graph = `[0:v]${fps}[seen];[seen][1:v]paletteuse=dither=sierra2_4a:diff_mode=rectangle`;
  await ffmpeg([...input, '-i', colours, '-filter_complex', graph, ...out], running(work));
}

/** Bits a second under which no picture is worth sending. */
export const LEAST_BITRATE = 60_000;
