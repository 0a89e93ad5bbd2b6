import type { Marker } from '@flimzy/core/piece';

/** Colours of the marker letters: muted, apart in lightness as well as in hue; the letter always stands with them. */
export const LETTER_COLOURS: Record<Marker['letter'], string> = {
  A: '#e8d9a8',
  B: '#9cc4b8',
  C: '#c9b1d6',
  D: '#d99c86',
  E: '#a9b6d6',
  F: '#b9c98f',
};
