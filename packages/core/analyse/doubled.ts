import { heardTracks, isHeard, sampleShift, soundSpan, speedOf, type Clip, type Piece, type Track } from '../piece';
import { SAMPLE_RATE, fromSamples, type Flicks } from '../time';
import { gainOf } from '../sound';

/** How near to each other the same sound is heard as one that is louder and hollow, in samples: 50 ms. */
const NEAR = SAMPLE_RATE / 20;
/** Shorter than that it does not hurt: a tenth of a second, in flicks. */
const LEAST = fromSamples(SAMPLE_RATE / 10);

/** The same material sounding twice at almost the same time. */
export interface Doubled {
  /** Two clips on different tracks, that of the earlier track first. */
  clips: [Clip, Clip];
  /** While both sound, in flicks. */
  from: Flicks;
  to: Flicks;
  /** How much later the second is, in samples. */
  late: number;
}

/** All doubled sound of the timeline that is shown. */
export function doubledSound(piece: Piece): Doubled[] {
  const byMedia = new Map<string, { clip: Clip; track: Track }[]>();
  for (const track of heardTracks(piece)) {
    if (gainOf(track.level ?? 0) === 0) continue;
    for (const clip of track.clips) {
      if (!isHeard(clip, piece.media[clip.media]) || gainOf(clip.level) === 0) continue;
      const same = byMedia.get(clip.media);
      if (same) same.push({ clip, track });
      else byMedia.set(clip.media, [{ clip, track }]);
    }
  }
  const found: Doubled[] = [];
  for (const all of byMedia.values()) {
    if (all.every(({ track }) => track === all[0]?.track)) continue;
    const inOrder = [...all].sort((a, b) => soundSpan(a.clip).start - soundSpan(b.clip).start);
    inOrder.forEach((one, i) => {
      const { end } = soundSpan(one.clip);
      for (let k = i + 1; k < inOrder.length; k += 1) {
        const other = inOrder[k] as (typeof inOrder)[number];
        if (soundSpan(other.clip).start >= end) break;
        if (other.track !== one.track) add(found, piece, one, other);
      }
    });
  }
  return found.sort((a, b) => a.from - b.from);
}

function add(found: Doubled[], piece: Piece, one: { clip: Clip; track: Track }, other: { clip: Clip; track: Track }): void {
  const [first, second] =
    piece.tracks.indexOf(one.track) < piece.tracks.indexOf(other.track) ? [one.clip, other.clip] : [other.clip, one.clip];
  if (speedOf(first) !== speedOf(second)) return;
  const late = sampleShift(first) - sampleShift(second);
  const [a, b] = [soundSpan(first), soundSpan(second)];
  const [from, to] = [Math.max(a.start, b.start), Math.min(a.end, b.end)];
  if (Math.abs(late) < NEAR && to - from >= LEAST) found.push({ clips: [first, second], from, to, late });
}
