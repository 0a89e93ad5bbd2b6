import {
  clipAt,
  clipEnd,
  isStill,
  meetingAt,
  meetingInto,
  keyTime,
  materialAt,
  pieceLength,
  seenTracks,
  type Clip,
  type MediaFacts,
  type Piece,
  type Timeline,
} from '../piece';
import { valueAt, valueOf } from '../properties';
import { frameLength, type Flicks } from '../time';
import { placeOf } from './framing';
import { faded, uncovered, type Layer, type PictureRef } from './layers';
import { partsAt } from './overlays';
import { covers, isPlain, placePicture } from './placement';
import { between } from './transitions';

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
  const keyed = keyTime(clip, time);
  const opacity = valueAt(valueOf(clip, 'opacity'), keyed);
  const stands = still || isStill(clip, media);
  if (media.kind === 'nest') {
    const inner = piece.nests?.[media.id];
    if (!inner) return [];
    // Beside its own ends, in a transition, a nest without more inside stands still: its frames there are pictures of their own.
    const last = Math.max(0, pieceLength(inner) - frameLength(piece.format.rate));
    const held = (time < clip.start && moment < 0) || (time >= clipEnd(clip) && moment > last);
    const layers = held
      ? timelineLayers(piece, inner, moment < 0 ? 0 : last, `${name}~`, true)
      : timelineLayers(piece, inner, moment, name, stands);
    const placed = placeOf(clip, piece.format, piece.format, keyed);
    if (isPlain(placed) && covers(placed, piece.format)) return faded(layers, opacity, piece.format);
    const group: Layer = { kind: 'group', layers: uncovered(layers, piece.format), opacity: 1, placed };
    return layers.length > 0 ? faded([group], opacity, piece.format) : [];
  }
  if (media.kind === 'overlay') {
    const parts = partsAt(clip, time, frameLength(piece.format.rate));
    return parts.length === 0
      ? []
      : faded([{ kind: 'overlay', parts, opacity: 1, ...placeOf(clip, piece.format, piece.format, keyed) }], opacity, piece.format);
  }
  const picture: PictureRef = { media: clip.media, clip: name, time: media.kind === 'photo' ? 0 : moment };
  if (stands) picture.still = true;
  if (media.alpha) picture.alpha = true;
  const placed = placeOf(clip, media, piece.format, keyed);
  const layers: Layer[] = [];
  if (clip.backdrop !== 'black' && !covers(placed, { width, height }))
    layers.push(
      clip.backdrop === 'blur'
        ? { kind: 'backdrop', picture, rect: placePicture(media, piece.format, 'fill') }
        : {
            kind: 'fill',
            colour: valueOf(clip, 'backdropColour'),
            ...(clip.backdrop === 'gradient' ? { to: valueOf(clip, 'backdropTo') } : {}),
          },
    );
  layers.push({ kind: 'picture', picture, ...placed, opacity: 1 });
  return faded(layers, opacity, piece.format);
}

function timelineLayers(piece: Piece, timeline: Timeline, time: Flicks, way: string, still: boolean): Layer[] {
  const layers: Layer[] = [];
  const frame = frameLength(piece.format.rate);
  for (const track of seenTracks(timeline)) {
    const of = (clip: Clip | null) => {
      const media = clip && piece.media[clip.media];
      return clip && media ? clipLayers(piece, clip, media, time, way, still) : [];
    };
    const meeting = meetingAt(track, time, frame);
    if (!meeting) layers.push(...of(clipAt(track, time)));
    else {
      const { transition, before, after, from, to } = meeting;
      layers.push(...between(transition, (time + frame / 2 - from) / (to - from), of(before), of(after), piece.format));
    }
  }
  return layers;
}

/** What is seen at a time. Higher picture tracks cover lower ones; what is wholly covered is left out, so that nobody decodes it. */
export function evaluate(piece: Piece, time: Flicks): FrameDescription {
  const { width, height } = piece.format;
  return { width, height, layers: uncovered(timelineLayers(piece, piece, time, '', false), piece.format) };
}

/** The time whose frame is shown at `time`: the end of a piece shows its last frame. Flicks. */
export function lastShown(piece: Piece, time: Flicks): Flicks {
  return Math.min(time, Math.max(0, pieceLength(piece) - frameLength(piece.format.rate)));
}

/** The picture clips that a stretch of a timeline shows, in nests too, with the time on the piece's timeline at which each begins to be seen. */
export function clipsAhead(piece: Piece, from: Flicks, to: Flicks): { layers: Layer[]; at: Flicks }[] {
  const frame = frameLength(piece.format.rate);
  return seenTracks(piece).flatMap((track) =>
    track.clips.flatMap((clip, n) => {
      const at = meetingInto(track, n, frame)?.from ?? clip.start;
      const media = piece.media[clip.media];
      return media && at > from && at < to ? [{ layers: clipLayers(piece, clip, media, at, '', false), at }] : [];
    }),
  );
}
