import type { Clip, Track } from '../piece';
import { withinLevels } from '../properties';
import { clipEnergies, type HearingReader } from '../sound';
import { integratedOf } from './loudness';

/** How loud a clip is in its piece, in LUFS: the stretch it uses, with its level, envelope and track. −∞ when it is silent, or was not listened to. */
export function clipLoudness(clip: Clip, track: Track, hearing: HearingReader): number {
  return integratedOf(clipEnergies(clip, track, hearing));
}

/** The level (dB) that brings a clip to a loudness (LUFS), as far as levels go; null where it has none. */
export function levelFor(clip: Clip, track: Track, hearing: HearingReader, target: number): number | null {
  const now = clipLoudness(clip, track, hearing);
  if (!Number.isFinite(now)) return null;
  return Math.round(withinLevels(clip.level + target - now) * 10) / 10;
}
