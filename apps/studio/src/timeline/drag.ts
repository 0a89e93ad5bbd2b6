import { snap, type EditParams, type SnapPoint } from '@flimzy/core/edits';
import { clipEnd, findClip, roomToPull, type Clip, type Piece, type Track } from '@flimzy/core/piece';
import { frameLength, toGrid, type Flicks } from '@flimzy/core/time';

/** How near something must come to catch, in flicks, and what there is to catch on; null reach switches catching off. */
export interface Catching {
  reach: Flicks | null;
  points: readonly SnapPoint[];
}

/** A trim as far as it can go, and what it caught on. */
export interface TrimTarget {
  params: EditParams<'trim'>;
  caught: Flicks | null;
  /** Where it stopped short of the finger, and why. */
  stop: 'material' | 'neighbour' | 'start' | 'frame' | null;
}

/** What a pull of an end concerns: the clip under the finger, others whose same end goes along, and what follows. */
export type Pull = Required<Pick<EditParams<'trim'>, 'clip' | 'also' | 'edge' | 'rest' | 'tracks'>>;

/**
 * Where a dragged end of a clip can go, with the same end of others: on the frame grid, caught on what is near, never past the
 * material, the neighbour or the other end of any of them.
 */
export function trimTarget(piece: Piece, pull: Pull, wish: Flicks, catching: Catching): TrimTarget | null {
  const held = findClip(piece, pull.clip)?.clip;
  if (!held) return null;
  const start = pull.edge === 'head' ? held.start : clipEnd(held);
  const caught = catching.reach === null ? null : snap([wish], catching.points, catching.reach);
  let to = toGrid(caught ? wish + caught.shift : wish, piece.format.rate);
  let stop: TrimTarget['stop'] = null;
  for (const id of [pull.clip, ...pull.also])
    for (const limit of limitsOf(piece, id, pull)) {
      const most = start + limit.by;
      if (limit.side === 'later' ? to > most : to < most) [to, stop] = [most, limit.why];
    }
  return { params: { ...pull, to }, caught: caught && stop === null && to === caught.point.time ? to : null, stop };
}

/** How far an end of one clip can go, in flicks from where it is. */
function limitsOf(
  piece: Piece,
  id: string,
  { edge, rest }: Pull,
): { side: 'earlier' | 'later'; by: Flicks; why: NonNullable<TrimTarget['stop']> }[] {
  const found = findClip(piece, id);
  if (!found) return [];
  const { clip, track, index } = found;
  const frame = frameLength(piece.format.rate);
  const media = piece.media[clip.media];
  const room = roomToPull(clip, media);
  const whole = (n: number) => Math.floor(n / frame) * frame;
  const [before, after] = [track.clips[index - 1], track.clips[index + 1]];
  const shortest = clip.length - frame;
  if (edge === 'head')
    return [
      ...(room.head === Infinity ? [] : [{ side: 'earlier' as const, by: -whole(room.head), why: 'material' as const }]),
      ...(rest === 'stay'
        ? [
            {
              side: 'earlier' as const,
              by: (before ? clipEnd(before) : 0) - clip.start,
              why: before ? ('neighbour' as const) : ('start' as const),
            },
          ]
        : []),
      { side: 'later', by: shortest, why: 'frame' },
    ];
  return [
    ...(room.tail === Infinity ? [] : [{ side: 'later' as const, by: whole(room.tail), why: 'material' as const }]),
    ...(rest === 'stay' && after ? [{ side: 'later' as const, by: after.start - clipEnd(clip), why: 'neighbour' as const }] : []),
    { side: 'earlier', by: -shortest, why: 'frame' },
  ];
}

/** Where dragged clips would land: the ways to try, first the one wished for, and in words what each does to the rest. */
export interface MoveTarget {
  tries: { params: EditParams<'move'>; words: string; caught: Flicks | null }[];
}

/**
 * Where clips held at one of them land when it is dragged to `wish` on a track (null: a new one): in free room where there is
 * enough, else covering what is there, or at the nearer seam, the rest making room and the hole closing.
 */
