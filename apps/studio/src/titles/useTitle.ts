import type { Clip, Piece } from '@flimzy/core/piece';
import type { Overlay, Part } from '@flimzy/core/properties';
import { useEditor, useSettledPiece } from '../open/editor';
import { chosenTitle, setTitle, tryTitle } from '../open/titles';

/** The title that is chosen, one of its parts, and what changes it. */
export interface ChosenPart {
  piece: Piece;
  clip: Clip;
  overlay: Overlay;
  part: Part;
  n: number;
  /** Changes the part; whether that could be done. */
  set: (change: Partial<Part>) => boolean;
  /** Shows what that would be. */
  look: (change: Partial<Part>) => void;
}

/** A title with one of its parts changed. */
export function withPart(overlay: Overlay, n: number, change: Partial<Part>): Overlay {
  return { parts: overlay.parts.map((part, i) => (i === n ? ({ ...part, ...change } as Part) : part)) };
}

/** @param wanted which part; the last when there are fewer; null for the first text, if there is one */
export function useTitle(wanted: number | null): ChosenPart | null {
  const piece = useSettledPiece();
  const selected = useEditor((s) => s.selected);
  const chosen = chosenTitle(piece, selected);
  if (!piece || !chosen) return null;
  const { clip, overlay } = chosen;
  const text = Math.max(
    0,
    overlay.parts.findIndex((one) => one.kind === 'text'),
  );
  const n = Math.min(wanted ?? text, overlay.parts.length - 1);
  const part = overlay.parts[n];
  if (!part) return null;
  return {
    piece,
    clip,
    overlay,
    part,
    n,
    set: (change) => setTitle(clip, { overlay: withPart(overlay, n, change) }),
    look: (change) => tryTitle(clip, { overlay: withPart(overlay, n, change) }),
  };
}
