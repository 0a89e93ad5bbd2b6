import type { MediaItem } from '@flimzy/contract';
import type { Piece } from '@flimzy/core/piece';
import { create } from 'zustand';
import type { Chosen, Manner } from '../open/actions/placing';
import { chosenThings, inShelfOrder } from './items';

/** How what is chosen on the shelf is set down, by its buttons and when it is dragged; kept while the app is open. */
export const useManner = create<Omit<Manner, 'how'> & { how: 'insert' | 'over'; order: 'chosen' | 'shelf' }>(() => ({
  how: 'insert',
  parts: 'both',
  order: 'chosen',
}));

/** What is chosen, in the order in which it is to be set down. */
export function thingsInOrder(keys: readonly string[], items: readonly MediaItem[], piece: Piece | null): Chosen[] {
  const sorted = useManner.getState().order === 'chosen' ? keys : inShelfOrder(keys, items, piece);
  return chosenThings(sorted, items, piece);
}
