import { timelineOf, type Piece, type Track } from '../piece';
import type { Flicks } from '../time';
import type { Lane, Plan } from './plan';

/** A name for a new track: "Sound 2", "Picture 3". */
export function trackName(tracks: readonly Pick<Track, 'kind' | 'name'>[], kind: Track['kind']): string {
  const names = new Set(tracks.map((t) => t.name));
  for (let n = tracks.filter((t) => t.kind === kind).length + 1; ; n += 1) {
    const name = `${kind === 'picture' ? 'Picture' : 'Sound'} ${n}`;
    if (!names.has(name)) return name;
  }
}

/** Adds an empty track on top of the others of its kind (or at `index` among all), in plan and draft. */
export function newTrack(
  plan: Plan,
  draft: Piece,
  inside: string | null,
  kind: Track['kind'],
  newId: () => string,
  name?: string,
  at?: number,
): Lane {
  const tracks = timelineOf(draft, inside)?.tracks;
  if (!tracks) throw new Error(`there is no nest ${inside}`);
  const pictures = tracks.filter((t) => t.kind === 'picture').length;
  const top = kind === 'picture' ? pictures : tracks.length;
  const index = at === undefined ? top : Math.max(kind === 'picture' ? 0 : pictures, Math.min(at, top));
  const track: Track = { id: newId(), kind, name: name ?? trackName(tracks, kind), muted: false, clips: [] };
  tracks.splice(index, 0, track);
  return plan.addLane(inside, track, index);
}

/** The lowest unlocked sound track with room for a stretch; a new one when there is none. */
export function roomForSound(plan: Plan, draft: Piece, inside: string | null, start: Flicks, end: Flicks, newId: () => string): Lane {
  const free = plan.lanesOf(inside).find((lane) => lane.track.kind === 'sound' && !lane.track.locked && plan.isFree(lane, start, end));
  return free ?? newTrack(plan, draft, inside, 'sound', newId);
}
