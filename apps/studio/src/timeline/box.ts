import { indexAt, type Clip } from '@flimzy/core/piece';
import type { Columns } from './columns';
import { toTime } from './scale';

/** A rectangle on the timeline's content, in pixels; top and bottom from the start of time. */
export interface Box {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** The clips on unlocked tracks that a box touches, left to right and first to last. */
export function boxed({ list }: Columns, box: Box, zoom: number): string[] {
  const [from, to] = [toTime(Math.max(0, box.top), zoom), toTime(Math.max(0, box.bottom), zoom)];
  return list
    .filter((column) => !column.track.locked && column.left < box.right && column.left + column.width > box.left)
    .flatMap(({ track }) => {
      const found: string[] = [];
      for (let i = indexAt(track, from); i < track.clips.length && (track.clips[i] as Clip).start < to; i += 1)
        found.push((track.clips[i] as Clip).id);
      return found;
    });
}
