import { z } from 'zod';
import {
  between,
  clipEnd,
  keyTime,
  LEVEL_MIN,
  materialSpan,
  materialStart,
  materialUsed,
  overMaterial,
  SPEED_MAX,
  SPEED_MIN,
  speedOf,
  timeOfKey,
  type Clip,
  type Piece,
} from '../piece';
import { typedNumber } from '../properties';
import { ascending, frameLength, type Flicks } from '../time';
import { detachSound } from './detach';
import { at, clipNames, defineEdit, EditRefused } from './edit';
import { ClipIds, ReachParam, Time } from './params';
import type { Found, Plan, Reach } from './plan';

/** A speed in percent, as people read it. */
export function saySpeed(speed: number): string {
  return `${Math.round(Math.abs(speed) * 1000) / 10} %${speed < 0 ? ' backwards' : ''}`;
}

/** A speed as people type it: "150", "50 %", "2x", "−100" for backwards. Null when it is none; 1 is as it was recorded. */
export function typedSpeed(text: string): number | null {
  const times = /[x×]\s*$/i.test(text);
  const typed = typedNumber(text, /[%x×]/gi);
  const speed = typed === null ? null : times ? typed : typed / 100;
  return speed !== null && Math.abs(speed) >= SPEED_MIN && Math.abs(speed) <= SPEED_MAX ? speed : null;
}

/** Said of what is typed and is no speed. */
export const SPEED_HINT = 'Write a speed such as 150, 50 %, 2x, or −100 for backwards; from 5 % to 2000 %.';

/** How fast and how long a clip becomes: either follows from the other. */
export const SpeedWish = z.union([
  /** So many times as fast as the material; below 0 backwards. */
  z.object({ speed: z.number().refine((speed) => Math.abs(speed) >= SPEED_MIN && Math.abs(speed) <= SPEED_MAX) }),
  /** As long as that, in flicks: the way it runs stays. */
  z.object({ length: z.number().int().positive() }),
]);
export type SpeedWish = z.infer<typeof SpeedWish>;

/**
 * The speed and length that a clip comes to, the same material shown: a whole number of frames long, at a speed with which they end within
 * the material. Null when that is slower or faster than there is.
 *
 * @param frame length of a frame of the piece, in flicks
 */
function atSpeed(clip: Clip, wish: SpeedWish, frame: Flicks): (Pick<Clip, 'length' | 'from'> & { speed: number }) | null {
  const { from } = materialSpan(clip);
  const used = materialUsed(clip);
  const way = ('speed' in wish ? wish.speed : speedOf(clip)) < 0 ? -1 : 1;
  // Material (flicks) that goes by with a frame: of a speed as much as it says, of a length what it takes to come to its end.
  const wished =
    'speed' in wish ? Math.round(Math.abs(wish.speed) * frame) : Math.floor(used / Math.max(1, Math.round(wish.length / frame)));
  const step = Math.min(wished, used);
  const speed = (way * step) / frame;
  if (Math.abs(speed) < SPEED_MIN - 1e-6 || Math.abs(speed) > SPEED_MAX + 1e-6) return null;
  const made = { ...clip, length: Math.floor(used / step) * frame, speed };
  return { length: made.length, speed, ...overMaterial(made, from) };
}

/**
 * Makes clips, or one stretch of time within them, faster or slower, or run backwards, with what is linked to them. The rest follows or
 * stays where it is. Keys stay with what they were set on.
 */
export const setSpeed = defineEdit({
  params: z.object({
    clips: ClipIds,
    wish: SpeedWish,
    /** Only what lies in there changes: the clips are cut at both ends. Flicks on frames. */
    within: z.object({ from: Time, to: Time }).nullable().default(null),
    rest: z.enum(['stay', 'follow']),
    tracks: ReachParam,
    /** Its sound goes along; or keeps its own speed where it is, no longer linked; or is silenced. */
    sound: z.enum(['along', 'stay', 'off']).default('along'),
  }),
  title: ({ clips, wish, within }, piece) => {
    const what = `${within ? 'a part of ' : ''}${clipNames(piece, clips)}`;
    return 'speed' in wish ? `${saySpeed(wish.speed)}: ${what}` : `New length by speed: ${what}`;
  },
  apply(draft, { clips, wish, within, rest, tracks, sound }, { plan, newId }) {
    const chosen = within ? partsWithin(plan, clips, within) : clips;
    const done = new Set<string>();
    // The last first: what follows is moved by those before it.
    const lastFirst = chosen.map((id) => plan.find(id)).sort((a, b) => b.clip.start - a.clip.start);
    for (const { clip } of lastFirst) {
      if (done.has(clip.id)) continue;
      if (sound === 'stay') leaveSound(plan, draft, clip.id, newId);
      for (const id of changeOne(plan, clip.id, wish, rest, tracks)) {
        done.add(id);
        if (sound === 'off') plan.set(id, { level: LEVEL_MIN });
      }
    }
  },
});

