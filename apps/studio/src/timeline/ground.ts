import type { Flicks } from '@flimzy/core/time';
import { useEditor } from '../open/editor';
import type { Columns } from './columns';
import { toTime } from './scale';

/** The timeline as it is drawn, for those who ask what lies under a point of it. */
export interface Ground {
  node: HTMLElement;
  columns: () => Columns | null;
  /** Pixels from the top of the scroller to the playhead. */
  line: () => number;
}

let ground: Ground | null = null;

/** Makes known where the timeline is. Returns what takes that back. */
export function standOn(here: Ground): () => void {
  ground = here;
  return () => {
    if (ground === here) ground = null;
  };
}

/** The place of the timeline under a point of the page: time in flicks, `x` across its content; null beside it. */
export function placeUnder(x: number, y: number): { time: Flicks; x: number; columns: Columns } | null {
  const columns = ground?.columns();
  if (!ground || !columns) return null;
  const { node } = ground;
  const box = node.getBoundingClientRect();
  if (x < box.left || x > box.right || y < box.top || y > box.bottom) return null;
  const down = y - box.top + node.scrollTop - ground.line();
  return { time: Math.max(0, toTime(down, useEditor.getState().zoom)), x: x - box.left + node.scrollLeft, columns };
}
