import type { Hearing } from '@flimzy/core/sound';
import { useQuery } from '@tanstack/react-query';
import { whenCalm } from '../api/calm';
import { call } from '../api/client';

/** How what was heard in an item is asked for. */
export const hearingQuery = (media: string) => ({
  queryKey: ['hearing', media],
  staleTime: Infinity,
  queryFn: (): Promise<Hearing> => whenCalm().then(() => call('mediaHearing', { params: { id: media } })),
});

/** What was heard in an item, once it was listened to. */
export const useHearing = (media: string, there: boolean) => useQuery({ ...hearingQuery(media), enabled: there });
