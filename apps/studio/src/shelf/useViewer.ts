import { pieceLength, type Piece } from '@flimzy/core/piece';
import { frameLength, toGrid } from '@flimzy/core/time';
import { useCallback, useEffect, useRef, useState } from 'react';
import { say } from '../look/Toast';
import { canRunExact, type EngineListener, type PreviewEngine } from '../open/engine';
import { ExactEngine } from '../preview/exact';
import { FallbackEngine } from '../preview/fallback';
import { useRenewed } from '../preview/renewed';

/** A preview of its own for a small piece: shows, scrubs and plays it in whatever box `host` is given. */
export function useViewer(piece: Piece): {
  host: (node: unknown) => void;
  time: number;
  playing: boolean;
  show: (time: number) => void;
  /** Goes on by frames, or back. */
  step: (frames: number) => void;
  /** The time shown this very moment, also before it is drawn. */
  here: () => number;
  toggle: () => void;
} {
  const [time, setDrawn] = useState(0);
  const at = useRef(0);
  const setTime = (now: number) => {
    at.current = now;
    setDrawn(now);
  };
  const [playing, setPlaying] = useState(false);
  const [node, setNode] = useState<HTMLElement | null>(null);
  const [engine, setEngine] = useState<PreviewEngine | null>(null);

  useEffect(() => {
    const listener: EngineListener = { onShown: () => undefined, onEnded: () => setPlaying(false), onTrouble: say };
    const made = canRunExact() ? new ExactEngine(listener) : new FallbackEngine(listener);
    setEngine(made);
    made.setPiece(piece);
    return () => {
      setEngine(null);
      made.close();
    };
  }, [piece]);

  useEffect(() => {
    if (!engine || !node) return;
    const { element } = engine;
    Object.assign(element.style, { width: '100%', height: '100%', display: 'block' });
    element.dataset.testid = 'look-picture';
    node.replaceChildren(element);
    const { width, height } = node.getBoundingClientRect();
    const sharp = Math.min(2, window.devicePixelRatio || 1);
    engine.resize(Math.round((width * sharp) / 2) * 2, Math.round((height * sharp) / 2) * 2);
    engine.show(0);
  }, [node, engine]);

  const showHere = useCallback((one: PreviewEngine) => one.show(at.current), []);
  useRenewed(engine, showHere);

  useEffect(() => {
    if (!playing) return;
    let turn = 0;
    const follow = () => {
      const now = engine?.now();
      if (now !== null && now !== undefined) setTime(Math.min(now, pieceLength(piece)));
      turn = requestAnimationFrame(follow);
    };
    turn = requestAnimationFrame(follow);
    return () => cancelAnimationFrame(turn);
  }, [playing, piece, engine]);

  const show = (wish: number) => {
    if (playing) engine?.pause();
    setPlaying(false);
    const last = pieceLength(piece) - frameLength(piece.format.rate);
    const now = Math.max(0, Math.min(toGrid(wish, piece.format.rate), last));
    setTime(now);
    engine?.show(now);
  };
  const step = (frames: number) => show(at.current + frames * frameLength(piece.format.rate));
  const here = () => at.current;
  const toggle = () => {
    if (playing) return show(engine?.now() ?? time);
    const from = time >= pieceLength(piece) - frameLength(piece.format.rate) ? 0 : time;
    setPlaying(true);
    engine?.play(from).catch(() => {
      setPlaying(false);
      say('The sound could not be started. Touch the play button again.');
    });
  };
  return { host: (n) => setNode(n instanceof HTMLElement ? n : null), time, playing, show, step, here, toggle };
}
