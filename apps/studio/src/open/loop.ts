import { pieceLength } from '@flimzy/core/piece';
import { fromSeconds } from '@flimzy/core/time';
import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import { moveTo, play } from './playing';
import { currentPiece, useEditor } from './state';

/** How much is played before and after what it is about, in seconds. */
const AROUND = 1.3;

/** Plays around a moment (or a stretch, up to `until`) again and again; edits made meanwhile are heard in the next round, at once. */
export function useLoop(join: number, until = join): { on: boolean; toggle: () => void; stop: () => void; again: () => void } {
  const [on, setOn] = useState(false);
  const at = useRef(join);
  const end = useRef(until);
  useLayoutEffect(() => {
    at.current = join;
    end.current = until;
  });
  const round = () => {
    moveTo(Math.max(0, at.current - fromSeconds(AROUND)));
    void play();
  };
  useEffect(() => {
    if (!on) return;
    round();
    const timer = setInterval(() => {
      const { playing, playhead } = useEditor.getState();
      const piece = currentPiece();
      const last = Math.min(end.current + fromSeconds(AROUND), piece ? pieceLength(piece) - 1 : Infinity);
      if (!playing || playhead >= last) round();
    }, 60);
    return () => {
      clearInterval(timer);
      useEditor.setState({ borrowed: null });
      moveTo(at.current);
    };
  }, [on]);
  return {
    on,
    toggle: () => setOn(!on),
    stop: () => setOn(false),
    again: () => on && round(),
  };
}
