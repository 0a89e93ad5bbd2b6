import { create } from 'zustand';
import type { Box } from './box';

/** What a drag on the timeline says and shows while it lasts. */
export interface DragShow {
  clips: readonly string[];
  kind: 'trim' | 'move';
  /** Line of words and figures for the bubble. */
  title: string;
  note: string;
  /** Where it caught, in flicks. */
  caught: number | null;
  /** Pixels by which everything is drawn lower, so that the dragged end stays under the finger. */
  shift: number;
  /** Clips not held that would move. */
  stirred: ReadonlySet<string>;
}

/** Whether two states of one drag say the same: then the timeline stands as it did. */
export const alike = (a: DragShow, b: DragShow): boolean =>
  a.kind === b.kind &&
  a.title === b.title &&
  a.note === b.note &&
  a.caught === b.caught &&
  a.shift === b.shift &&
  a.stirred.size === b.stirred.size &&
  [...a.stirred].every((id) => b.stirred.has(id));

/** What is drawn over the timeline while a finger is down: what a drag would do, or the box drawn around clips. */
export const useShowing = create<{ show: DragShow | null; box: Box | null }>(() => ({ show: null, box: null }));
