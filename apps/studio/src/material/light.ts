import type { Light } from '@flimzy/core/analyse';
import { addressOf } from '../api/address';
import { call, CallFailed } from '../api/client';

/** How the light of an item is asked for: it is measured then, if it was not yet. */
export const lightQuery = (media: string, isVideo: boolean) => ({
  queryKey: ['light', media],
  staleTime: Infinity,
  // An item can be used before its proxy, from which this is measured, is there.
  retry: (_: number, error: Error) => error instanceof CallFailed && error.status === 409,
  retryDelay: 3000,
  queryFn: async (): Promise<Light> => {
    const frames = isVideo ? await call('mediaFrames', { params: { id: media } }) : null;
    const response = await fetch(addressOf('mediaLight', { id: media }));
    if (!response.ok) throw new CallFailed('Its light is not known.', response.status);
    return { cells: new Uint8Array(await response.arrayBuffer()), frames };
  },
});