/** The parts of clips that lie in a stretch of time, cut out of them, with those linked to them. */
function partsWithin(plan: Plan, clips: readonly string[], { from, to }: { from: Flicks; to: Flicks }): string[] {
  if (to <= from) throw new EditRefused('Set in before out first.');
  const parts: string[] = [];
  for (const id of clips) {
    const { lane, clip } = plan.find(id);
    const [start, end] = [Math.max(from, clip.start), Math.min(to, clipEnd(clip))];
    if (end <= start) continue;
    const part = plan.part(lane, start, end);
    if (part) parts.push(part.id);
  }
  if (parts.length === 0) throw new EditRefused('Nothing of the clip lies between in and out.');
  return parts;
}

/** Takes a clip's own sound, and what sounds along with it, out of what is done to it. */
function leaveSound(plan: Plan, draft: Piece, id: string, newId: () => string): void {
  detachSound(plan, draft, id, newId);
  const group = plan.group(id);
  const sounds = group.filter(({ lane }) => lane.track.kind === 'sound');
  for (const { clip } of sounds) plan.set(clip.id, { link: undefined });
  if (group.length - sounds.length === 1) plan.set(id, { link: undefined });
}

/** Changes one clip and what is linked to it. Gives the ids of all of them. */
function changeOne(plan: Plan, id: string, wish: SpeedWish, rest: 'stay' | 'follow', tracks: Reach): string[] {
  const frame = frameLength(plan.piece.format.rate);
  const { clip } = plan.find(id);
  if (plan.isStill(clip)) throw new EditRefused(`“${clip.name}” stands still: pull its end to make it longer or shorter.`);
  const made = atSpeed(clip, wish, frame);
  if (!made) throw new EditRefused(`A clip runs at ${saySpeed(SPEED_MIN)} to ${saySpeed(SPEED_MAX)}; that would be outside.`);
  const group = plan.group(id).filter((one) => !plan.isStill(one.clip));
  const held = new Set(group.map((one) => one.clip.id));
  const lanes = [...new Set(group.map(({ lane }) => lane))];
  const following = rest === 'follow' ? plan.after(plan.reach(lanes, tracks), clipEnd(clip)).filter((other) => !held.has(other)) : [];
  // Linked by their material they stay in step by themselves; linked as they stood, they do by where their material begins now.
  const byMaterial = group.every(({ clip: one }) => one.media === clip.media && one.link?.anchor === 0);
  for (const { clip: one } of group) {
    const change = one.id === id ? made : along(clip, made, one, frame);
    const moved = materialStart({ ...one, ...change }) - materialStart(one);
    const link = one.link && !byMaterial ? { link: { ...one.link, anchor: one.link.anchor + moved } } : {};
    plan.set(one.id, { ...change, ...link });
  }
  plan.shift(following, made.length - clip.length);
  plan.sort(lanes);
  needFree(plan, plan.find(id));
  return [...held];
}

/** Where a linked clip comes to lie when the one it is linked to goes at another speed: what sounded with a moment of that does so still. */
function along(before: Clip, made: NonNullable<ReturnType<typeof atSpeed>>, mate: Clip, frame: Flicks): Partial<Clip> {
  const apart = mate.from - keyTime(before, mate.start);
  const map = { ...before, ...made, from: made.from + apart };
  const span = materialSpan(mate);
  const [begins, ends] = ascending(timeOfKey(map, span.from), timeOfKey(map, span.to));
  const start = Math.ceil(begins / frame) * frame;
  const end = Math.max(start + frame, Math.floor(ends / frame) * frame);
  return { ...between(map, start, end), speed: made.speed };
}

/** @throws EditRefused when a clip that got longer reaches into the next one */
function needFree(plan: Plan, { lane, clip }: Found): void {
  const next = lane.clips[lane.clips.indexOf(clip) + 1];
  if (next && clipEnd(clip) > next.start)
    throw new EditRefused(
      `“${next.name}” is in the way: let the rest follow, or make it no longer than ${at(plan.piece, next.start - clip.start)}.`,
    );
}
