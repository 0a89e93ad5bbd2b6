import { z } from 'zod';
import {
  between,
  clipEnd,
  heardTracks,
  isHeard,
  isStill,
  keyTime,
  LEVEL_MAX,
  LEVEL_MIN,
  materialAt,
  materialStart,
  NO_FADE,
  paceOf,
  seenTracks,
  speedOf,
  soundSpan,
  underOf,
  type Clip,
  type MediaFacts,
  type Nest,
  type Track,
} from '../piece';
import { heldAt, PROPERTY_NAMES, propertyOf, SELDOM, type Effects } from '../properties';
import { toSampleGrid } from '../time';
import { clipName, defineEdit, EditRefused } from './edit';
import { apartFrom, sameEffects, standingOf, trackStanding, type Standing } from './nest';
import type { Found, Lane, Plan } from './plan';

/** What a nest's clip may do to its picture as a whole, which its inner clips could not do each for itself. */
const OF_PICTURE = PROPERTY_NAMES.filter((name) => propertyOf(name).side === 'picture' && SELDOM.includes(name));

/**
 * Puts what a nest shows back in its place, as far as its clip shows it: on its track and those right above, or new ones where
 * there is no room or what is there is seen or heard otherwise. What is seen and heard stays the same.
 */
export const unnest = defineEdit({
  params: z.object({ clip: z.string() }),
  title: ({ clip }, piece) => `Unnest ${clipName(piece, clip)}`,
  wordsStay: true,
  apply(draft, { clip: id }, { plan, newId }) {
    const found = plan.find(id);
    const { clip, lane } = found;
    const inner = plan.piece.nests?.[clip.media];
    if (!inner) throw new EditRefused(`“${clip.name}” is not a nest.`);
    if (speedOf(clip) !== 1) throw new EditRefused(`“${clip.name}” runs at a speed of its own. Set it back to 100 % first.`);
    const own =
      (['pan', 'fadeIn', 'fadeOut', 'envelope', 'covers'] as const).find((name) => clip[name] !== undefined) ??
      (underOf(clip, lane.track) && 'under');
    if (own)
      throw new EditRefused(`“${clip.name}” has a sound setting of its own (${propertyOf(own).label.toLowerCase()}). Take that off first.`);
    const seen = OF_PICTURE.find((name) => clip[name] !== undefined);
    if (seen)
      throw new EditRefused(
        `“${clip.name}” has a picture setting of its own (${propertyOf(seen).label.toLowerCase()}). Take that off first.`,
      );
    const standing = standingOf(plan, lane.inside);
    plan.remove(id);
    const groups = new Map<string, string>();
    const used = new Set<Lane>();
    let below = lane;
    const all = parts(plan, inner, found, standing(lane));
    const highest = all.findLast((part) => part.kind === 'picture');
    for (const part of all) {
      const { clips, kind, seen, heard, level, pan, effects } = part;
      const fits = (l: Lane) =>
        !used.has(l) &&
        !l.track.locked &&
        l.track.kind === kind &&
        standing(l).seen === seen &&
        (kind === 'sound' || sameEffects(standing(l).effects, effects)) &&
        (heard === null || (standing(l).heard === heard && standing(l).level === level && standing(l).pan === pan)) &&
        clips.every((one) => plan.isFree(l, one.start, clipEnd(one)));
      const target =
        placeFor(plan, lane, below, kind, fits, (l) => plan.isFree(l, clip.start, clipEnd(clip)), part === highest) ??
        trackStanding(
          plan,
          draft,
          lane.inside,
          kind,
          { seen, heard: heard ?? true, level, pan, effects },
          newId,
          plan.lanesOf(lane.inside).indexOf(below) + 1,
        );
      used.add(target);
      if (kind === 'picture') below = target;
      for (const one of clips) {
        const made: Clip = { ...(one.under ? {} : apartFrom(target.track)), ...one, id: newId() };
        if (one.link) {
          if (!groups.has(one.link.group)) groups.set(one.link.group, newId());
          made.link = { group: groups.get(one.link.group) as string, anchor: one.link.anchor };
        }
        plan.put(target, made);
      }
    }
  },
});

/** A track of pictures goes on the nest's own, or above what is placed already but under all else that shows there; sounds go anywhere. */
function placeFor(
  plan: Plan,
  home: Lane,
  below: Lane,
  kind: Track['kind'],
  fits: (lane: Lane) => boolean,
  isEmpty: (lane: Lane) => boolean,
  last: boolean,
): Lane | undefined {
  if ((kind === 'sound' || below === home) && fits(home)) return home;
  const lanes = plan.lanesOf(home.inside);
  if (kind === 'sound') return lanes.find(fits);
  for (const lane of lanes.slice(lanes.indexOf(below) + 1)) {
    // Beside clips that lay over the nest only the highest may go: what comes after it would cover them.
    if (fits(lane) && (last || isEmpty(lane))) return lane;
    if (lane.track.kind !== kind || !isEmpty(lane)) return undefined;
  }
  return undefined;
}

