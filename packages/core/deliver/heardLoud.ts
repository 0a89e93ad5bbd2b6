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
  const wish = format?.loudness ?? { target: integrated, within: Infinity, peak: Infinity };
  const silent = integrated <= SILENT;
  const by = integrated - wish.target;
  const off = !silent && Math.abs(by) > wish.within;
  const over = peak > wish.peak + PEAK_OVER;
  const of = format?.loudness && !off ? ` of ${sayTenths(wish.target)}` : '';
  const apart = off ? `, ${sayTenths(Math.abs(by))} LU too ${by > 0 ? 'loud' : 'soft'} for ${sayTenths(wish.target)}` : '';
  const checks = [{ says: silent ? 'Silent' : `${sayTenths(integrated)} LUFS${of}${apart}`, ok: !off }];
  if (Number.isFinite(peak))
    checks.push({ says: `Peak ${sayTenths(peak)} dBTP${over ? `, over ${sayTenths(wish.peak)}` : ''}`, ok: !over });
  return checks;
}
