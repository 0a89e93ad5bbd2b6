import { z } from 'zod';
import { clipEnd, nestFacts, type Clip, type Piece, type Track } from '../piece';
import { clipName, clipNames, defineEdit, EditRefused } from './edit';
import { newTrack } from './lanes';
import { ClipIds } from './params';
import type { Found, Lane } from './plan';

/** Makes several clips one: they move into a timeline of their own, which one clip shows in their place. */
export const nest = defineEdit({
  params: z.object({ clips: ClipIds, name: z.string().trim().min(1).max(200) }),
  title: ({ clips }, piece) => `Nest ${clipNames(piece, clips)}`,
  apply(draft, { clips, name }, { plan, newId }) {
    const all = plan.expand(clips);
    const [first] = all as [Found];
    const { inside } = first.lane;
    if (all.some((one) => one.lane.inside !== inside)) throw new EditRefused('Only clips of one timeline can be nested together.');
    const lanes = plan.lanesOf(inside).filter((lane) => all.some((one) => one.lane === lane));
    const home = lanes.find((lane) => lane.track.kind === 'picture') ?? (lanes[0] as Lane);
    const start = Math.min(...all.map(({ clip }) => clip.start));
    const end = Math.max(...all.map(({ clip }) => clipEnd(clip)));
    const id = `nest-${newId().replace(/[^a-z0-9-]/g, '-')}`;
    const tracks: Track[] = lanes.map((lane) => ({
      id: newId(),
      kind: lane.track.kind,
      name: lane.track.name,
      muted: lane.track.muted,
      clips: all
        .filter((one) => one.lane === lane)
        .map(({ clip }) => ({ ...clip, start: clip.start - start }))
        .sort((a, b) => a.start - b.start),
    }));
    if (tracks[0]?.kind !== 'picture') tracks.unshift({ id: newId(), kind: 'picture', name: 'Picture', muted: false, clips: [] });
    for (const { clip } of all) plan.remove(clip.id);
    if (!plan.isFree(home, start, end))
      throw new EditRefused('Another clip lies between them on their track. Choose that one too, or move it away.');
    draft.nests = { ...draft.nests, [id]: { name, tracks } };
    draft.media[id] = nestFacts({ ...plan.piece, nests: { ...plan.piece.nests, [id]: { name, tracks } } }, id);
    plan.put(home, { id: newId(), media: id, name, start, length: end - start, from: 0, fit: 'fill', backdrop: 'black', level: 0 });
  },
});

/** Puts what a nest shows back in its place, as far as its clip shows it; further tracks become new ones. */
export const unnest = defineEdit({
  params: z.object({ clip: z.string() }),
  title: ({ clip }, piece) => `Unnest ${clipName(piece, clip)}`,
  apply(draft, { clip: id }, { plan, newId }) {
    const { clip, lane } = plan.find(id);
    const inner = plan.piece.nests?.[clip.media];
    if (!inner) throw new EditRefused(`“${clip.name}” is not a nest.`);
    plan.remove(id);
    const used = new Set<Lane>();
    const groups = new Map<string, string>();
    for (const track of inner.tracks) {
      const shown = track.clips.flatMap((one) => window(one, clip, plan.isStill(one)));
      if (shown.length === 0) continue;
      const free = (l: Lane) =>
        !used.has(l) && !l.track.locked && l.track.kind === track.kind && shown.every((one) => plan.isFree(l, one.start, clipEnd(one)));
      const target =
        (lane.track.kind === track.kind && free(lane) ? lane : plan.lanesOf(lane.inside).find((l) => l !== lane && free(l))) ??
        newTrack(plan, draft, lane.inside, track.kind, newId);
      used.add(target);
      for (const one of shown) {
        const made: Clip = { ...one, id: newId() };
        if (one.link) {
          if (!groups.has(one.link.group)) groups.set(one.link.group, newId());
          made.link = { group: groups.get(one.link.group) as string, anchor: one.link.anchor };
        }
        plan.put(target, made);
      }
    }
  },
});

/** The part of an inner clip that a nest's clip shows, on the outer timeline. */
function window(inner: Clip, outer: Clip, still: boolean): Clip[] {
  const start = Math.max(inner.start, outer.from);
  const end = Math.min(clipEnd(inner), outer.from + outer.length);
  if (end <= start) return [];
  const cut: Clip = {
    ...inner,
    start: outer.start + start - outer.from,
    length: end - start,
    from: inner.from + (still ? 0 : start - inner.start),
  };
  if (start > inner.start) delete cut.lead;
  if (end < clipEnd(inner)) delete cut.trail;
  return [cut];
}

/** Renames a nest. */
export const renameNest = defineEdit({
  params: z.object({ nest: z.string(), name: z.string().trim().min(1).max(200) }),
  title: ({ name }) => `Rename nest to ${name}`,
  apply(draft: Piece, { nest: id, name }) {
    const inner = draft.nests?.[id];
    if (!inner) throw new EditRefused('That nest is no longer in the piece.');
    inner.name = name;
  },
});
