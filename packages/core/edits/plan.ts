import {
  between,
  clipEnd,
  indexAt,
  isFree,
  isStill,
  timelineOf,
  timelines,
  type Clip,
  type MediaFacts,
  type Piece,
  type Track,
} from '../piece';
import { firstWhere, type Flicks } from '../time';
import { difference, sameClips, type Patch } from './difference';
import { EditRefused, type EditContext } from './edit';
import { tidy } from './tidy';

/** A track as it will be: its clips may be changed here freely, the piece's own never are. */
export interface Lane {
  inside: string | null;
  track: Track;
  clips: Clip[];
  /** Whether `clips` is already a copy. */
  own: boolean;
}

/** A clip as it will be, and its lane. */
export interface Found {
  lane: Lane;
  clip: Clip;
}

/** Which tracks a ripple reaches: the clip's own, or every unlocked one of its timeline. Linked clips go along either way. */
export type Reach = 'own' | 'all';

/**
 * What an edit will do to clips, worked out on plain data and then written into the draft in one go. Locked tracks refuse every
 * change; linked clips are kept in step by {@link shift}, {@link cut} and {@link group}.
 */
export class Plan {
  private readonly lanes = new Map<string, Lane>();
  private readonly order = new Map<string | null, Lane[]>();
  private readonly homes = new Map<string, Lane>();
  /** Where clips stand on their lanes, and who is linked with whom: made when asked for, forgotten when it changes. */
  private readonly places = new Map<Lane, Map<string, number>>();
  private groups: Map<string, Found[]> | null = null;
  private readonly learnt = new Map<string, MediaFacts>();
  /** Clips of which more than the start was changed: their sound edges may have to give way. */
  private readonly touched = new Set<string>();

  constructor(
    readonly piece: Piece,
    readonly context: EditContext,
  ) {
    for (const [inside, timeline] of timelines(piece)) {
      this.order.set(inside, []);
      timeline.tracks.forEach((track, index) => this.addLane(inside, track, index));
    }
  }

  /** Takes in a track, `index` from the bottom; one that the draft just got must be empty. */
  addLane(inside: string | null, track: Track, index: number): Lane {
    const lane: Lane = { inside, track, clips: track.clips, own: false };
    this.lanes.set(track.id, lane);
    this.order.get(inside)?.splice(index, 0, lane);
    for (const clip of track.clips) this.homes.set(clip.id, lane);
    return lane;
  }

  /** @throws EditRefused when the piece no longer has it */
  lane(track: string): Lane {
    const lane = this.lanes.get(track);
    if (!lane) throw new EditRefused('That track is no longer in the piece.');
    return lane;
  }

  /** The lanes of a timeline, lowest picture first. */
  lanesOf(inside: string | null): readonly Lane[] {
    const lanes = this.order.get(inside);
    if (!lanes) throw new EditRefused('That nest is no longer in the piece.');
    return lanes;
  }

  unlocked(inside: string | null): Lane[] {
    return this.lanesOf(inside).filter((lane) => !lane.track.locked);
  }

  /** A clip as it is by now. @throws EditRefused when it is gone */
  find(id: string): Found {
    const lane = this.homes.get(id);
    const clip = lane?.clips[this.placeOf(lane, id)];
    if (!lane || !clip) throw new EditRefused('That clip is no longer in the piece.');
    return { lane, clip };
  }

  private placeOf(lane: Lane, id: string): number {
    let places = this.places.get(lane);
    if (!places) this.places.set(lane, (places = new Map(lane.clips.map((clip, i) => [clip.id, i]))));
    return places.get(id) ?? -1;
  }

  private forget(lane: Lane): void {
    this.places.delete(lane);
    this.groups = null;
  }

  /** Puts the clips of lanes back in order of time after their starts were changed. */
  sort(lanes: Iterable<Lane>): void {
    for (const lane of new Set(lanes)) {
      lane.clips.sort((a, b) => a.start - b.start);
      this.forget(lane);
    }
  }

  /** The facts of a clip's material, also of what the edit itself brought in. */
  mediaOf(clip: Pick<Clip, 'media'>): MediaFacts | undefined {
    return this.learnt.get(clip.media) ?? this.piece.media[clip.media];
  }

