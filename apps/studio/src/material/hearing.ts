import type { Hearing } from '@flimzy/core/sound';
import { useQuery } from '@tanstack/react-query';
import { call } from '../api/client';

const asked = (media: string) => ({
  queryKey: ['hearing', media],
  staleTime: Infinity,
  queryFn: (): Promise<Hearing> => call('mediaHearing', { params: { id: media } }),
});

/** What was heard in an item, once it was listened to. */
export const useHearing = (media: string, there: boolean) => useQuery({ ...asked(media), enabled: there });

/** The same to be asked for together with others. */
export const hearingQuery = asked;
