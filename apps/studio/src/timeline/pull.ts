import { snap } from '@flimzy/core/edits';
import { clipEnd, findClip, soundSpan, unusedOnTimeline, type Clip, type Marker, type Piece } from '@flimzy/core/piece';
import { formatTimecode, frameLength, toGrid } from '@flimzy/core/time';
import { useEditor } from '../open/editor';
import { stirred, trimTarget } from './drag';
import { toPixels } from './scale';
import { attempt, catching, refused, type Hold, type Trial } from './trial';

const STOPS = {
  material: 'No more material',
  neighbour: 'The neighbour is in the way',
  start: 'The timeline starts there',
  frame: 'One frame is left',
} as const;

/** An end of a clip pulled, and the same end of the others that are selected with it. */
export function pullEnd(piece: Piece, clip: Clip, edge: 'head' | 'tail', { by, free }: Hold): Trial | null {
  const { rest, reach, selected } = useEditor.getState();
  const time = (t: number) => formatTimecode(t, piece.format.rate);
  const frame = frameLength(piece.format.rate);
  const also = selected.includes(clip.id) ? selected.filter((id) => id !== clip.id && !findClip(piece, id)?.track.locked) : [];
  const held = [clip.id, ...also];
  const wish = (edge === 'head' ? clip.start : clipEnd(clip)) + by;
  const target = trimTarget(piece, { clip: clip.id, also, edge, rest, tracks: reach }, wish, catching(piece, held, free));
  if (!target) return null;
  const tried = attempt('trim', target.params, (p) => {
    const now = findClip(p, clip.id)?.clip;
    return now ? (edge === 'head' ? now.start : clipEnd(now) - frame) : null;
  });
  if (typeof tried === 'string') return refused(tried, held, 'trim');
  const length = findClip(tried.draft, clip.id)?.clip.length ?? 0;
  const change = length - clip.length;
  const { moved: others } = stirred(piece, tried.draft, held);
  const follow =
    rest === 'stay'
      ? 'nothing else moves'
      : others.size === 0
        ? 'nothing comes after'
        : `${others.size === 1 ? 'the clip' : `${others.size} clips`} after it follow`;
  const note = target.stop ? STOPS[target.stop] : follow;
  return {
    commit: tried.commit,
    show: {
      clips: held,
      kind: 'trim',
      title: `${time(length)}  ${change < 0 ? '−' : '+'}${time(Math.abs(change))}`,
      note: also.length > 0 ? `${held.length} clips, each by as much; ${note}` : note,
      caught: target.caught,
      shift: edge === 'head' && rest === 'follow' ? toPixels(target.params.to - clip.start, useEditor.getState().zoom) : 0,
      stirred: others,
    },
  };
}

/** The time that a wish catches on, but never `own`, the time of what is pulled itself; null when nothing is near. Flicks. */
function catchNear(piece: Piece, wish: number, free: boolean, own?: number): number | null {
  const { reach, points } = catching(piece, [], free);
  const others = points.filter((point) => point.time !== own);
  return reach === null ? null : (snap([wish], others, reach)?.point.time ?? null);
}

/** An end of a clip's sound pulled apart from its picture. */
export function pullSound(piece: Piece, clip: Clip, edge: 'head' | 'tail', { by, free }: Hold): Trial {
  const span = soundSpan(clip);
  const wish = (edge === 'head' ? span.start : span.end) + by;
  const near = catchNear(piece, wish, free);
  const wished = near ?? toGrid(wish, piece.format.rate);
  const unused = unusedOnTimeline(clip, piece.media[clip.media]);
  const whole = (t: number) => t - (t % frameLength(piece.format.rate));
  const to = edge === 'head' ? Math.max(wished, clip.start - whole(unused.head)) : Math.min(wished, clipEnd(clip) + whole(unused.tail));
  const tried = attempt('soundEdge', { clip: clip.id, edge, to });
  if (typeof tried === 'string') return refused(tried, [clip.id], 'trim');
  const apart = to - (edge === 'head' ? clip.start : clipEnd(clip));
  const away = formatTimecode(Math.abs(apart), piece.format.rate);
  return {
    commit: tried.commit,
    show: {
      clips: [clip.id],
      kind: 'trim',
      title: apart === 0 ? 'With the picture' : `${away} ${apart < 0 ? 'before' : 'after'} the picture`,
      note: to !== wished ? STOPS.material : `sound of ${clip.name} ${edge === 'head' ? 'starts' : 'ends'}; no picture moves`,
      caught: to === near ? near : null,
      shift: 0,
      stirred: new Set(),
    },
  };
}

/** A marker pulled to another time. */
export function pullMarker(piece: Piece, marker: Marker, { by, free }: Hold): Trial {
  const { inside } = useEditor.getState();
  const wish = Math.max(0, marker.time + by);
  const near = catchNear(piece, wish, free, marker.time);
  const time = near ?? toGrid(wish, piece.format.rate);
  const tried = attempt('setMark', { place: { inside }, id: marker.id, change: { time } }, () => time);
  if (typeof tried === 'string') return refused(tried, [], 'trim');
  const show = { clips: [], kind: 'trim' as const, caught: near, shift: 0, stirred: new Set<string>() };
  const title = formatTimecode(time, piece.format.rate);
  return { commit: tried.commit, show: { ...show, title, note: `Marker ${marker.name || marker.letter}; no clip moves` } };
}
