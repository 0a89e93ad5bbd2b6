import { z } from 'zod';
import { LONGEST } from '../time';

/** Parameters that many edits share. */
export const ClipIds = z.array(z.string().max(120)).min(1).max(20_000);

/** Further clips to which the same is done. */
export const Also = z.array(z.string().max(120)).max(20_000).default([]);

/** A time or place on a timeline, in flicks. */
export const Time = z.number().int().nonnegative().max(LONGEST);

/** Which timeline: null for the piece's own, else a nest's id. */
export const Inside = z.string().max(120).nullable().default(null);

/** Which tracks follow when time is taken out or put in: those of the clips concerned, or every unlocked one. Linked clips always do. */
export const ReachParam = z.enum(['own', 'all']).default('own');
