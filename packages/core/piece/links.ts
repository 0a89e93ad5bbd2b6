import type { Flicks } from '../time';
import type { Clip } from './clip';
import type { Timeline } from './track';

/** Where the start of a clip's material would lie on the timeline, as its link counts it: equal for clips in step. */
const stand = (clip: Clip) => clip.start - clip.from - (clip.link?.anchor ?? 0);

/** The clips linked with one, itself included, pictures first. */
export function linkedClips(timeline: Timeline, clip: Clip): Clip[] {
  const group = clip.link?.group;
  if (!group) return [clip];
  return timeline.tracks.flatMap((track) => track.clips.filter((other) => other.link?.group === group));
}

/**
 * How far a clip stands from where its link would have it, in flicks: positive when it is late. Measured against the group's
 * lowest picture (or first clip), which itself is never out of step. 0 for a clip in step or not linked.
 */
export function stepOffset(timeline: Timeline, clip: Clip): Flicks {
  const [first] = linkedClips(timeline, clip);
  return first && first.id !== clip.id ? stand(clip) - stand(first) : 0;
}

/**
 * How far a clip stands apart from what it is linked with, in flicks, as it is shown on either of them: positive when it is the
 * later one. Among several that stand apart from it, the farthest counts.
 */
export function apartBy(timeline: Timeline, clip: Clip): Flicks {
  const own = stepOffset(timeline, clip);
  if (own !== 0) return own;
  const [first, ...others] = linkedClips(timeline, clip);
  if (first?.id !== clip.id) return 0;
  const farthest = others.map((one) => stand(one) - stand(clip)).reduce((most, by) => (Math.abs(by) > Math.abs(most) ? by : most), 0);
  return farthest === 0 ? 0 : -farthest;
}
