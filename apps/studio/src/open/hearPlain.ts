import type { Piece, Timeline } from '@flimzy/core/piece';
import { play } from './playing';
import { currentPiece, useEditor } from './state';

const plainly = <T extends Timeline>(timeline: T): T => ({
  ...timeline,
  tracks: timeline.tracks.map(({ under: _, ...track }) => ({ ...track, clips: track.clips.map(({ under: __, ...clip }) => clip) })),
});

/** The same piece with nothing making way for speech. */
function withoutUnder(piece: Piece): Piece {
  const nests = Object.fromEntries(Object.entries(piece.nests ?? {}).map(([id, nest]) => [id, plainly(nest)]));
  return { ...plainly(piece), ...(piece.nests ? { nests } : {}) };
}

/** Lets the piece be heard as if nothing made way for speech, while it is held; begins to play when it does not. */
export function hearPlain(held: boolean): void {
  const { engine, playing } = useEditor.getState();
  const piece = currentPiece();
  if (!engine || !piece) return;
  engine.setPiece(held ? withoutUnder(piece) : piece);
  if (held && !playing) void play();
}
