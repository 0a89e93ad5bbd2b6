import { pieceLength } from '@flimzy/core/piece';
import { fromSeconds } from '@flimzy/core/time';
import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import { currentPiece, moveTo, play, useEditor } from '../open/editor';

/** How much is played before and after the join, in seconds. */
const BEFORE = 1.3;
const AFTER = 1.3;

/** Plays around a moment again and again; edits made meanwhile are heard in the next round, at once. */
export function useLoop(join: number): { on: boolean; toggle: () => void; stop: () => void; again: () => void } {
  const [on, setOn] = useState(false);
  const at = useRef(join);
  useLayoutEffect(() => {
    at.current = join;
  });
  const round = () => {
    moveTo(Math.max(0, at.current - fromSeconds(BEFORE)));
    void play();
  };
  useEffect(() => {
    if (!on) return;
    round();
    const timer = setInterval(() => {
      const { playing, playhead } = useEditor.getState();
      const piece = currentPiece();
      const end = Math.min(at.current + fromSeconds(AFTER), piece ? pieceLength(piece) - 1 : Infinity);
      if (!playing || playhead >= end) round();
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
