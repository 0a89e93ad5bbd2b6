import { z } from 'zod';
import { PROPERTY_SHAPE } from '../properties';
import { MediaId } from './media';

/** The longest crossfade at a sound edge, in flicks: 4 s. */
export const BLEND_MAX = 4 * 705_600_000;

/** The furthest a sound edge reaches outside its picture, in flicks: 30 s. */
export const EDGE_MAX = 30 * 705_600_000;

/** The slowest and the fastest that a clip goes through its material, forwards or backwards: 5 % and 2 000 %. */
export const SPEED_MIN = 0.05;
export const SPEED_MAX = 20;

/** Membership in a set of clips that move, split and trim together. */
export const Link = z.object({
  /** Clips of one timeline with the same name here belong together. */
  group: z.string().min(1).max(120),
  /** start − from of this clip when it was in step, less the same of the group's other clips: all are in step when start − from − anchor is equal. */
  anchor: z.number().int(),
});
export type Link = z.infer<typeof Link>;

/** A stretch of one media item (or nest) on a track. Fields that may be missing stand for the plain case. */
export const Clip = z.object({
  id: z.string().min(1).max(120),
  media: MediaId,
  name: z.string().min(1).max(200),
  /** Where it starts on the timeline, in flicks, on a frame boundary of the piece. */
  start: z.number().int().nonnegative(),
  /** How long it lasts, in flicks: a whole number of frames, at least one. */
  length: z.number().int().positive(),
  /** Where in the material it starts, in flicks; for a still it only counts what was trimmed, and may be below 0. */
  from: z.number().int(),
  ...PROPERTY_SHAPE,
  /** Shows this one moment of the material throughout (flicks), without sound: a frozen frame. */
  hold: z.number().int().nonnegative().optional(),
  /**
   * How many times as fast as its material it runs; below 0 it runs backwards, from `from` to what is earlier. Missing: 1. A frame of the
   * piece goes through a whole number of flicks of the material, so that what is cut goes on exactly.
   */
  speed: z.number().min(-SPEED_MAX).max(SPEED_MAX).optional(),
  /** Its own sound is left out: the clip is picture only, or its sound was detached. */
  silent: z.literal(true).optional(),
  /** Sound edges: how much earlier its sound starts than its picture, and how much later it ends, in flicks on the sample grid; below 0 later and earlier. */
  lead: z.number().int().max(EDGE_MAX).optional(),
  trail: z.number().int().max(EDGE_MAX).optional(),
  /** Length of the crossfade where its sound starts, in flicks; 0 or missing: a plain cut. */
  blend: z.number().int().min(0).max(BLEND_MAX).optional(),
  link: Link.optional(),
  /** Clips with the same name here are made louder and softer together, by as much each. */
  gang: z.string().min(1).max(120).optional(),
});
export type Clip = z.infer<typeof Clip>;

/** What a clip loses with an end that is cut off: the fade, the transition and the motion that were there. */
export const NO_FADE = {
  head: { fadeIn: undefined, fadeInCurve: undefined, transition: undefined, motionIn: undefined },
  tail: { fadeOut: undefined, fadeOutCurve: undefined, ending: undefined, motionOut: undefined },
} as const satisfies Record<string, Partial<Clip>>;

/** The end of a clip on the timeline (exclusive), in flicks. */
export function clipEnd(clip: Pick<Clip, 'start' | 'length'>): number {
  return clip.start + clip.length;
}

/** When a clip's sound starts and ends on the timeline, in flicks: its picture's times but for its sound edges. */
export function soundSpan(clip: Clip): { start: number; end: number } {
  return { start: clip.start - (clip.lead ?? 0), end: clipEnd(clip) + (clip.trail ?? 0) };
}
