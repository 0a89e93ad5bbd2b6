import { pieceLength } from '@flimzy/core/piece';
import { fromSeconds, toGrid, type Flicks } from '@flimzy/core/time';
import { useEffect, useLayoutEffect, useRef, useState } from 'react';
import type { Loop } from './engine';
import { moveTo, play } from './playing';
import { currentPiece, useEditor } from './state';

/** How much is played before and after what it is about, in seconds. */
const AROUND = 1.3;

/** What is played around a stretch of the piece; null while none is open. */
function around(from: Flicks, to: Flicks): Loop | null {
  const piece = currentPiece();
  if (!piece) return null;
  const grid = (time: Flicks) => Math.max(0, Math.min(toGrid(time, piece.format.rate), pieceLength(piece)));
  return { from: grid(from - fromSeconds(AROUND)), to: grid(to + fromSeconds(AROUND)) };
}

/** Plays around a moment (or a stretch, up to `until`) again and again; what was edited meanwhile is heard from its beginning, at once. */
export function useLoop(join: Flicks, until = join): { on: boolean; toggle: () => void; stop: () => void; again: () => void } {
  const [on, setOn] = useState(false);
  const about = useRef({ join, until });
  /** What plays now; null for what is to begin anew. */
  const now = useRef<Loop | null>(null);
  useLayoutEffect(() => {
    about.current = { join, until };
  });
  useEffect(() => {
    if (!on) return;
    const keepOn = () => {
      const { playing, playhead } = useEditor.getState();
      const stretch = around(about.current.join, about.current.until);
      if (!stretch) return;
      const { from, to } = stretch;
      if (playing && now.current?.from === from && now.current.to === to && playhead <= to) return;
      now.current = stretch;
      moveTo(from);
      void play(undefined, stretch);
    };
    now.current = null;
    keepOn();
    const timer = setInterval(keepOn, 60);
    return () => {
      clearInterval(timer);
      useEditor.setState({ borrowed: null });
      moveTo(about.current.join);
    };
  }, [on]);
  return {
    on,
    toggle: () => setOn(!on),
    stop: () => setOn(false),
    again: () => {
      now.current = null;
    },
  };
}
