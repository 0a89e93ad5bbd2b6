import { snap } from '@flimzy/core/edits';
import { hasPicture, type Piece } from '@flimzy/core/piece';
import { formatTimecode, toGrid, type Flicks } from '@flimzy/core/time';
import { addTitle, stepsFor, withRateOf, type Chosen, type Manner } from '../open/actions/placing';
import { together, tryTogether, useEditor } from '../open/editor';
import { trackAt } from './columns';
import { nearestSeam, stirred } from './drag';
import { placeUnder } from './ground';
import { catching, refused, type Trial } from './trial';

/** One way to set things down. */
interface Way {
  at: Flicks;
  how: Manner['how'];
  words: string;
  caught: Flicks | null;
}

/** What dropping items of the shelf at a point of the page would do; null beside the timeline. */
export function dropAt(piece: Piece, chosen: readonly Chosen[], parts: Manner['parts'], x: number, y: number): Trial | null {
  const under = placeUnder(x, y);
  const [first] = chosen;
  if (!under || !first) return null;
  const { inside, drop } = useEditor.getState();
  const kind = parts === 'sound' || !hasPicture(first.media) ? 'sound' : 'picture';
  const id = trackAt(under.columns, under.x, kind);
  const track = piece.tracks.find((t) => t.id === id) ?? null;
  const { reach, points } = catching(piece, [], false);
  const caught = reach === null ? null : snap([under.time], points, reach);
  const { rate } = inside === null ? withRateOf(piece, chosen).format : piece.format;
  const at = Math.max(0, toGrid(caught ? under.time + caught.shift : under.time, rate));
  const onto = track ? ` on ${track.name}` : ' on a new track';
  const ways: Way[] = [{ at, how: 'place', words: `${onto.trim()}; nothing else moves`, caught: caught?.point.time ?? null }];
  if (drop === 'over') ways.push({ at, how: 'over', words: `${onto.trim()}; covers what is there`, caught: caught?.point.time ?? null });
  const seam = drop === 'insert' && track ? nearestSeam(track, [], under.time) : null;
  if (seam) ways.push({ at: seam.to, how: 'insert', words: `${seam.words}; the rest makes room`, caught: seam.to });
  let why = 'It does not fit there.';
  for (const way of ways) {
    const steps = stepsFor(piece, inside, chosen, { at: way.at, track: track?.id ?? null }, { how: way.how, parts });
    if (steps.length === 0) break;
    const draft = tryTogether(addTitle(chosen), steps, () => way.at);
    if (typeof draft === 'string') {
      why = draft;
      continue;
    }
    const known = new Set(piece.tracks.flatMap((t) => t.clips.map((c) => c.id)));
    const made = draft.tracks.flatMap((t) => t.clips.filter((c) => !known.has(c.id) && chosen.some((one) => one.media.id === c.media)));
    return {
      show: {
        clips: made.map((c) => c.id),
        kind: 'move',
        title: `Starts ${formatTimecode(way.at, rate)}`,
        note: way.words,
        caught: way.caught,
        shift: 0,
        stirred: stirred(piece, draft, []).moved,
      },
      commit: () => together(addTitle(chosen), steps),
    };
  }
  return refused(why, [], 'move');
}
