import type { Fields } from '@flimzy/core/properties';
import { pictureFile, stretch } from '../deliveries/pictures';
import type { DataFolder } from './folders';
import { ffmpeg } from './run';
import type { MediaRow } from './store';

/** Most pixels of each side: a part of the picture, so that its lines are seen one by one. */
const SIDE = 480;

/** The middle of a frame of interlaced video, pixel for pixel, as JPEG. `at` in flicks. @throws ProgramFailed */
export function fieldsAt(folder: DataFolder, row: MediaRow, wish: { at: number; fields: Fields }, signal: AbortSignal): Promise<Buffer> {
  const rate = row.facts?.rate ?? { num: 25, den: 1 };
  const shown = { time: wish.at, ...(wish.fields === 'recorded' ? { fields: true as const } : {}) };
  const { input, map, filters } = stretch(pictureFile(folder, row, 'original'), shown, rate, 1);
  const middle = `crop=w='min(iw,${SIDE})':h='min(ih,${SIDE})'`;
  const jpeg = ['-frames:v', '1', '-q:v', '2', '-f', 'mjpeg', 'pipe:1'];
  return ffmpeg([...input, ...map, '-an', '-vf', [...filters, middle, 'format=yuvj420p'].join(','), ...jpeg], { signal });
}
