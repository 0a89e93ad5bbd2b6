import { clipEnd, findClip, onlyClip, pieceLength } from '@flimzy/core/piece';
import { frameLength, toGrid, type Flicks } from '@flimzy/core/time';
import { say } from '../look/Toast';
import type { Loop, PreviewEngine } from './engine';
import { currentPiece, stretchOf, useEditor } from './state';

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

/** Gives the engine the timeline as it is now, or the one clip of it that is played by itself. */
export function givePiece(): void {
  const { engine, alone } = get();
  const piece = currentPiece();
  if (piece) engine?.setPiece(alone === null ? piece : onlyClip(piece, alone));
}

/** The whole piece is shown and heard again after one clip was. */
function endAlone(): void {
  if (get().alone === null) return;
  set({ alone: null });
  givePiece();
}

/** Moves the playhead to the nearest frame of the piece (its end included) and shows it. */
export function moveTo(time: Flicks): void {
  const piece = currentPiece();
  if (!piece) return;
  const playhead = Math.max(0, Math.min(toGrid(time, piece.format.rate), pieceLength(piece)));
  if (get().playing) get().engine?.pause();
  endAlone();
  set({ playhead, playing: false });
  get().engine?.show(playhead);
}

export function step(frames: number): void {
  const piece = currentPiece();
  if (piece) moveTo(get().playhead + frames * frameLength(piece.format.rate));
}

/** What is played again and again; and whether that is as one watches, or was asked for with this playing alone. */
let round: { loop: Loop | null; watched: boolean } = { loop: null, watched: true };

/** What one watches again and again from somewhere on: from in to out, the clip that is played by itself, or all; null past it. */
function loopFrom(from: Flicks): Loop | null {
  const { looping, alone } = get();
  const piece = currentPiece();
  if (!looping || !piece) return null;
  const clip = alone === null ? undefined : findClip(piece, alone)?.clip;
  const loop = clip ? { from: clip.start, to: clipEnd(clip) } : (stretchOf(get()) ?? { from: 0, to: pieceLength(piece) });
  const to = Math.min(loop.to, pieceLength(piece));
  return from < to && loop.from < to ? { from: loop.from, to } : null;
}

/**
 * Plays from the playhead (at its end, from the start), as fast as one watches, or so many times as fast.
 * @param again what is played again and again, null for nothing; by itself, as one watches
 */
export async function play(speed: number = get().pace, again?: Loop | null): Promise<void> {
  const { engine, playhead } = get();
  const piece = currentPiece();
  if (!engine || !piece || pieceLength(piece) === 0) return;
  const from = playhead >= pieceLength(piece) - frameLength(piece.format.rate) ? 0 : playhead;
  round = again === undefined ? { loop: loopFrom(from), watched: true } : { loop: again, watched: false };
  set({ playing: true, playhead: from });
  await engine.play(from, speed, round.loop).catch(() => {
    set({ playing: false });
    say('The sound could not be started. Touch the play button again.');
  });
}

/** Plays one clip by itself, what is linked with it included, from its start to its end. */
export async function playAlone(id: string): Promise<void> {
  const piece = currentPiece();
  const clip = piece && findClip(piece, id)?.clip;
  if (!piece || !clip) return;
  moveTo(clip.start);
  set({ alone: id });
  givePiece();
  await play();
}

export function pause(): void {
  const { engine, playing } = get();
  if (!playing) return;
  const now = engine?.now() ?? get().playhead;
  engine?.pause();
  set({ playing: false });
  moveTo(now);
}

/** Playing came to its end: that is where one stands then, whatever was last drawn on the way; or it begins again. */
export function playedOut(): void {
  const piece = currentPiece();
  const { alone, looping } = get();
  set({ playing: false });
  if (!piece) return;
  const clip = alone === null ? undefined : findClip(piece, alone)?.clip;
  moveTo(clip ? clipEnd(clip) : pieceLength(piece));
  if (!looping || !round.watched) return;
  if (alone !== null && clip) return void playAlone(alone);
  moveTo(stretchOf(get())?.from ?? 0);
  void play();
}

/** What playing has come to: the playhead goes along, and back to in where that is wished meanwhile and it passes out. */
export function playedTo(now: Flicks): void {
  const piece = currentPiece();
  const state = get();
  const { looping, alone, playhead } = state;
  if (!piece) return;
  const { loop, watched } = round;
  const wanted = loopFrom(now);
  if (watched && loop && (wanted?.from !== loop.from || wanted.to !== loop.to)) {
    // What is watched again and again is another stretch now, or nothing: on from here.
    set({ playhead: now });
    return void play();
  }
  const again = watched && !loop && looping && alone === null ? stretchOf(state) : null;
  if (again && playhead < again.to && now >= again.to) {
    moveTo(again.from);
    return void play();
  }
  set({ playhead: Math.min(now, pieceLength(piece)) });
}

export function togglePlay(): void {
  if (get().playing) pause();
  else void play();
}