  /** Takes in material that the piece did not know. */
  learn(media: MediaFacts): void {
    if (!this.piece.media[media.id]) this.learnt.set(media.id, media);
  }

  isStill(clip: Clip): boolean {
    return isStill(clip, this.mediaOf(clip));
  }

  /** The clips linked with one (itself first). */
  group(id: string): Found[] {
    const own = this.find(id);
    const name = own.clip.link?.group;
    if (!name) return [own];
    const others = (this.linked().get(`${own.lane.inside} ${name}`) ?? []).filter((one) => one.clip.id !== id);
    return [own, ...others.map((one) => this.find(one.clip.id))];
  }

  /** Linked clips by timeline and group. */
  private linked(): Map<string, Found[]> {
    if (this.groups) return this.groups;
    const groups = new Map<string, Found[]>();
    for (const [inside, lanes] of this.order)
      for (const lane of lanes)
        for (const clip of lane.clips) {
          if (!clip.link) continue;
          const name = `${inside} ${clip.link.group}`;
          const found = groups.get(name);
          if (found) found.push({ lane, clip });
          else groups.set(name, [{ lane, clip }]);
        }
    return (this.groups = groups);
  }

  /** Clips with all that is linked to them, each once, in the order given. */
  expand(ids: readonly string[]): Found[] {
    const found = new Map<string, Found>();
    for (const id of ids) {
      const own = this.find(id);
      found.set(id, own);
      if (own.clip.link) for (const one of this.group(id)) found.set(one.clip.id, one);
    }
    return [...found.values()];
  }

  private writable(lane: Lane): Clip[] {
    if (lane.track.locked) throw new EditRefused(`“${lane.track.name}” is locked. Unlock the track to change what is on it.`);
    if (!lane.own) {
      lane.clips = [...lane.clips];
      lane.own = true;
    }
    return lane.clips;
  }

  /** Changes fields of a clip. A start that changes its place among others needs {@link sort} afterwards. */
  set(id: string, change: Partial<Clip>): Clip {
    const { lane, clip } = this.find(id);
    const clips = this.writable(lane);
    const next = { ...clip, ...change };
    clips[this.placeOf(lane, id)] = next;
    this.touched.add(id);
    if ('link' in change) this.groups = null;
    return next;
  }

  remove(id: string): Clip {
    const { lane, clip } = this.find(id);
    const clips = this.writable(lane);
    clips.splice(this.placeOf(lane, id), 1);
    this.homes.delete(id);
    this.forget(lane);
    return clip;
  }

  /** Puts a clip where it belongs in time; what it would run into is found by the invariants. */
  put(lane: Lane, clip: Clip): void {
    const clips = this.writable(lane);
    const before = clips.findIndex((c) => c.start >= clip.start);
    clips.splice(before === -1 ? clips.length : before, 0, clip);
    this.homes.set(clip.id, lane);
    this.touched.add(clip.id);
    this.forget(lane);
  }

  isFree(lane: Lane, start: Flicks, end: Flicks): boolean {
    return isFree(lane, start, end);
  }

  /** The clip covering a time on a lane with at least a frame on either side, or null. */
  covering(lane: Lane, time: Flicks): Clip | null {
    const clip = lane.clips[indexAt(lane, time)];
    return clip && clip.start < time ? clip : null;
  }

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
      const group = this.context.newId();
      for (const id of seconds) this.set(id, { link: { group, anchor: this.find(id).clip.link?.anchor ?? 0 } });
    }
    return halves;
  }

  private halve(lane: Lane, clip: Clip, time: Flicks): string {
    const { lead = 0, trail = 0, blend: _, ...plain } = clip;
    const heardFrom = clip.start - lead;
    const heardTo = clipEnd(clip) + trail;
    const second: Clip = { ...plain, id: this.context.newId(), ...between(clip, time, clipEnd(clip)) };
    delete second.lead;
    delete second.trail;
    if (heardFrom > time) second.lead = time - heardFrom;
    if (trail !== 0) second.trail = trail;
    this.set(clip.id, { ...between(clip, clip.start, time), trail: heardTo < time ? heardTo - time : undefined });
    this.put(lane, second);
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
