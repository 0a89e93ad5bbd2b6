import { between, clipEnd, NO_FADE, timelineOf, type Clip, type Piece, type Track } from '../piece';
import { firstWhere, type Flicks } from '../time';
import { Desk, type Found, type Lane } from './desk';
import { difference, sameClips, type Patch } from './difference';
import { tidy } from './tidy';

export type { Found, Lane } from './desk';

/** Which tracks a ripple reaches: the clip's own, or every unlocked one of its timeline. Linked clips go along either way. */
export type Reach = 'own' | 'all';

/**
 * What an edit will do to clips, worked out on plain data and then written into the draft in one go. Linked clips are kept in step
 * by {@link shift}, {@link cut} and {@link group}.
 */
export class Plan extends Desk {
  /**
   * Cuts every clip that covers `time` on some lanes. Second halves of linked clips cut together are linked to each other.
   * Nothing that is seen or heard changes. Returns the ids of first and second halves.
   */
  cut(lanes: readonly Lane[], time: Flicks): { first: string; second: string }[] {
    const halves: { first: string; second: string }[] = [];
    for (const lane of lanes) {
      const clip = this.covering(lane, time);
      if (clip) halves.push({ first: clip.id, second: this.halve(lane, clip, time) });
    }
    const groups = new Map<string, string[]>();
    for (const { second } of halves) {
      const group = this.find(second).clip.link?.group;
      if (group) groups.set(group, [...(groups.get(group) ?? []), second]);
    }
    for (const [, seconds] of groups) {
      if (seconds.length < 2) continue;
      const group = this.newId();
      for (const id of seconds) this.set(id, { link: { group, anchor: this.find(id).clip.link?.anchor ?? 0 } });
    }
    return halves;
  }

  private halve(lane: Lane, clip: Clip, time: Flicks): string {
    const { lead = 0, trail = 0, blend: _, ...plain } = clip;
    const heardFrom = clip.start - lead;
    const heardTo = clipEnd(clip) + trail;
    const second: Clip = { ...plain, ...NO_FADE.head, id: this.newId(), ...between(clip, time, clipEnd(clip)) };
    delete second.lead;
    delete second.trail;
    if (heardFrom > time) second.lead = time - heardFrom;
    if (trail !== 0) second.trail = trail;
    this.set(clip.id, { ...between(clip, clip.start, time), ...NO_FADE.tail, trail: heardTo < time ? heardTo - time : undefined });
    this.put(lane, second, clip.id);
    return second.id;
  }

  /** Cuts the clip covering a time on a lane together with what is linked to it. */
  cutLinked(lane: Lane, time: Flicks): { first: string; second: string }[] {
    const clip = this.covering(lane, time);
    if (!clip) return [];
    const lanes = new Set(this.group(clip.id).map((one) => one.lane));
    return this.cut(
      [...lanes].filter((l) => l === lane || this.covering(l, time)?.link?.group === clip.link?.group),
      time,
    );
  }

  /** The part of a clip that lies between two times on a lane, cut out of it together with what is linked to it. */
  part(lane: Lane, from: Flicks, to: Flicks): Clip | undefined {
    this.cutLinked(lane, to);
    this.cutLinked(lane, from);
    return lane.clips.find((one) => one.start === from && clipEnd(one) === to);
  }

  /** Moves clips in time, each once, with all that is linked to them. */
  shift(ids: readonly string[], by: Flicks): void {
    if (by !== 0) this.move(this.expand(ids), by);
  }

  /** Moves clips in time without asking for what is linked to them: the caller has. */
  shiftAlone(ids: readonly string[], by: Flicks): void {
    this.move(
      ids.map((id) => this.find(id)),
      by,
    );
  }

  private move(all: readonly Found[], by: Flicks): void {
    for (const { lane, clip } of all) this.writable(lane)[this.placeOf(lane, clip.id)] = { ...clip, start: clip.start + by };
    this.sort(all.map((one) => one.lane));
  }

  /** The clips that a ripple from `time` on moves. */
  after(lanes: readonly Lane[], time: Flicks): string[] {
    const ids: string[] = [];
    for (const lane of lanes)
      for (let i = firstWhere(lane.clips, (clip) => clip.start >= time); i < lane.clips.length; i += 1)
        ids.push((lane.clips[i] as Clip).id);
    return ids;
  }

  /** The lanes that a ripple starting on some lanes reaches. */
  reach(lanes: readonly Lane[], reach: Reach): Lane[] {
    const [lane] = lanes;
    return reach === 'all' && lane ? this.unlocked(lane.inside) : [...new Set(lanes)];
  }

  /** Makes `length` of room at a time: what covers it is cut, what follows moves later. */
  open(lanes: readonly Lane[], time: Flicks, length: Flicks): void {
    for (const lane of lanes) this.cutLinked(lane, time);
    this.shift(this.after(lanes, time), length);
  }

  /** Clears [start, end) of some lanes: clips inside go, clips reaching in are cut back. What is linked to them stays. */
  cover(lanes: readonly Lane[], start: Flicks, end: Flicks): void {
    this.cut(lanes, start);
    this.cut(lanes, end);
    for (const lane of lanes) for (const clip of [...lane.clips]) if (clip.start >= start && clipEnd(clip) <= end) this.remove(clip.id);
  }

  /**
   * The piece with the planned clips, and the patches there and back (none unless `patched`). `after` is the piece as the edit left
   * everything else; tracks that it removed are passed over. (Drafting thousands of clips would take ten times as long as this.)
   */
  finish(after: Piece, patched: boolean): { piece: Piece; patches: Patch[]; inverse: Patch[] } {
    let piece = after;
    const patches: Patch[] = [];
    const inverse: Patch[] = [];
    for (const lane of this.lanes.values()) {
      if (!lane.own) continue;
      const timeline = timelineOf(after, lane.inside);
      const index = timeline?.tracks.findIndex((track) => track.id === lane.track.id) ?? -1;
      if (index < 0) continue;
      const clips = lane.clips.map((clip) => (this.touched.has(clip.id) ? tidy(clip, after.media) : clip));
      if (sameClips(lane.track.clips, clips)) continue;
      if (patched) {
        const way = [...(lane.inside === null ? [] : ['nests', lane.inside]), 'tracks', index, 'clips'];
        const there = difference(way, lane.track.clips, clips);
        patches.push(...there.patches);
        inverse.unshift(...there.inverse);
      }
      piece = withClips(piece, lane.inside, index, clips);
    }
    return { piece, patches, inverse };
  }
}

/** A piece in which one track has other clips; all else is shared with the one given. */
function withClips(piece: Piece, inside: string | null, index: number, clips: Clip[]): Piece {
  const into = (tracks: Track[]) => tracks.map((track, i) => (i === index ? { ...track, clips } : track));
  if (inside === null) return { ...piece, tracks: into(piece.tracks) };
  const nest = piece.nests?.[inside];
  return nest ? { ...piece, nests: { ...piece.nests, [inside]: { ...nest, tracks: into(nest.tracks) } } } : piece;
}
