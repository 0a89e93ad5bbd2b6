import { z } from 'zod';
import { Backdrop, Fit } from '../piece';
import { clipName, defineEdit } from './edit';

/** Says how a picture of another shape sits in the frame, and what stands behind it. */
export const fit = defineEdit({
  params: z.object({ clip: z.string(), fit: Fit, backdrop: Backdrop }),
  title: (params, piece) =>
    params.fit === 'fill' ? `Fill the frame with ${clipName(piece, params.clip)}` : `Fit ${clipName(piece, params.clip)} into the frame`,
  apply(_draft, { clip, fit: way, backdrop }, { plan }) {
    plan.set(clip, { fit: way, backdrop });
  },
});
