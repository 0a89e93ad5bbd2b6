import type { Hearing } from '@flimzy/core/sound';
import { useQueries } from '@tanstack/react-query';
import { useEffect, useMemo } from 'react';
import { useMediaOf } from '../api/queries';
import { hearingQuery } from '../material/hearing';
import { learnHearing } from '../open/ducking';
import { useWhole } from '../open/editor';

const dataOf = (all: readonly { data: Hearing | undefined }[]) => all.map((one) => one.data);

/** Fetches what was heard in the material of the open piece, as soon as it was listened to. */
export function useHearings(): void {
  const media = useWhole()?.media;
  const ids = useMemo(() => Object.values(media ?? {}).flatMap((one) => (one.hasSound && one.kind !== 'nest' ? [one.id] : [])), [media]);
  const items = useMediaOf(ids);
  const there = ids.filter((id) => items.get(id)?.heard);
  const found = useQueries({ queries: there.map(hearingQuery), combine: dataOf });
  const names = there.join(' ');
  useEffect(() => {
    learnHearing(new Map(names.split(' ').flatMap((id, i) => (found[i] ? [[id, found[i]] as const] : []))));
  }, [names, found]);
}