/** Clips to be put back on one track, and what it must be like; `heard` is null where they make no sound. */
interface Part {
  clips: Clip[];
  kind: Track['kind'];
  seen: boolean;
  heard: boolean | null;
  /** What the tracks inside and outside do to loudness (dB) and side together. */
  level: number;
  pan: number;
  /** The same of what is done to its pictures. */
  effects: Effects | undefined;
}

/** What is put back, track by track, lowest picture first. */
function parts(plan: Plan, inner: Nest, { clip, lane }: Found, outside: Standing): Part[] {
  const [seen, heard] = [new Set(seenTracks(inner)), new Set(heardTracks(inner))];
  const frozen = paceOf(clip).kind === 'frozen';
  return inner.tracks.flatMap((track) => {
    const kind = lane.track.kind === 'sound' ? 'sound' : track.kind;
    if (frozen && track.kind === 'sound') return [];
    const clips = track.clips.flatMap((one) => {
      const media = plan.mediaOf(one);
      const sounds = isHeard(one, media);
      const under = underOf(one, track);
      const shown = frozen ? frozenPart(one, clip, media) : window(one, clip);
      if (!shown || (kind === 'sound' && !sounds)) return [];
      if (kind === 'picture' && clip.silent) return [{ ...shown, silent: true as const }];
      return [{ ...shown, level: together(one, clip, sounds && !frozen), ...(under ? { under } : {}) }];
    });
    if (clips.length === 0) return [];
    const loud = clips.some((one) => isHeard(one, plan.mediaOf(one)));
    const [level, pan] = [after(outside.level, track.level ?? 0), outside.pan || (track.pan ?? 0)];
    if (loud && (level > LEVEL_MAX || (outside.pan && track.pan)))
      throw new EditRefused(
        `“${track.name}” in “${clip.name}” and its own track both change its level or side. Set one of them back first.`,
      );
    if (kind === 'picture' && outside.effects && track.effects)
      throw new EditRefused(`“${track.name}” in “${clip.name}” and its own track both have a look. Take one of them off first.`);
    return [
      {
        effects: kind === 'picture' ? (outside.effects ?? track.effects) : undefined,
        level: loud ? level : 0,
        pan: loud ? pan : 0,
        clips,
        kind,
        seen: kind === 'sound' || (outside.seen && seen.has(track)),
        heard: loud ? outside.heard && heard.has(track) && !clip.silent : null,
      },
    ];
  });
}

/** One level after another: silence stays silence. dB. */
const after = (one: number, other: number) => (one <= LEVEL_MIN || other <= LEVEL_MIN ? LEVEL_MIN : Math.max(LEVEL_MIN, one + other));

/** What one level does after the other. @throws EditRefused when that is louder than a clip can be */
function together(inner: Clip, outer: Clip, heard: boolean): number {
  if (!heard || outer.level === 0) return inner.level;
  const level = after(inner.level, outer.level);
  if (level > LEVEL_MAX)
    throw new EditRefused(
      `“${inner.name}” would have to be louder than +${LEVEL_MAX} dB: the nest adds ${outer.level.toFixed(1)} dB to its ${inner.level.toFixed(1)}. Lower the nest first.`,
    );
  return level;
}

/** The part of an inner clip that a nest's clip shows and plays, on the outer timeline; null when it shows nothing of it. */
function window(inner: Clip, outer: Clip): Clip | null {
  const shift = materialStart(outer);
  const moved: Clip = { ...inner, start: inner.start + shift };
  const [start, end] = [Math.max(moved.start, outer.start), Math.min(clipEnd(moved), clipEnd(outer))];
  if (end <= start) return null;
  const cut: Clip = {
    ...moved,
    ...between(moved, start, end),
    ...(start > moved.start ? NO_FADE.head : {}),
    ...(end < clipEnd(moved) ? NO_FADE.tail : {}),
  };
  const [own, all] = [soundSpan(moved), soundSpan(outer)];
  const edge = (by: number) => toSampleGrid(by) || undefined;
  cut.lead = edge(start - Math.max(own.start, all.start));
  cut.trail = edge(Math.min(own.end, all.end) - end);
  return cut;
}

/** An inner clip that shows at the moment at which a nest is frozen: still, as long as the nest. Null when it does not. */
function frozenPart(inner: Clip, outer: Clip, media: MediaFacts | undefined): Clip | null {
  const moment = materialAt(outer, outer.start);
  if (moment < inner.start || moment >= clipEnd(inner)) return null;
  const { link: _, lead: __, trail: ___, blend: ____, ...plain } = inner;
  const place = { ...heldAt(inner, keyTime(inner, moment)), start: outer.start, length: outer.length };
  return { ...plain, ...place, ...(isStill(inner, media) ? {} : { from: 0, hold: materialAt(inner, moment) }) };
}
