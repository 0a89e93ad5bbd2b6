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
  sizeIn,
  speedOf,
  type Clip,
  type MediaFacts,
  type Meeting,
  type Piece,
  type Timeline,
} from '../piece';
import { valueAt, valueOf } from '../properties';
import { frameLength, type Flicks } from '../time';
import { placeOf } from './framing';
import { faded, uncovered, withEffects, type Layer, type PictureRef } from './layers';
import { partsAt } from './overlays';
import { covers, isPlain, placePicture } from './placement';
import { between } from './transitions';

/** What is seen at one time: plain data, the same for preview and export. Black where nothing is drawn. */
export interface FrameDescription {
  width: number;
  height: number;
  layers: Layer[];
}

/** What a clip is evaluated for. */
interface At {
  piece: Piece;
  /** On the timeline that it stands on. */
  time: Flicks;
  /** The nests on the way to it, joined by `/`. */
  way: string;
  /** How many times as fast as the piece the time of that timeline runs. */
  pace: number;
  /** In a frozen nest nothing moves. */
  still: boolean;
}

/** Within no nest. */
const OUTSIDE: Omit<At, 'piece' | 'time'> = { way: '', pace: 1, still: false };

/** The layers that one clip contributes. */
function clipLayers(at: At, clip: Clip, media: MediaFacts): Layer[] {
  const { piece, time } = at;
  const keyed = keyTime(clip, time);
  const opacity = valueAt(valueOf(clip, 'opacity'), keyed);
  const layers = withEffects(plainLayers(at, clip, media, keyed), clip.effects, frameNumber(piece, time));
  return faded(layers, opacity, piece.format);
}

const frameNumber = (piece: Piece, time: Flicks) => Math.round(time / frameLength(piece.format.rate));

/** The same as they are wholly there, without what is done to its picture; those of its inside when it is a nest, which has the frame of the piece. */
function plainLayers({ piece, time, way, pace: outer, still }: At, clip: Clip, media: MediaFacts, keyed: Flicks): Layer[] {
  const { format } = piece;
  const frame = frameLength(format.rate);
  const name = way ? `${way}/${clip.id}` : clip.id;
  const moment = materialAt(clip, time);
  const stands = still || isStill(clip, media);
  const pace = outer * speedOf(clip);
  const placed = placeOf(clip, sizeIn(format, media), format, keyed);
  if (media.kind === 'overlay') {
    const parts = partsAt(clip, time, frame);
    return parts.length === 0 ? [] : [{ kind: 'overlay', parts, opacity: 1, ...placed }];
  }
  if (media.kind === 'nest') {
    const inner = piece.nests?.[media.id];
    if (!inner) return [];
    // Beside its own ends, in a transition, a nest without more inside stands still: its frames there are pictures of their own.
    const last = Math.max(0, pieceLength(inner) - frame);
    const held = (time < clip.start && moment < 0) || (time >= clipEnd(clip) && moment > last);
    const layers = held
      ? timelineLayers({ piece, time: moment < 0 ? 0 : last, way: `${name}~`, pace, still: true }, inner)
      : timelineLayers({ piece, time: moment, way: name, pace, still: stands }, inner);
    if (isPlain(placed) && covers(placed, format)) return layers;
    return layers.length > 0 ? [{ kind: 'group', layers: uncovered(layers, format), opacity: 1, placed }] : [];
  }
  const picture: PictureRef = { media: clip.media, clip: name, time: media.kind === 'photo' ? 0 : moment };
  if (stands) picture.still = true;
  else if (pace !== 1) picture.pace = pace;
  if (media.alpha) picture.alpha = true;
  if (media.interlaced && valueOf(clip, 'fields') === 'recorded') picture.fields = true;
  const own: Layer = { kind: 'picture', picture, ...placed, opacity: 1 };
  const seen = [own, ...nextFrame(clip, media, picture).map(({ opacity, ...next }): Layer => ({ ...own, picture: next, opacity }))];
  return clip.backdrop === 'black' || covers(placed, format) ? seen : [backdropOf(clip, media, picture, format), ...seen];
}

/** The next frame of the material and how much of it is seen, where frames of a slow clip are blended; none where it is as it is. */
function nextFrame(clip: Clip, { rate }: MediaFacts, picture: PictureRef): (PictureRef & { opacity: number })[] {
  if (!rate || picture.still || !isBlended(clip)) return [];
  const lasts = frameLength(rate);
  const opacity = (((picture.time % lasts) + lasts) % lasts) / lasts;
  return opacity === 0 ? [] : [{ ...picture, clip: `${picture.clip}+`, time: picture.time + lasts, opacity }];
}

/** Whether what is between two frames of a clip's material is mixed of both. */
export const isBlended = (clip: Clip): boolean => valueOf(clip, 'between') === 'blended' && Math.abs(speedOf(clip)) < 1;

/** What fills the frame behind a picture that does not. */
function backdropOf(clip: Clip, media: MediaFacts, picture: PictureRef, format: Piece['format']): Layer {
  if (clip.backdrop === 'blur')
    return {
      kind: 'backdrop',
      picture,
      rect: placePicture(media, format, 'fill'),
      soft: valueOf(clip, 'backdropSoft'),
      light: valueOf(clip, 'backdropLight'),
      colourful: valueOf(clip, 'backdropColourful'),
    };
  const to = clip.backdrop === 'gradient' ? { to: valueOf(clip, 'backdropTo') } : {};
  return { kind: 'fill', colour: valueOf(clip, 'backdropColour'), ...to };
}

function timelineLayers(at: At, timeline: Timeline): Layer[] {
  const { piece, time } = at;
  const frame = frameLength(piece.format.rate);
  const of = (clip: Clip | null) => {
    const media = clip && piece.media[clip.media];
    return clip && media ? clipLayers(at, clip, media) : [];
  };
  return seenTracks(timeline).flatMap((track) => {
    const meeting = meetingAt(track, time, frame);
    const layers = meeting
      ? met(meeting, (time + frame / 2 - meeting.from) / (meeting.to - meeting.from), of, piece.format)
      : of(clipAt(track, time));
    return withEffects(layers, track.effects, frameNumber(piece, time));
  });
}

const met = ({ transition, before, after }: Meeting, p: number, of: (clip: Clip | null) => Layer[], format: Piece['format']) =>
  between(transition, p, of(before), of(after), format);

/** What is seen at a time. Higher picture tracks cover lower ones; what is wholly covered is left out, so that nobody decodes it. */
export function evaluate(piece: Piece, time: Flicks): FrameDescription {
  const { width, height } = piece.format;
  const layers = uncovered(timelineLayers({ ...OUTSIDE, piece, time }, piece), piece.format);
  return { width, height, layers: withEffects(layers, piece.effects, frameNumber(piece, time)) };
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
      return media && at > from && at < to ? [{ layers: clipLayers({ ...OUTSIDE, piece, time: at }, clip, media), at }] : [];
    }),
  );
}
