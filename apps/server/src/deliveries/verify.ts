import { readFile, stat } from 'node:fs/promises';
import type { DeliveryCheck } from '@flimzy/contract';
import { CODEC_NAMES, isSeen, loudnessChecks, type DeliverySettings } from '@flimzy/core/deliver';
import { frameLength, sameRate, toSeconds, type Flicks, type Rate } from '@flimzy/core/time';
import { run } from '../media/run';

/** What a finished file must be. */
export interface Due {
  settings: DeliverySettings;
  /** Length in flicks, and frames a second of the piece. */
  length: Flicks;
  rate: Rate;
  signal: AbortSignal;
}

/** A finished file that is not what it should be. */
export class NotAsItShould extends Error {
  override name = 'NotAsItShould';
}

interface Stream {
  codec_type: 'video' | 'audio';
  codec_name: string;
  width?: number;
  height?: number;
  nb_read_packets?: string;
  duration?: string;
  tags?: { DURATION?: string };
}

/** "00:01:02.5" or "62.5" in seconds. */
const secondsOf = (text: string | undefined) => text?.split(':').reduce((sum, part) => sum * 60 + Number(part), 0) ?? NaN;

/** How long sound and picture may differ: less than anyone hears, more than any codec's last packet. */
const APART = 0.06;

/**
 * Looks at a finished file before it is called done: every packet is read and counted, the picture decoded at each group's beginning and the
 * sound all through, its loudness measured.
 *
 * @returns what was looked at, as sentences @throws NotAsItShould when it is not whole
 */
export async function verify(file: string, due: Due): Promise<DeliveryCheck[]> {
  const { settings } = due;
  const { format, size, sound } = settings;
  const seconds = toSeconds(due.length);
  const checks: DeliveryCheck[] = [];
  const { size: bytes } = await stat(file);
  if (settings.file === 'webp') checks.push(await webpFrames(file, due));
  else {
    const reading = decoded(file, due);
    reading.catch(() => undefined); // said below, after what the streams say
    const streams = await probed(file, due.signal);
    const [seen, heard] = (['video', 'audio'] as const).map((type) => streams.find((stream) => stream.codec_type === type));
    if (size && (!seen || seen.width !== size.width || seen.height !== size.height))
      throw new NotAsItShould('Its picture has another size.');
    if ((sound !== null) !== (heard !== undefined)) throw new NotAsItShould(sound ? 'It has no sound.' : 'It has sound.');
    if (seen) checks.push(frames(Number(seen.nb_read_packets), due));
    const long = secondsOf(heard?.duration ?? heard?.tags?.DURATION);
    if (heard && Number.isFinite(long)) {
      if (Math.abs(long - seconds) > APART)
        throw new NotAsItShould(`Its sound is ${long.toFixed(2)} s long instead of ${seconds.toFixed(2)} s.`);
      checks.push({ says: size ? 'Sound as long as the picture' : `${seconds.toFixed(1)} s of sound`, ok: true });
    }
    checks.push(...(await reading));
    const codecs = [seen, heard].flatMap((stream) => (stream ? [nameOf(stream.codec_name)] : []));
    if (codecs.length > 0) checks.push({ says: codecs.join(' + '), ok: true });
  }
  const asked = settings.picture?.control.by === 'bytes' ? settings.picture.control.bytes : Infinity;
  const most = Math.min(asked, format?.bytes ?? Infinity);
  const megabytes = (n: number) => `${(n / 1e6).toFixed(1)} MB`;
  if (Number.isFinite(most)) checks.push({ says: `${megabytes(bytes)}; ${megabytes(most)} at most`, ok: bytes <= most });
  return checks;
}

const nameOf = (codec: string) => CODEC_NAMES[codec as keyof typeof CODEC_NAMES] ?? (codec.startsWith('pcm') ? 'WAV' : codec.toUpperCase());