export function moveTarget(
  piece: Piece,
  ids: readonly string[],
  wish: Flicks,
  target: string | null,
  drop: 'insert' | 'over',
  tracks: 'own' | 'all',
  catching: Catching,
): MoveTarget | null {
  const held = ids[0] === undefined ? null : findClip(piece, ids[0]);
  if (!held) return null;
  const { clip } = held;
  const frame = frameLength(piece.format.rate);
  const edges = ids.flatMap((id) => {
    const one = findClip(piece, id)?.clip;
    return one ? [wish + one.start - clip.start, wish + clipEnd(one) - clip.start] : [];
  });
  const caught = catching.reach === null ? null : snap(edges.slice(0, 40), catching.points, catching.reach);
  const start = Math.max(0, toGrid(caught ? wish + caught.shift : wish, piece.format.rate));
  const track = piece.tracks.find((t) => t.id === target);
  const onto = target === null ? ' on a new track' : track && track.id !== held.track.id ? ` onto ${track.name}` : '';
  const frames = Math.round(Math.abs(start - clip.start) / frame);
  const way = `${frames} ${frames === 1 ? 'frame' : 'frames'} ${start > clip.start ? 'later' : 'earlier'}`;
  const moved = start === clip.start ? (onto ? 'Same time' : 'Back where it was') : way;
  const shared = { clips: [...ids], track: target, tracks };
  const tries: MoveTarget['tries'] = [
    {
      params: { ...shared, to: start, how: 'place', rest: 'leave' },
      words: `${moved}${onto}; nothing else moves`,
      caught: caught?.point.time ?? null,
    },
  ];
  if (drop === 'over') {
    const words = `${moved}${onto}; covers what is there`;
    return {
      tries: [...tries, { params: { ...shared, to: start, how: 'over', rest: 'leave' }, words, caught: caught?.point.time ?? null }],
    };
  }
  const seam = track ? nearestSeam(track, ids, wish + clip.length / 2) : null;
  if (seam) {
    const words = `${seam.words}; the rest makes room`;
    tries.push({ params: { ...shared, to: seam.to, how: 'insert', rest: 'close' }, words, caught: seam.to });
  }
  return { tries };
}

/** The seam of a track nearest to the middle of what is held over it. */
export function nearestSeam(track: Track, ids: readonly string[], middle: Flicks): { to: Flicks; words: string } | null {
  const others = track.clips.filter((c) => !ids.includes(c.id));
  const over = others.find((c) => clipEnd(c) > middle) ?? others.at(-1);
  if (!over) return null;
  const to = middle > over.start + over.length / 2 ? clipEnd(over) : over.start;
  const place = others.findIndex((c) => c.start >= to);
  const [before, after]: (Clip | undefined)[] = [
    place === -1 ? others.at(-1) : others[place - 1],
    place === -1 ? undefined : others[place],
  ];
  const words =
    before && after ? `Between ${before.name} and ${after.name}` : before ? `After ${before.name}` : `Before ${after?.name ?? ''}`;
  return { to, words };
}

const clipsById = (piece: Piece) => new Map(piece.tracks.flatMap((track) => track.clips.map((clip) => [clip.id, clip] as const)));

/** What a draft does to clips that are not held: those it moves, and the names of those it covers wholly or in part. */
export interface Stirred {
  moved: ReadonlySet<string>;
  covered: readonly string[];
}

let last: { before: Piece; after: Piece; held: string; found: Stirred } | null = null;

/** What a draft stirs. Asked for the same draft again (a finger that moves within one frame) it is not gathered again. */
export function stirred(before: Piece, after: Piece, held: readonly string[]): Stirred {
  const names = held.join(' ');
  if (last?.before !== before || last.after !== after || last.held !== names)
    last = { before, after, held: names, found: gatherStirred(before, after, held) };
  return last.found;
}

function gatherStirred(before: Piece, after: Piece, held: readonly string[]): Stirred {
  const moved = new Set<string>();
  const covered: string[] = [];
  const kept = new Set(held);
  const later = new Map(after.tracks.map((track) => [track.id, track]));
  let now: Map<string, Clip> | null = null;
  for (const track of before.tracks) {
    const clips = later.get(track.id)?.clips;
    if (clips === track.clips) continue;
    for (const [i, clip] of track.clips.entries()) {
      if (kept.has(clip.id)) continue;
      let next = clips?.[i];
      if (next === clip) continue;
      if (next?.id !== clip.id) next = (now ??= clipsById(after)).get(clip.id); // it has another place on its track, or another track
      if (!next || next.length < clip.length) covered.push(clip.name);
      else if (next.start !== clip.start) moved.add(clip.id);
    }
  }
  return { moved, covered };
}
