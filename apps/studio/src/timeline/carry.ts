import { findClip, type Clip, type Piece } from '@flimzy/core/piece';
import { formatTimecode } from '@flimzy/core/time';
import { useEditor } from '../open/editor';
import { trackAt, type Columns } from './columns';
import { moveTarget, stirred } from './drag';
import { attempt, catching, refused, type Hold, type Trial } from './trial';

/** A clip picked up and carried over the timeline, with all that is selected; `x` is across its content, in pixels. */
export function carry(piece: Piece, clip: Clip, columns: Columns | null, x: number, { by, free, over }: Hold): Trial {
  const { selected, reach, drop } = useEditor.getState();
  const ids = [clip.id, ...selected.filter((id) => id !== clip.id)];
  const home = findClip(piece, clip.id)?.track;
  // What is drawn may already hold the new track that this very drag would make.
  const under = columns ? trackAt(columns, x, home?.kind ?? 'picture') : (home?.id ?? null);
  const track = piece.tracks.some((t) => t.id === under) ? under : null;
  const target = moveTarget(piece, ids, clip.start + by, track, over ? 'over' : drop, reach, catching(piece, ids, free));
  let why = '';
  for (const one of target?.tries ?? []) {
    const tried = attempt('move', one.params);
    if (typeof tried === 'string') {
      why = tried;
      continue;
    }
    const { moved, covered } = stirred(piece, tried.draft, ids);
    const covers = covered.length > 0 ? `; covers ${covered.length === 1 ? covered[0] : `${covered.length} clips`}` : '';
    return {
      commit: tried.commit,
      show: {
        clips: ids,
        kind: 'move',
        title: `Starts ${formatTimecode(findClip(tried.draft, clip.id)?.clip.start ?? 0, piece.format.rate)}`,
        note: one.params.how === 'over' && covers ? one.words.replace('; covers what is there', covers) : one.words,
        caught: one.caught,
        shift: 0,
        stirred: moved,
      },
    };
  }
  return refused(why, ids, 'move');
}
