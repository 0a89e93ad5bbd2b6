import { z } from 'zod';
import { LEVEL_MAX, LEVEL_MIN } from '../piece';
import { clipName, defineEdit } from './edit';

/** Sets how loud a clip's sound is. */
export const level = defineEdit({
  params: z.object({
    clip: z.string(),
    /** dB; −60 is silence. */
    level: z.number().min(LEVEL_MIN).max(LEVEL_MAX),
  }),
  title: (params, piece) =>
    `Level of ${clipName(piece, params.clip)} ${params.level <= LEVEL_MIN ? 'off' : `${params.level.toFixed(1)} dB`}`,
  apply(_draft, params, { plan }) {
    plan.set(params.clip, { level: params.level });
  },
});
