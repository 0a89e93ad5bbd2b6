import { pieceLength } from '@flimzy/core/piece';
import { frameLength, toGrid, type Flicks } from '@flimzy/core/time';
import { say } from '../look/Toast';
import type { PreviewEngine } from './engine';
import { currentPiece, useEditor } from './state';

const get = useEditor.getState;
const set = useEditor.setState;

/** The engine that shows the piece; null takes it away. */
export function setEngine(engine: PreviewEngine | null): void {
  set({ engine });
  const piece = currentPiece();
  if (engine && piece) {
    engine.setPiece(piece);
    engine.show(get().playhead);
  }
}

/** Moves the playhead to the nearest frame of the piece (its end included) and shows it. */
export function moveTo(time: Flicks): void {
  const piece = currentPiece();
  if (!piece) return;
  const playhead = Math.max(0, Math.min(toGrid(time, piece.format.rate), pieceLength(piece)));
  if (get().playing) get().engine?.pause();
  set({ playhead, playing: false });
  get().engine?.show(playhead);
}

export function step(frames: number): void {
  const piece = currentPiece();
  if (piece) moveTo(get().playhead + frames * frameLength(piece.format.rate));
}

export async function play(): Promise<void> {
  const { engine, playhead } = get();
  const piece = currentPiece();
  if (!engine || !piece || pieceLength(piece) === 0) return;
  const from = playhead >= pieceLength(piece) - frameLength(piece.format.rate) ? 0 : playhead;
  set({ playing: true, playhead: from });
  await engine.play(from).catch(() => {
    set({ playing: false });
    say('The sound could not be started. Touch the play button again.');
  });
}

export function pause(): void {
  const { engine, playing } = get();
  if (!playing) return;
  const now = engine?.now() ?? get().playhead;
  engine?.pause();
  set({ playing: false });
  moveTo(now);
}

/** Playing came to its end: that is where one stands then, whatever was last drawn on the way. */
export function playedOut(): void {
  const piece = currentPiece();
  set({ playing: false });
  if (piece) moveTo(pieceLength(piece));
}

export function togglePlay(): void {
  if (get().playing) pause();
  else void play();
}
