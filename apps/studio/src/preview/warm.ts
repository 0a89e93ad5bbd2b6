import { playedOut, useEditor } from '../open/editor';
import { say } from '../look/Toast';
import { canRunExact, type EngineListener, type PreviewEngine } from '../open/engine';
import { ExactEngine } from './exact';
import { FallbackEngine } from './fallback';

const listener: EngineListener = {
  onShown: (time, sources) => useEditor.setState({ shown: { time, sources } }),
  onEnded: playedOut,
  onTrouble: (sentence) => say(sentence),
};

/** An engine whose workers have begun already, for the next piece that is opened. */
let warm: PreviewEngine | null = null;

/** Starts an engine ahead, while a person still looks for what to open. */
export function warmUp(): void {
  if (canRunExact()) warm ??= new ExactEngine(listener);
}

/** An engine for a piece: the one that is warm, or a new one. Whoever takes it closes it. */
export function takeEngine(): PreviewEngine {
  const engine = warm ?? (canRunExact() ? new ExactEngine(listener) : new FallbackEngine(listener));
  warm = null;
  return engine;
}
