import type { Clip, Piece } from '@flimzy/core/piece';
import type { Overlay, Part } from '@flimzy/core/properties';
import { useEditor, useSettledPiece } from '../open/editor';
import { chosenTitle, setTitle, tryTitle, useChosenPart, withPart } from '../open/titles';

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

export function useTitle(): ChosenPart | null {
  const piece = useSettledPiece();
  const selected = useEditor((s) => s.selected);
  const chosen = chosenTitle(piece, selected);
  const n = useChosenPart(chosen?.overlay ?? null);
  const part = chosen?.overlay.parts[n];
  if (!piece || !chosen || !part) return null;
  const { clip, overlay } = chosen;
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
