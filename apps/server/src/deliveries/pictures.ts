import { frameTime, sourceFrameAt, TIME_TOLERANCE, type FrameTimes, type PictureRef, type Rect } from '@flimzy/core/frame';
import { FLICKS_PER_SECOND, frameLength, fromSeconds, toSeconds, type Flicks, type Rate } from '@flimzy/core/time';
import { fileInput, scaleTo, upright } from '../media/filters';
import type { DataFolder } from '../media/folders';
import { proxyName } from '../media/proxy';
import type { SourceFacts } from '../media/source';
import type { MediaRow } from '../media/store';

/** A file to take pictures from. */
export interface PictureFile {
  file: string;
  source: SourceFacts;
  /** Null for a photo. */
  frames: FrameTimes | null;
  /** The stream that holds the picture, by its number in the file: a file may hold several. */
  stream: number;
}

/** The proxy of an item: what the preview reads; with its fields as they were recorded, where that is wanted. */
export function proxyOf(row: MediaRow, fields = false): 'proxy.mp4' | 'proxy-fields.mp4' | 'proxy.webm' | 'proxy.jpg' | 'proxy.png' {
  if (fields && row.facts?.interlaced) return 'proxy-fields.mp4';
  if (row.facts?.kind !== 'photo') return proxyName(row.facts ?? {});
  return row.source?.standIn === 'picture.png' ? 'proxy.png' : 'proxy.jpg';
}

/** The original of an item (or what stands in for it), or its proxy. */
export function pictureFile(folder: DataFolder, row: MediaRow, from: 'original' | 'proxy', fields = false): PictureFile {
  if (!row.source) throw new Error(`${row.id} was never probed`);
  const { frames } = row;
  if (from === 'original') {
    const { standIn, videoStream } = row.source;
    return { file: folder.file(row.id, standIn ?? 'original'), source: row.source, frames, stream: standIn ? 0 : (videoStream ?? 0) };
  }
  const matrix = frames ? ('bt709' as const) : ('smpte170m' as const);
  return {
    file: folder.file(row.id, proxyOf(row, fields)),
    source: { ...row.source, turn: 0, interlaced: false, transfer: undefined, matrix },
    frames,
    stream: 0,
  };
}

/**
 * ffmpeg input options and filters that give exactly the frames of a stretch, at the rate of the piece: output frame n is the
 * source frame that {@link sourceFrameAt} names for the time of the picture n frames of the piece later, at its pace, of the stream that
 * the probe chose. Seeks to just before the first of them; the timebase is set to flicks, so that nothing is rounded. What stands still is one
 * frame, which `held` repeats: after all else that is done to it, so that this is done once.
 *
 * @param shown time in the material (flicks), how fast it runs, or that it stands still
 * @param frames how many are wanted: going backwards, as many are held and turned round
 */
export function stretch(
  picture: PictureFile,
  shown: Pick<PictureRef, 'time' | 'pace' | 'still' | 'fields'>,
  rate: Rate,
  frames: number,
): { input: string[]; map: string[]; filters: string[]; held: string[] } {
  const { still, pace = 1 } = shown;
  const backwards = pace < 0 && frames > 1;
  const from = backwards ? shown.time + Math.round((frames - 1) * frameLength(rate) * pace) : shown.time;
  const map = ['-map', `0:${picture.stream}`];
  const seen = upright(shown.fields ? { ...picture.source, interlaced: false } : picture.source);
  const clock = `${rate.num}/${rate.den}`;
  if (!picture.frames)
    return {
      input: fileInput(picture.file),
      map,
      filters: seen,
      held: standing(rate),
    };
  const first = sourceFrameAt(picture.frames, from);
  const begins = frameTime(picture.frames, first);
  const earlier = first === 0 ? begins - TIME_TOLERANCE * 4 : (begins + frameTime(picture.frames, first - 1)) / 2;
  const seek = Math.max(0, Math.floor(toSeconds(earlier) * 1e6) / 1e6);
  return {
    input: [...(seek > 0 ? ['-ss', seek.toFixed(6)] : []), ...fileInput(picture.file)],
    map,
    filters: [
      `settb=1/${FLICKS_PER_SECOND}`,
      `setpts='(${exactTimes(picture.frames, fromSeconds(seek))}-${from + TIME_TOLERANCE})/${Math.abs(pace)}'`,
      ...seen,
      // Made of a file of pictures, a video says of the last one that it lasts no time.
      ...(picture.source.standIn?.startsWith('moving') ? ['tpad=stop=1:stop_mode=clone'] : []),
      `fps=${clock}:round=up:start_time=0`,
      ...(still ? ['trim=end_frame=1'] : ['tpad=stop=-1:stop_mode=clone']),
      ...(backwards ? [`trim=end_frame=${frames}`, 'reverse', 'tpad=stop=-1:stop_mode=clone'] : []),
    ],
    held: still ? standing(rate) : [],
  };
}

