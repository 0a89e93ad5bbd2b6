import type { Piece } from '@flimzy/core/piece';
import { duckLines, type DuckLines, type DuckPoint, type Hearing, type HearingReader } from '@flimzy/core/sound';
import { create } from 'zustand';
import { useEditor } from './state';

const NONE: DuckLines = new Map();

/** The lines of what makes way for speech in the open piece, as it is shown now, and what was heard in its material. */
export const useDucking = create<{ lines: DuckLines; hearing: HearingReader }>(() => ({ lines: NONE, hearing: () => null }));

/** The line of one clip; undefined where it makes way for nothing. */
export const useDuckLine = (clip: string): readonly DuckPoint[] | undefined => useDucking((s) => s.lines.get(clip));

const alike = (one: readonly DuckPoint[], other: readonly DuckPoint[] | undefined) =>
  other !== undefined && one.length === other.length && one.every((point, i) => point.at === other[i]?.at && point.db === other[i]?.db);

/** Works the lines out again; one that stays the same stays the same object, so that its clip is not drawn again. */
function work(piece: Piece | null): void {
  const { lines: before, hearing } = useDucking.getState();
  const fresh = piece ? duckLines(piece, hearing) : NONE;
  if (fresh.size === 0 && before.size === 0) return;
  const lines = new Map([...fresh].map(([id, line]) => [id, alike(line, before.get(id)) ? (before.get(id) ?? line) : line]));
  if (lines.size === before.size && [...lines].every(([id, line]) => before.get(id) === line)) return;
  useDucking.setState({ lines });
}

const shownPiece = () => {
  const { draft, session } = useEditor.getState();
  return draft ?? session?.current.piece ?? null;
};

/** Takes in what was heard in the material of the open piece. */
export function learnHearing(known: ReadonlyMap<string, Hearing>): void {
  useDucking.setState({ hearing: (media) => known.get(media) ?? null });
  work(shownPiece());
}

useEditor.subscribe((now, was) => {
  if (now.draft !== was.draft || now.session?.current.piece !== was.session?.current.piece) work(shownPiece());
});
