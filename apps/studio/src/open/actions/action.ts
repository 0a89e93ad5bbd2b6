import type { Piece } from '@flimzy/core/piece';
import type { Icon } from '../../look/Button';

/** What an action is about; the sheet of keys and the search list them by it. */
export const GROUPS = [
  'Go',
  'Select',
  'Cut',
  'Move',
  'Picture',
  'Titles',
  'Sound',
  'Stretch',
  'Tracks',
  'Markers',
  'Nests',
  'View',
] as const;

/** One thing a person can do in the editor: the same entry is a button, a key and a line of the search. */
export interface Action {
  id: string;
  group: (typeof GROUPS)[number];
  /** What it does, in full, and what it does to the rest: for the search, the sheet of keys and readers. */
  words: string;
  /** One or two words under its button. */
  caption: string;
  icon?: Icon;
  /** Its key unless a person chose another: `ctrl+` also stands for the command key. */
  key?: string;
  /** Further keys that do the same. */
  also?: readonly string[];
  run: () => void;
  /** Whether it makes sense now; missing: always. */
  when?: (state: Situation) => boolean;
}

/** What actions look at to know whether they make sense. */
export interface Situation {
  piece: Piece;
  selected: readonly string[];
  playhead: number;
  stretch: { from: number; to: number } | null;
  hasClipboard: boolean;
  inside: string | null;
}