/** One frame, again and again at the rate of the piece. */
function standing(rate: Rate): string[] {
  return ['loop=loop=-1:size=1:start=0', `settb=${rate.den}/${rate.num}`, 'setpts=N', `fps=${rate.num}/${rate.den}`];
}

/**
 * A frame's time in the material, in flicks, as ffmpeg's expression: what the decoder says plus where it was made to start.
 * Seeking rounds that to ticks of the file's clock, so with an even rate it is put back on the formula: a frame that begins
 * just when another ends must not fall on the wrong side.
 */
function exactTimes(frames: FrameTimes, seek: Flicks): string {
  if ('times' in frames) return `PTS+${seek}`;
  const step = `${FLICKS_PER_SECOND * frames.den}/${frames.num}`;
  return `${frames.first}+round(round((PTS+${seek - frames.first})*${frames.num}/${FLICKS_PER_SECOND * frames.den})*${step})`;
}

/** From RGB to what encoders take. */
export const TO_ENCODER = ['scale=flags=bicubic+accurate_rnd:out_color_matrix=bt709:out_range=tv', 'format=yuv420p'];

/** What stands in for an original through which something shines. */
const CLEAR: SourceFacts['standIn'][] = ['picture.png', 'moving.mov'];

/** Scaling for the compositor: the whole picture at the size in which it is drawn, as RGBA bytes, or as RGB where nothing shines through. */
export function asRgba(source: SourceFacts, width: number, height: number, kind: 'rgba' | 'gbrp' = 'rgba'): string[] {
  const hdr = source.transfer ? [scaleTo(source, width, height)] : [];
  const matrix = source.transfer ? 'bt709' : source.matrix;
  const flags = 'flags=bicubic+accurate_rnd+full_chroma_int';
  // The colour of what cannot be seen must not be mixed into the edges of what can.
  if (CLEAR.includes(source.standIn)) {
    const scaled = ['premultiply=inplace=1', `scale=${width}:${height}:${flags}`, 'unpremultiply=inplace=1'];
    return [`scale=${flags}:in_color_matrix=${matrix}`, 'format=gbrap', ...scaled, 'setsar=1', 'format=rgba'];
  }
  return [...hdr, `scale=${width}:${height}:${flags}:in_color_matrix=${matrix}`, 'setsar=1', `format=${kind}`];
}

/** How much larger than the frame a picture is decoded at most, each way; where it is drawn larger still, the canvas enlarges it. */
const MOST_OVER = 2;

/** The even size in which a picture is decoded that is drawn into a rectangle, at `scale`: that of the rectangle, within reason. */
export function drawnSize(rect: Rect, frame: { width: number; height: number }, scale: number): { width: number; height: number } {
  const over = Math.max(1, Math.min(rect.width / frame.width, rect.height / frame.height) / MOST_OVER);
  const even = (n: number) => Math.max(2, Math.round((n * scale) / over / 2) * 2);
  return { width: even(rect.width), height: even(rect.height) };
}
