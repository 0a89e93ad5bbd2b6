import type { Flicks } from '../time';
import type { Clip } from './clip';
import { materialStart } from './pace';
import type { Timeline, Track } from './track';

/** Where the start of a clip's material would lie on the timeline, as its link counts it: equal for clips in step. */
const stand = (clip: Clip) => materialStart(clip) - (clip.link?.anchor ?? 0);

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
  return offsetFrom(linkedClips(timeline, clip)[0], clip);
}

const offsetFrom = (first: Clip | undefined, clip: Clip) => (first && first.id !== clip.id ? stand(clip) - stand(first) : 0);

const known = new WeakMap<readonly Track[], Map<string, Clip[]>>();

/** Linked clips by group, gathered once for every state of the tracks: a screen asks for many clips of one state. */
function groupsOf(tracks: readonly Track[]): Map<string, Clip[]> {
  let groups = known.get(tracks);
  if (groups) return groups;
  known.set(tracks, (groups = new Map()));
  for (const track of tracks)
    for (const clip of track.clips) {
      if (!clip.link) continue;
      const group = groups.get(clip.link.group);
      if (group) group.push(clip);
      else groups.set(clip.link.group, [clip]);
    }
  return groups;
}

/** What a clip is linked with, without itself. For a timeline that is not a draft: many clips of one state are asked for. */
export function matesOf(timeline: Timeline, clip: Clip): Clip[] {
  return clip.link ? (groupsOf(timeline.tracks).get(clip.link.group) ?? []).filter(({ id }) => id !== clip.id) : [];
}

/**
 * How far a clip stands apart from what it is linked with, in flicks, as it is shown on either of them: positive when it is the
 * later one. Among several that stand apart from it, the farthest counts. For a timeline that is not a draft.
 */
export function apartBy(timeline: Timeline, clip: Clip): Flicks {
  const [first, ...others] = (clip.link && groupsOf(timeline.tracks).get(clip.link.group)) ?? [clip];
  const own = offsetFrom(first, clip);
  if (own !== 0) return own;
  if (first?.id !== clip.id) return 0;
  const farthest = others.map((one) => stand(one) - stand(clip)).reduce((most, by) => (Math.abs(by) > Math.abs(most) ? by : most), 0);
  return farthest === 0 ? 0 : -farthest;
}
