import { fromSeconds } from '@flimzy/core/time';
import { z } from 'zod';
import { kept } from './kept';

/** What becomes of photos that are set down: how long each is, in flicks, and whether it moves gently. */
const Photos = z.object({
  length: z.number().int().min(fromSeconds(0.1)).max(fromSeconds(600)).default(fromSeconds(3)),
  moves: z.boolean().default(true),
});

/** What a person chose for them, on this device. */
export const { use: usePhotos, set: setPhotos } = kept('flimzy.photos', Photos);