async function probed(file: string, signal: AbortSignal): Promise<Stream[]> {
  const entries = 'stream=codec_type,codec_name,width,height,nb_read_packets,duration:stream_tags=DURATION';
  const said = await run('ffprobe', ['-v', 'error', '-count_packets', '-show_entries', entries, '-of', 'json', file], { signal });
  return (JSON.parse(said.toString()) as { streams: Stream[] }).streams;
}

/** Frames are counted: exactly where segments were joined; where frames were left out, to one. */
function frames(count: number, { settings, length, rate }: Due): DeliveryCheck {
  const should = Math.round((length / frameLength(rate)) * ((settings.rate.num * rate.den) / (settings.rate.den * rate.num)));
  if (Math.abs(count - should) > (sameRate(settings.rate, rate) ? 0 : 1))
    throw new NotAsItShould(`It has ${count} frames instead of ${should}.`);
  return { says: `${count} frames, as many as there should be`, ok: true };
}

/** Decodes what is mapped of a file, of a picture each group's beginning. Returns the end of what ffmpeg said. @throws NotAsItShould */
async function read(file: string, mapped: string[], signal: AbortSignal): Promise<string> {
  let said = '';
  const args = ['-hide_banner', '-nostdin', '-xerror', '-loglevel', 'info', '-nostats', '-skip_frame', 'nokey', '-i', file];
  await run('ffmpeg', [...args, ...mapped, '-f', 'null', '-'], { signal, onError: (text) => (said = (said + text).slice(-4000)) }).catch(
    (error: unknown) => {
      if (signal.aborted) throw error;
      throw new NotAsItShould('It cannot be read to its end.');
    },
  );
  return said;
}

/** Decodes picture and sound to their end, at the same time; of sound that is measured, says how loud it is. */
async function decoded(file: string, { settings, signal }: Due): Promise<DeliveryCheck[]> {
  const { format, sound } = settings;
  const [said] = await Promise.all([
    sound ? read(file, ['-map', '0:a', '-af', 'ebur128=peak=true:framelog=verbose'], signal) : '',
    isSeen(settings.file) ? read(file, ['-map', '0:v'], signal) : '',
  ]);
  const figure = (name: string) => Number(new RegExp(`${name}:\\s+(-?[\\d.]+|-inf)`).exec(said)?.[1]?.replace('-inf', '-Infinity') ?? NaN);
  const checks: DeliveryCheck[] = [{ says: 'Read to its end', ok: true }];
  const [integrated, peak] = [figure('I'), figure('Peak')];
  if (!sound || Number.isNaN(integrated)) return checks;
  return [...checks, ...loudnessChecks(format, { integrated, peak })];
}

/** The pictures of an animated WebP, which no program here reads: its chunks are counted. */
async function webpFrames(file: string, due: Due): Promise<DeliveryCheck> {
  const bytes = await readFile(file);
  if (bytes.toString('latin1', 0, 4) !== 'RIFF' || bytes.readUInt32LE(4) + 8 !== bytes.length) throw new NotAsItShould('It is not whole.');
  let lasts = 0;
  for (let at = 12; at + 8 <= bytes.length;) {
    const long = bytes.readUInt32LE(at + 4);
    // Equal pictures are one that is shown longer: what counts is how long all of them are, in ms.
    if (bytes.toString('latin1', at, at + 4) === 'ANMF') lasts += bytes.readUIntLE(at + 20, 3);
    at += 8 + long + (long & 1);
  }
  const should = toSeconds(due.length) * 1000;
  const frame = (1000 * due.settings.rate.den) / due.settings.rate.num;
  if (Math.abs(lasts - should) > frame * 1.5 + 2)
    throw new NotAsItShould(`It lasts ${(lasts / 1000).toFixed(2)} s instead of ${(should / 1000).toFixed(2)} s.`);
  return { says: `${(lasts / 1000).toFixed(1)} s of pictures`, ok: true };
}
