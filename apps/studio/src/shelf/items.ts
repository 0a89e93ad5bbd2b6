import type { MediaItem } from '@flimzy/contract';
import { shelfOf, type MediaFacts, type Piece, type Range, type ShelfEntry } from '@flimzy/core/piece';
import { formatTimecode, rateName, type Rate } from '@flimzy/core/time';
import type { Chosen } from '../open/actions/placing';

export const KINDS = [
  { id: 'all', name: 'All' },
  { id: 'video', name: 'Clips' },
  { id: 'photo', name: 'Photos' },
  { id: 'sound', name: 'Sound' },
] as const;
export type KindFilter = (typeof KINDS)[number]['id'];

export const SORTS = [
  { id: 'own', name: 'Own order' },
  { id: 'newest', name: 'Newest' },
  { id: 'name', name: 'Name' },
  { id: 'length', name: 'Length' },
] as const;
export type Sort = (typeof SORTS)[number]['id'];

/** How the shelf is looked at. */
export interface ShelfView {
  where: 'piece' | 'everywhere';
  kind: KindFilter;
  sort: Sort;
  text: string;
  as: 'grid' | 'list';
}

/** An item with what the piece knows of it. */
export interface Shelved {
  item: MediaItem;
  entry: ShelfEntry | null;
}

/** The items that a view shows, in its order. What is on its way or broken is always shown. */
export function shelved(items: readonly MediaItem[], piece: Piece | null, view: ShelfView): Shelved[] {
  const entries = piece ? shelfOf(piece) : [];
  const byId = new Map(entries.map((entry, i) => [entry.media.id, { entry, i }]));
  const words = view.text.toLowerCase().split(/\s+/).filter(Boolean);
  const wanted = items.filter((item) => {
    if (view.where === 'piece' && !byId.has(item.id) && item.usable) return false;
    if (view.kind !== 'all' && item.facts && item.facts.kind !== view.kind) return false;
    return words.every((word) => `${item.name} ${item.fileName}`.toLowerCase().includes(word));
  });
  const own = (item: MediaItem) => byId.get(item.id)?.i ?? entries.length;
  const compare: Record<Sort, (a: MediaItem, b: MediaItem) => number> = {
    own: (a, b) => (view.where === 'piece' ? own(a) - own(b) : 0),
    newest: (a, b) => b.createdAt.localeCompare(a.createdAt),
    name: (a, b) => a.name.localeCompare(b.name),
    length: (a, b) => (b.facts?.length ?? 0) - (a.facts?.length ?? 0),
  };
  return [...wanted].sort(compare[view.sort]).map((item) => ({ item, entry: byId.get(item.id)?.entry ?? null }));
}

/** A name for an item, or a stretch of it, among what is chosen. */
export const chosenKey = (media: string, range?: Range) => (range ? `${media}#${range.id}` : media);

/** What chosen names stand for, in the order in which they were chosen. */
export function chosenThings(keys: readonly string[], items: readonly MediaItem[], piece: Piece | null): Chosen[] {
  const entries = piece ? shelfOf(piece) : [];
  return keys.flatMap((key) => {
    const [id, rangeId] = key.split('#');
    const media = items.find((item) => item.id === id)?.facts;
    if (!media) return [];
    const range = rangeId === undefined ? null : (entries.find((e) => e.media.id === id)?.ranges.find((r) => r.id === rangeId) ?? null);
    return [{ media, range }];
  });
}

/** Chosen names in the order of the piece's own shelf, then of all that is there; ranges of one item by their begin. */
export function inShelfOrder(keys: readonly string[], items: readonly MediaItem[], piece: Piece | null): string[] {
  const entries = piece ? shelfOf(piece) : [];
  const place = (key: string) => {
    const [id, rangeId] = key.split('#');
    const own = entries.findIndex((entry) => entry.media.id === id);
    const rank = own >= 0 ? own : entries.length + items.findIndex((item) => item.id === id);
    return [rank, entries[own]?.ranges.find((r) => r.id === rangeId)?.from ?? 0] as const;
  };
  return [...keys].sort((a, b) => place(a)[0] - place(b)[0] || place(a)[1] - place(b)[1]);
}

/** The rate in which a media item's times are written. */
export const rateOf = (facts: MediaFacts): Rate => facts.rate ?? { num: 25, den: 1 };

/** Length, rate and sound of an item in one line. */
export function figures(item: MediaItem): string {
  const { facts } = item;
  if (!facts) return '';
  const length = facts.kind === 'photo' ? 'photo' : formatTimecode(facts.length, rateOf(facts));
  if (facts.kind === 'sound') return length;
  const rate = facts.rate ? ` · ${item.variableRate ? 'varies' : rateName(facts.rate)}` : '';
  return `${length}${rate}${facts.kind === 'video' && !facts.hasSound ? ' · silent' : ''}${item.hdr ? ' · HDR' : ''}`;
}

/** All figures of an item, for the list. */
export function allFigures(item: MediaItem): string {
  const { facts } = item;
  if (!facts) return '';
  const size = facts.width > 0 ? ` · ${facts.width}×${facts.height} ${shapeWord(facts)}` : '';
  const sound = facts.kind === 'video' && facts.hasSound ? ' · sound' : '';
  return `${figures(item)}${size}${sound} · ${(item.size / 1e6).toFixed(1)} MB`;
}

function shapeWord({ width, height }: MediaFacts): string {
  const ratio = width / height;
  return ratio > 1.1 ? 'landscape' : ratio < 0.9 ? 'vertical' : 'square';
}
