import type { Arrival, Delivery, MediaItem, PieceSummary, Platform, Post } from '@flimzy/contract';
import { QueryClient, useQueries, useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { whenCalm } from './calm';
import { call } from './client';

export const queryClient = new QueryClient({
  defaultOptions: { queries: { staleTime: 30_000, retry: 1, refetchOnWindowFocus: false }, mutations: { retry: 0 } },
});

export const KEYS = {
  media: ['media'],
  pieces: ['pieces'],
  deliveries: ['deliveries'],
  arrivals: ['arrivals'],
  platforms: ['platforms'],
  posts: ['posts'],
} as const;

export const usePieces = () => useQuery<PieceSummary[]>({ queryKey: KEYS.pieces, queryFn: () => call('listPieces') });
export const useMedia = () => useQuery<MediaItem[]>({ queryKey: KEYS.media, queryFn: () => call('listMedia') });
/** The items of the shelf by id, with those that were taken off it but are still used: nothing in a piece loses its frames. */
export function useMediaOf(used: readonly string[]): ReadonlyMap<string, MediaItem> {
  const { data: items } = useMedia();
  const there = new Set((items ?? []).map((item) => item.id));
  const missing = items ? used.filter((id) => !there.has(id)) : [];
  const others = useQueries({
    queries: missing.map((id) => ({ queryKey: ['medium', id], staleTime: Infinity, queryFn: () => call('getMedia', { params: { id } }) })),
  });
  const found = others.flatMap((one) => one.data ?? []);
  return useMemo(() => new Map([...(items ?? []), ...found].map((item) => [item.id, item])), [items, found.length]); // oxlint-disable-line react-hooks/exhaustive-deps -- an item taken off does not change
}

/** The exports of a piece. */
export const useDeliveries = (piece: string) =>
  useQuery<Delivery[]>({
    queryKey: deliveriesOf(piece),
    queryFn: () => whenCalm().then(() => call('listDeliveries', { query: { piece } })),
  });

/** Archives of pieces that are brought in. */
export const useArrivals = () => useQuery<Arrival[]>({ queryKey: KEYS.arrivals, queryFn: () => call('listArrivals') });

/** The platforms that can be posted to; none without a service. */
export const usePlatforms = () => useQuery<Platform[]>({ queryKey: KEYS.platforms, queryFn: () => call('listPlatforms') });

/** What was posted of a piece. */
export const usePosts = (piece: string) =>
  useQuery<Post[]>({ queryKey: postsOf(piece), queryFn: () => call('listPosts', { query: { piece } }) });

export const postsOf = (piece: string) => [...KEYS.posts, piece];
export const deliveriesOf = (piece: string) => [...KEYS.deliveries, piece];

/** Puts one item into a cached list in place of its older self, or first. */
export function putInto<T extends { id: string }>(key: readonly string[], item: T): void {
  queryClient.setQueryData<T[]>(key, (list) => {
    if (!list) return list;
    return list.some((old) => old.id === item.id) ? list.map((old) => (old.id === item.id ? item : old)) : [item, ...list];
  });
  askAgain(key);
}

/** A list that is being fetched just now may be older than what was put into it: it is asked for again. */
function askAgain(queryKey: readonly string[]): void {
  if (queryClient.isFetching({ queryKey }) > 0) void queryClient.invalidateQueries({ queryKey });
}

export function takeOut(key: readonly string[], id: string): void {
  queryClient.setQueryData<{ id: string }[]>(key, (list) => list?.filter((item) => item.id !== id));
  askAgain(key);
}
