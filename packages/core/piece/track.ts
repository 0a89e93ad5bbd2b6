import { z } from 'zod';
import { Effects, LEVEL_MAX, LEVEL_MIN, Pan, Under } from '../properties';
import { Clip } from './clip';
import { Marker } from './marker';

/** One column of a timeline. Its clips are in order of time and do not overlap. */
export const Track = z.object({
  /** Unlike any other track's, also in nests. */
  id: z.string().min(1).max(120),
  /** `picture`: its clips are seen and heard. `sound`: they are only heard. */
  kind: z.enum(['picture', 'sound']),
  name: z.string().min(1).max(80),
  /** Its sound is left out. */
  muted: z.boolean(),
  /** Its pictures are left out. */
  hidden: z.literal(true).optional(),
  /** While any track of the timeline has this, only those are heard. */
  solo: z.literal(true).optional(),
  /** No edit touches it, but for unlocking. */
  locked: z.literal(true).optional(),
  /** Its fader, mute and solo go with those of all tracks of its timeline that have this. */
  gang: z.literal(true).optional(),
  /** Its fader: how loud all that sounds on it is, in dB; missing: 0. And where it stands between left and right. */
  level: z.number().min(LEVEL_MIN).max(LEVEL_MAX).optional(),
  pan: Pan.optional(),
  /**
   * What it is for; missing: whatever is found on it. What is found to be speech counts as speech unless this says otherwise. The titles on a
   * picture track for captions are what is said, and go out as each platform wants them.
   */
  role: z.enum(['speech', 'music', 'effects', 'captions']).optional(),
  /** All on it makes way for speech, so; what is on such a track is never speech itself. */
  under: Under.optional(),
  /** What is done to all its pictures, in order. */
  effects: Effects.optional(),
  clips: z.array(Clip).max(20_000),
});
export type Track = z.infer<typeof Track>;

/** Tracks from the bottom picture up, then sound; and the markers beside them. What is higher covers what is lower. */
export const Timeline = z.object({
  tracks: z.array(Track).min(1).max(1_000),
  markers: z.array(Marker).max(10_000).optional(),
});
export type Timeline = z.infer<typeof Timeline>;

/** A timeline of its own that clips show and play like a media item. Its facts stand among the piece's media, under the same id. */
export const Nest = Timeline.extend({ name: z.string().min(1).max(200) });
export type Nest = z.infer<typeof Nest>;
