import { PLATFORM_FORMATS, type PlatformFormat } from '@flimzy/core/deliver';
import type { Piece } from '@flimzy/core/piece';
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { whenCalm } from '../api/calm';
import { call } from '../api/client';
import { queryClient } from '../api/queries';

/** Where the formats of one's own are kept. */
export const FORMATS = ['formats'];

/** Those that ship, then one's own. */
const withOwn = (own: readonly PlatformFormat[] = []): readonly PlatformFormat[] => [...PLATFORM_FORMATS, ...own];

const useOwn = () => useQuery<PlatformFormat[]>({ queryKey: FORMATS, queryFn: () => whenCalm().then(() => call('listFormats')) });

/** Every format that a piece can be sent in. */
export function useFormats(): readonly PlatformFormat[] {
  const { data: own } = useOwn();
  return useMemo(() => withOwn(own), [own]);
}

/** Whether formats that a piece is made for are still on their way: until they are there, nobody knows what to make of it. */
export function useAwaited(piece: Piece): boolean {
  const { data: own, isFetching } = useOwn();
  return isFetching && own === undefined && chosenOf(piece, PLATFORM_FORMATS).length < (piece.formats ?? []).length;
}

/** The same as far as they are known by now. */
export const formatsNow = () => withOwn(queryClient.getQueryData<PlatformFormat[]>(FORMATS));

/** The formats that a piece is made for, in the order in which formats are shown. */
export const chosenOf = (piece: Piece, all: readonly PlatformFormat[]): PlatformFormat[] =>
  all.filter(({ id }) => piece.formats?.includes(id));
