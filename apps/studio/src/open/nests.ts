import { materialAt, type Clip } from '@flimzy/core/piece';
import type { Flicks } from '@flimzy/core/time';
import { currentPiece, moveTo, NOTHING, pause, useEditor, type Outside } from './editor';

/** Opens the inside of a nest; the playhead keeps its moment when the clip is given. */
export function enterNest(nest: string, clip?: Clip): void {
  const { inside, outside, playhead } = useEditor.getState();
  const time = clip ? Math.max(0, materialAt(clip, playhead)) : 0;
  goInside(nest, [...outside, { inside, playhead }], time);
}

/** Goes back out of a nest, to the moment at which it was opened. */
export function leaveNest(): void {
  const { outside } = useEditor.getState();
  const back = outside.at(-1);
  if (back) goInside(back.inside, outside.slice(0, -1), back.playhead);
}

function goInside(inside: string | null, outside: Outside, time: Flicks): void {
  pause();
  useEditor.setState({ ...NOTHING, inside, outside, draft: null, playhead: 0 });
  const piece = currentPiece();
  if (piece) useEditor.getState().engine?.setPiece(piece);
  moveTo(time);
}
