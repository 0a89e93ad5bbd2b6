import { clipAt, isStill, materialAt, pieceLength, seenTracks, type Clip, type MediaFacts, type Piece, type Timeline } from '../piece';
import { frameLength, type Flicks } from '../time';
import { covers, placePicture, type Rect } from './placement';

/** A picture taken from a media item. */
export interface PictureRef {
  media: string;
  /** Time in the material, in flicks. */
  time: Flicks;
  /** The clip it is shown for (within nests, the clips on the way to it, joined by `/`): two clips of one item are two pictures. */
  clip: string;
  /** The same moment throughout: a photo, or a frozen frame. */
  still?: true;
  /** Something shines through it. */
  alpha?: true;
}

/** One thing drawn. Layers are drawn in order, each over those before it. */
export type Layer =
  /** The picture laid into `rect`. */
  | { kind: 'picture'; picture: PictureRef; rect: Rect; opacity: number }
  /** The picture blurred and darkened, covering the frame: what stands behind one that does not fill it. */
  | { kind: 'backdrop'; picture: PictureRef; rect: Rect };

/** What is seen at one time: plain data, the same for preview and export. Black where nothing is drawn. */
export interface FrameDescription {
  width: number;
  height: number;
  layers: Layer[];
}

/** The layers that one clip contributes; those of its inside when it is a nest, which has the frame of the piece. In a frozen one nothing moves. */
function clipLayers(piece: Piece, clip: Clip, media: MediaFacts, time: Flicks, way: string, still: boolean): Layer[] {
  const { width, height } = piece.format;
  const name = way ? `${way}/${clip.id}` : clip.id;
  const moment = materialAt(clip, time);
  const stands = still || isStill(clip, media);
  if (media.kind === 'nest') {
    const inner = piece.nests?.[media.id];
    return inner ? timelineLayers(piece, inner, moment, name, stands) : [];
  }
  const picture: PictureRef = { media: clip.media, clip: name, time: media.kind === 'photo' ? 0 : moment };
  if (stands) picture.still = true;
  if (media.alpha) picture.alpha = true;
  const rect = placePicture(media, piece.format, clip.fit);
  const layers: Layer[] = [];
  if (clip.backdrop === 'blur' && !covers(rect, { width, height }))
    layers.push({ kind: 'backdrop', picture, rect: placePicture(media, piece.format, 'fill') });
  layers.push({ kind: 'picture', picture, rect, opacity: 1 });
  return layers;
}

/** Whether a layer leaves nothing of what is under it. */
function hides(layer: Layer, frame: { width: number; height: number }): boolean {
  return !layer.picture.alpha && (layer.kind === 'backdrop' || (layer.opacity === 1 && covers(layer.rect, frame)));
}

function timelineLayers(piece: Piece, timeline: Timeline, time: Flicks, way: string, still: boolean): Layer[] {
  const layers: Layer[] = [];
  for (const track of seenTracks(timeline)) {
    const clip = clipAt(track, time);
    const media = clip && piece.media[clip.media];
    if (clip && media) layers.push(...clipLayers(piece, clip, media, time, way, still));
  }
  return layers;
}

/** What is seen at a time. Higher picture tracks cover lower ones; what is wholly covered is left out, so that nobody decodes it. */
export function evaluate(piece: Piece, time: Flicks): FrameDescription {
  const { width, height } = piece.format;
  const layers = timelineLayers(piece, piece, time, '', false);
  const lowest = layers.findLastIndex((layer) => hides(layer, { width, height }));
  return { width, height, layers: lowest > 0 ? layers.slice(lowest) : layers };
}

/** The time whose frame is shown at `time`: the end of a piece shows its last frame. Flicks. */
export function lastShown(piece: Piece, time: Flicks): Flicks {
  return Math.min(time, Math.max(0, pieceLength(piece) - frameLength(piece.format.rate)));
}

/** The picture clips that a stretch of a timeline shows, in nests too, with the time on the piece's timeline at which each begins. */
export function clipsAhead(piece: Piece, from: Flicks, to: Flicks): { layers: Layer[]; at: Flicks }[] {
  return seenTracks(piece).flatMap((track) =>
    track.clips
      .filter((clip) => clip.start > from && clip.start < to)
      .flatMap((clip) => {
        const media = piece.media[clip.media];
        return media ? [{ layers: clipLayers(piece, clip, media, clip.start, '', false), at: clip.start }] : [];
      }),
  );
}
