import { evaluate, pictureLayers } from '@flimzy/core/frame';
import type { Piece } from '@flimzy/core/piece';
import type { Flicks } from '@flimzy/core/time';
import type { DataFolder } from '../media/folders';
import { ffmpeg } from '../media/run';
import type { MediaStore } from '../media/store';
import { ServerStage } from './canvas';
import { asRgba, drawnSize, pictureFile, stretch } from './pictures';

/** Draws one frame of a piece, `width` pixels wide, with the compositor that previews and exports use. */
export async function drawStill(
  store: MediaStore,
  folder: DataFolder,
  piece: Piece,
  time: Flicks,
  width: number,
  from: 'proxy' | 'original',
  signal?: AbortSignal,
): Promise<ServerStage> {
  const scale = width / piece.format.width;
  const stage = new ServerStage(width, Math.round(piece.format.height * scale), scale);
  const frame = evaluate(piece, time);
  for (const layer of pictureLayers(frame.layers)) {
    if (layer.kind !== 'picture') continue;
    const row = await store.row(layer.picture.media);
    if (!store.isUsable(row)) continue;
    const picture = pictureFile(folder, row, row.status === 'ready' ? from : 'original', layer.picture.fields);
    const size = drawnSize(layer.rect, piece.format, scale);
    const { input, map, filters } = stretch(picture, layer.picture, piece.format.rate, 1);
    const vf = [...filters, ...asRgba(picture.source, size.width, size.height)].join(',');
    const rgba = await ffmpeg([...input, ...map, '-an', '-vf', vf, '-frames:v', '1', '-f', 'rawvideo', 'pipe:1'], { signal });
    if (rgba.length === size.width * size.height * 4) stage.setPicture(layer.picture.clip, rgba, size.width, size.height);
  }
  stage.draw(frame);
  return stage;
}
