import type { Filmstrip } from '@flimzy/contract';
import type { MediaFacts } from '@flimzy/core/piece';
import { FLICKS_PER_SECOND, fromSeconds, toSeconds } from '@flimzy/core/time';
import { whole } from '../files/whole';
import { fileInput } from './filters';
import type { DataFolder } from './folders';
import { proxySize } from './proxy';
import { ffmpeg } from './run';

/** Short side of one picture, most pictures of a strip, and pictures in a row. */
const SIDE = 90;
const MOST = 240;
const COLUMNS = 12;

/** Makes the filmstrip of a video or photo from its proxy. @throws ProgramFailed */
export async function makeFilmstrip(
  folder: DataFolder,
  id: string,
  facts: Pick<MediaFacts, 'kind' | 'width' | 'height' | 'length'>,
  proxy: string,
  signal?: AbortSignal,
): Promise<Filmstrip> {
  const { width, height } = proxySize(facts.width, facts.height, SIDE);
  const draw = (filters: string[], quality: number) =>
    whole(folder.file(id, 'filmstrip.jpg'), (to) =>
      ffmpeg([...fileInput(proxy), '-an', '-vf', filters.join(','), '-frames:v', '1', '-q:v', String(quality), '-f', 'mjpeg', to], {
        signal,
      }),
    );
  if (facts.kind === 'photo') {
    await draw([`scale=${width}:${height}`, 'format=yuvj420p'], 3);
    return { columns: 1, count: 1, width, height, step: FLICKS_PER_SECOND };
  }
  const seconds = toSeconds(facts.length);
  const step = Math.max(0.25, Math.ceil((seconds / MOST) * 4) / 4);
  const count = Math.max(1, Math.ceil(seconds / step));
  const columns = Math.min(COLUMNS, count);
  const pictures = [`fps=${1 / step}:round=up:start_time=0`, `scale=${width}:${height}`, 'tpad=stop=-1:stop_mode=clone'];
  await draw([...pictures, `trim=end_frame=${count}`, `tile=${columns}x${Math.ceil(count / columns)}`], 4);
  return { columns, count, width, height, step: fromSeconds(step) };
}
