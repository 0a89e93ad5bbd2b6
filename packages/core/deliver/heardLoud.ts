import { sayTenths } from '../properties';
import type { PlatformFormat } from './platform';

/** Under this nothing is heard, in LUFS; how far over the highest peak a codec may come, in dB. */
const SILENT = -70;
const PEAK_OVER = 0.5;

/**
 * What is said of a finished file's loudness and peak, and whether each is as a format plays it: one sentence each.
 * @param integrated LUFS; −∞ when it is silent @param peak dBTP; not finite: not told of
 */
export function loudnessChecks(
  format: Pick<PlatformFormat, 'loudness'> | null,
  { integrated, peak }: { integrated: number; peak: number },
): { says: string; ok: boolean }[] {
  const wish = format?.loudness;
  const silent = integrated <= SILENT;
  const off = wish && !silent ? Math.abs(integrated - wish.target) > wish.within : false;
  const checks = [{ says: silent ? 'Silent' : `${sayTenths(integrated)} LUFS${wish ? ` of ${sayTenths(wish.target)}` : ''}`, ok: !off }];
  if (Number.isFinite(peak)) checks.push({ says: `Peak ${sayTenths(peak)} dBTP`, ok: !(wish && peak > wish.peak + PEAK_OVER) });
  return checks;
}
