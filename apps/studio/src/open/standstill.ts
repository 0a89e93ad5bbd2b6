import type { Flicks } from '@flimzy/core/time';
import { useRef } from 'react';
import { useEditor } from './state';

/** Where the playhead stands, and while the piece plays where it stood before: for what need not be drawn anew with every frame. */
export function useStandstill(): Flicks {
  const last = useRef(useEditor.getState().playhead);
  return useEditor((s) => (s.playing ? last.current : (last.current = s.playhead)));
}
