import type { Light } from '@flimzy/core/analyse';
import { addressOf, call } from '../api/client';

class NotYet extends Error {
  override name = 'NotYet';
}

/** How the light of an item is asked for: it is measured then, if it was not yet. */
export const lightQuery = (media: string, isVideo: boolean) => ({
  queryKey: ['light', media],
  staleTime: Infinity,
  // An item can be used before its proxy, from which this is measured, is there.
  retry: (_: number, error: Error) => error instanceof NotYet,
  retryDelay: 3000,
  queryFn: async (): Promise<Light> => {
    const frames = isVideo ? await call('mediaFrames', { params: { id: media } }) : null;
    const response = await fetch(addressOf('mediaLight', { id: media }));
    if (response.status === 409) throw new NotYet();
    if (!response.ok) throw new Error('no light');
    return { cells: new Uint8Array(await response.arrayBuffer()), frames };
  },
});
