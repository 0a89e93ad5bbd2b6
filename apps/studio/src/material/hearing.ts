import type { MediaFacts } from '@flimzy/core/piece';
import { levelAround, type Hearing } from '@flimzy/core/sound';
import type { Flicks } from '@flimzy/core/time';
import { useQuery } from '@tanstack/react-query';
import { whenCalm } from '../api/calm';
import { call } from '../api/client';
import { queryClient } from '../api/queries';

/** How what was heard in an item is asked for. */
export const hearingQuery = (media: string) => ({
  queryKey: ['hearing', media],
  staleTime: Infinity,
  queryFn: (): Promise<Hearing> => whenCalm().then(() => call('mediaHearing', { params: { id: media } })),
});

/** What was heard in an item, once it was listened to. */
export const useHearing = (media: string, there: boolean) => useQuery({ ...hearingQuery(media), enabled: there });

/** How loud the beginning of an item is, `length` flicks of it, as covers are told of it. */
export async function heightOf(facts: MediaFacts, length: Flicks): Promise<number> {
  const heard = await queryClient.fetchQuery(hearingQuery(facts.id)).catch(() => null);
  return levelAround(facts.id, 0, Math.min(length, facts.length), () => heard);
}
