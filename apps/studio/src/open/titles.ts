import { motionLengths } from '@flimzy/core/frame';
import { clipEnd, findClip, isFree, OVERLAY, type Clip, type Piece } from '@flimzy/core/piece';
import { valueOf, type Overlay, type Part, type PropertyValues } from '@flimzy/core/properties';
import { frameLength, fromSeconds, toGrid, type Flicks } from '@flimzy/core/time';
import { create } from 'zustand';
import { say } from '../look/Toast';
import { currentPiece, edit, moveTo, pause, select, tryEdit, useEditor } from './editor';
import { openPanel } from './panels';

/** How long a new title is, in flicks. */
const LENGTH = fromSeconds(3);

/** The track that a title goes on: the lowest on which there is room, with nothing above it there; null for a new one. Never the main one. */
function trackFor(piece: Piece, start: Flicks, end: Flicks): string | null {
  const pictures = piece.tracks.filter((track) => track.kind === 'picture');
  const highest = pictures.findLastIndex((track) => !isFree(track, start, end));
  return pictures.slice(Math.max(1, highest + 1)).find((track) => !track.locked)?.id ?? null;
}

/** The time at which a clip's title is there as a whole, in flicks. */
export const wholeAt = (clip: Clip) => Math.min(clip.start + motionLengths(clip).in, clipEnd(clip) - 1);

/** Puts a title or a sticker over what is at the playhead, chooses it, and opens what changes it. */
export function addOverlay(values: PropertyValues): boolean {
  const piece = currentPiece();
  if (!piece) return false;
  pause();
  const { playhead, inside } = useEditor.getState();
  const frame = frameLength(piece.format.rate);
  const length = Math.max(frame, toGrid(LENGTH, piece.format.rate));
  const before = new Set(piece.tracks.flatMap((track) => track.clips.map((clip) => clip.id)));
  const made = edit('add', {
    track: trackFor(piece, playhead, playhead + length),
    inside,
    media: OVERLAY,
    at: playhead,
    how: 'place',
    from: 0,
    length,
    values,
  });
  const clip = made
    ? currentPiece()
        ?.tracks.flatMap((track) => track.clips)
        .find((one) => !before.has(one.id))
    : undefined;
  if (!clip) return false;
  choosePart(null);
  select(clip.id);
  moveTo(wholeAt(clip));
  openPanel({ name: 'title' });
  return true;
}

/** The title that is selected, alone; null when none is. */
export function chosenTitle(piece: Piece | null, selected: readonly string[]): { clip: Clip; overlay: Overlay } | null {
  const found = piece && selected.length === 1 ? findClip(piece, selected[0] ?? '') : null;
  const overlay = found ? valueOf(found.clip, 'overlay') : 'none';
  return found && overlay !== 'none' ? { clip: found.clip, overlay } : null;
}

/** A title with one of its parts changed. */
export function withPart(overlay: Overlay, n: number, change: Partial<Part>): Overlay {
  return { parts: overlay.parts.map((part, i) => (i === n ? ({ ...part, ...change } as Part) : part)) };
}

const usePart = create<{ n: number | null }>(() => ({ n: null }));

/** Chooses a part of the title that is changed; null: its first text. */
export const choosePart = (n: number | null) => usePart.setState({ n });

/** The number of the part that is chosen, of a title: its first text when none was, the last when there are fewer. */
function partNumber({ parts }: Overlay, wanted: number | null): number {
  const text = parts.findIndex((part) => part.kind === 'text');
  return Math.min(wanted ?? Math.max(0, text), parts.length - 1);
}

export const chosenPart = (overlay: Overlay): number => partNumber(overlay, usePart.getState().n);
export const useChosenPart = (overlay: Overlay | null): number => {
  const { n } = usePart();
  return overlay ? partNumber(overlay, n) : 0;
};

/** Changes what a title is. */
export const setTitle = (clip: Pick<Clip, 'id'>, values: PropertyValues): boolean => edit('set', { clips: [clip.id], values });

/** Shows what that would be. */
export function tryTitle(clip: Pick<Clip, 'id'>, values: PropertyValues): void {
  const reason = tryEdit('set', { clips: [clip.id], values }, () => useEditor.getState().playhead);
  if (typeof reason === 'string') say(reason);
}
