import { clipEnd, materialAt, materialStart, paceOf, seenTracks, type Piece, type Timeline } from '../piece';
import { evaluate, type Layer } from '../frame';
import { frameAt, frameLength, type Flicks } from '../time';

/** A segment is at most this many frames, so that long clips render in parallel and a small change costs little. */
export const SEGMENT_FRAMES = 300;

/** A stretch of the export between two edit points (or a part of a long one), in frames of the piece. */
export interface Segment {
  start: number;
  frames: number;
  /** What is drawn at its first frame; only the times of the pictures change within it, at the pace of the piece. */
  layers: Layer[];
  /**
   * `straight`: one picture over black, so the decoder's frames go to the encoder. `drawn`: the compositor is needed.
   * `black`: nothing is there.
   */
  way: 'straight' | 'drawn' | 'black';
}

/** The times at which what is drawn changes: clip starts and ends on the picture tracks that are seen, within nests too, and the end; ascending. */
export function editPoints(piece: Piece, end: Flicks): Flicks[] {
  const points = new Set<Flicks>([0, end]);
  const visit = (timeline: Timeline, from: Flicks, to: Flicks, shift: Flicks): void => {
    const note = (time: Flicks) => time > from && time < to && points.add(time + shift);
    for (const track of seenTracks(timeline)) {
      for (const clip of track.clips) {
        note(clip.start);
        note(clipEnd(clip));
        const nest = piece.nests?.[clip.media];
        if (!nest || paceOf(clip).kind === 'frozen' || clip.start >= to || clipEnd(clip) <= from) continue;
        const begin = materialStart(clip);
        visit(nest, materialAt(clip, Math.max(from, clip.start)), materialAt(clip, Math.min(to, clipEnd(clip))), shift + begin);
      }
    }
  };
  visit(piece, 0, end, 0);
  return [...points].sort((a, b) => a - b);
}

/** Cuts frames [first, first + count) where the material, not the timeline, reaches a multiple of the segment length: a trimmed head leaves later segments as they were. */
function subdivide(first: number, count: number, sourceFrame: number): { start: number; frames: number }[] {
  const parts: { start: number; frames: number }[] = [];
  let done = 0;
  while (done < count) {
    const untilBoundary = SEGMENT_FRAMES - ((sourceFrame + done) % SEGMENT_FRAMES);
    const frames = count - done <= untilBoundary + SEGMENT_FRAMES / 4 ? count - done : untilBoundary;
    parts.push({ start: first + done, frames });
    done += frames;
  }
  return parts;
}

function wayOf(layers: readonly Layer[]): Segment['way'] {
  if (layers.length === 0) return 'black';
  const [only] = layers;
  return layers.length === 1 && only?.kind === 'picture' && only.opacity === 1 && !only.picture.alpha ? 'straight' : 'drawn';
}

/** The segments of the frames [from, to) of a piece, in order and without gaps. */
export function planSegments(piece: Piece, length: Flicks): Segment[] {
  const frame = frameLength(piece.format.rate);
  const points = editPoints(piece, length);
  const segments: Segment[] = [];
  points.slice(0, -1).forEach((from, i) => {
    const to = points[i + 1] as Flicks;
    const layers = evaluate(piece, from).layers;
    const sourceFrame = layers[0] ? frameAt(layers[0].picture.time, piece.format.rate) : 0;
    for (const part of subdivide(from / frame, (to - from) / frame, sourceFrame)) {
      const partLayers = evaluate(piece, part.start * frame).layers;
      segments.push({ ...part, layers: partLayers, way: wayOf(partLayers) });
    }
  });
  return segments;
}

/** Raised whenever the compositor draws the same description differently, so that no older segment is taken for a new one. */
const DRAWING = 3;

/** Everything that decides a segment's pixels, as text to be hashed. `contentOf` gives the hash of a media item's original bytes. */
export function segmentKey(piece: Piece, segment: Segment, contentOf: (media: string) => string, encoding: string): string {
  const { width, height, rate } = piece.format;
  const layers = segment.layers.map(({ picture, ...layer }) => ({
    ...layer,
    content: contentOf(picture.media),
    time: picture.time,
    still: picture.still,
  }));
  return JSON.stringify({ drawing: DRAWING, width, height, rate, frames: segment.frames, layers, encoding });
}
