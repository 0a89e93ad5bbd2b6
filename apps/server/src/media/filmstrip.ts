import type { Filmstrip } from '@flimzy/contract';
import type { MediaFacts } from '@flimzy/core/piece';
import { FLICKS_PER_SECOND, fromSeconds, toSeconds } from '@flimzy/core/time';
import { whole } from '../files/whole';
import { fileInput, scaleTo, upright } from './filters';
import type { DataFolder } from './folders';
import { proxySize } from './proxy';
import { ffmpeg } from './run';
import type { SourceFacts } from './source';
import { writeTiles } from './tiles';

/** Short side of one picture of a strip, most pictures, and pictures in a row. */
const SIDE = 90;
const MOST = 240;
const COLUMNS = 12;

/** Width of the sharp pictures, in pixels: a wide column on a screen of double density. */
const SHARP = 480;

type Shown = Pick<MediaFacts, 'kind' | 'width' | 'height' | 'length'>;

/** Makes the filmstrip of a video or photo from its proxy. @throws ProgramFailed */
export async function makeFilmstrip(folder: DataFolder, id: string, facts: Shown, proxy: string, signal?: AbortSignal): Promise<Filmstrip> {
  const size = proxySize(facts.width, facts.height, SIDE);
  if (facts.kind === 'photo') {
    const { width, height } = proxySize(facts.width, facts.height, SHARP);
    await onePicture(folder, id, fileInput(proxy), [`scale=${width}:${height}`], signal);
    return { columns: 1, count: 1, width, height, step: FLICKS_PER_SECOND, sharp: width };
  }
  const seconds = toSeconds(facts.length);
  const step = Math.max(0.25, Math.ceil((seconds / MOST) * 4) / 4);
  const count = Math.max(1, Math.ceil(seconds / step));
  const columns = Math.min(COLUMNS, count);
  const wide = Math.min(SHARP, proxySize(facts.width, facts.height).width);
  const pictures = [`fps=${1 / step}:round=up:start_time=0`, 'tpad=stop=-1:stop_mode=clone', `trim=end_frame=${count}`, 'split[a][b]'];
  const graph = [
    `[0:v]${pictures.join(',')}`,
    `[a]scale=${size.width}:${size.height},tile=${columns}x${Math.ceil(count / columns)}[strip]`,
    `[b]scale=${wide}:-2[tiles]`,
  ];
  const jpegs = await whole(folder.file(id, 'filmstrip.jpg'), (to) =>
    ffmpeg(
      [
        ...[...fileInput(proxy), '-an', '-filter_complex', graph.join(';')],
        ...['-map', '[strip]', '-frames:v', '1', '-q:v', '4', '-f', 'mjpeg', to],
        ...['-map', '[tiles]', '-q:v', '5', '-f', 'mjpeg', 'pipe:1'],
      ],
      { signal },
    ),
  );
  await writeTiles(folder.file(id, 'tiles'), jpegs);
  return { columns, count, ...size, step: fromSeconds(step), sharp: wide };
}

/**
 * A strip of one picture of a video, from the original: something to see while the proxy is made, within a second of the file's
 * arriving. Null when none could be had.
 */
export async function firstPicture(
  folder: DataFolder,
  id: string,
  facts: Shown,
  from: string,
  source: SourceFacts,
  signal?: AbortSignal,
): Promise<Filmstrip | null> {
  const size = proxySize(facts.width, facts.height, SIDE * 2);
  // Not the very first: that is often black, or a hand before the lens.
  const at = Math.min(0.5, toSeconds(facts.length) / 3).toFixed(3);
  const input = ['-ss', at, ...fileInput(from), '-map', `0:${source.videoStream}`];
  return onePicture(folder, id, input, [...upright(source), scaleTo(source, size.width, size.height)], signal).then(
    () => ({ columns: 1, count: 1, ...size, step: Math.max(1, facts.length) }),
    () => null,
  );
}

const onePicture = (folder: DataFolder, id: string, input: string[], filters: string[], signal?: AbortSignal) =>
  whole(folder.file(id, 'filmstrip.jpg'), (to) =>
    ffmpeg([...input, '-an', '-vf', [...filters, 'format=yuvj420p'].join(','), '-frames:v', '1', '-q:v', '3', '-f', 'mjpeg', to], {
      signal,
    }),
  );
