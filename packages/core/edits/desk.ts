import { indexAt, isFree, isStill, timelines, type Clip, type MediaFacts, type Piece, type Track } from '../piece';
import type { Flicks } from '../time';
import { EditRefused } from './refused';

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

/**
 * The tracks of a piece laid out to be worked on: plain copies of those that change, clips found by id, with what is linked to them.
 * Locked tracks refuse every change.
 */
export class Desk {
  protected readonly lanes = new Map<string, Lane>();
  private readonly order = new Map<string | null, Lane[]>();
  private readonly homes = new Map<string, Lane>();
  /** Where clips stand on their lanes, and who is linked with whom: made when asked for, forgotten when it changes. */
  private readonly places = new Map<Lane, Map<string, number>>();
  private groups: Map<string, Found[]> | null = null;
  private readonly origins = new Map<string, string>();
  private readonly learnt = new Map<string, MediaFacts>();
  /** Clips of which more than the start was changed: their sound edges may have to give way. */
  protected readonly touched = new Set<string>();

  constructor(
    readonly piece: Piece,
    /** Ids for what is made, the same ones wherever the edit is applied. */
    readonly newId: () => string,
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

  has(id: string): boolean {
    return this.homes.has(id);
  }

  /** A clip as it is by now. @throws EditRefused when it is gone */
  find(id: string): Found {
    const lane = this.homes.get(id);
    const clip = lane?.clips[this.placeOf(lane, id)];
    if (!lane || !clip) throw new EditRefused('That clip is no longer in the piece.');
    return { lane, clip };
  }

  protected placeOf(lane: Lane, id: string): number {
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

  protected writable(lane: Lane): Clip[] {
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

  /**
   * Puts a clip where it belongs in time; what it would run into is found by the invariants.
   *
   * @param of the clip that it is a part of, or the sound of: what it says is what that one said
   */
  put(lane: Lane, clip: Clip, of?: string): void {
    if (of !== undefined) this.origins.set(clip.id, this.originOf(of));
    const clips = this.writable(lane);
    const before = clips.findIndex((c) => c.start >= clip.start);
    clips.splice(before === -1 ? clips.length : before, 0, clip);
    this.homes.set(clip.id, lane);
    this.touched.add(clip.id);
    this.forget(lane);
  }

  /** The clip of the piece before the edit that a clip was part of; its own id when it was none. */
  originOf(id: string): string {
    return this.origins.get(id) ?? id;
  }

  isFree(lane: Lane, start: Flicks, end: Flicks): boolean {
    return isFree(lane, start, end);
  }

  /** The clip covering a time on a lane with at least a frame on either side, or null. */
  covering(lane: Lane, time: Flicks): Clip | null {
    const clip = lane.clips[indexAt(lane, time)];
    return clip && clip.start < time ? clip : null;
  }
}
