import { sayTenths } from '../properties';
import type { PlatformFormat } from './platform';

/** Under this nothing is heard, in LUFS; how far over the highest peak a codec may come, in dB. */
const SILENT = -70;
const PEAK_OVER = 0.5;

/** How far from a target something is, in words. LUFS */
export const sayOffTarget = (integrated: number, target: number): string =>
  `${sayTenths(integrated)} LUFS, ${sayTenths(Math.abs(integrated - target))} LU too ${integrated > target ? 'loud' : 'soft'}`;

/**
 * What is said of a finished file's loudness and peak, and whether each is as a format plays it: one sentence each.
 * @param integrated LUFS; −∞ when it is silent @param peak dBTP; not finite: not told of
 */
export function loudnessChecks(
  format: Pick<PlatformFormat, 'loudness'> | null,
  { integrated, peak }: { integrated: number; peak: number },
): { says: string; ok: boolean }[] {
  const wish = format?.loudness;
  const peakSaid = `Peak ${sayTenths(peak)} dBTP`;
  const checks = [loudnessCheck(integrated, wish)];
  if (Number.isFinite(peak)) {
    const over = wish && peak > wish.peak + PEAK_OVER;
    checks.push(over ? { says: `${peakSaid}, over ${sayTenths(wish.peak)}`, ok: false } : { says: peakSaid, ok: true });
  }
  return checks;
}

function loudnessCheck(integrated: number, wish: PlatformFormat['loudness'] | undefined): { says: string; ok: boolean } {
  if (integrated <= SILENT) return { says: 'Silent', ok: true };
  if (!wish) return { says: `${sayTenths(integrated)} LUFS`, ok: true };
  const target = sayTenths(wish.target);
  return Math.abs(integrated - wish.target) > wish.within
    ? { says: `${sayOffTarget(integrated, wish.target)} for ${target}`, ok: false }
    : { says: `${sayTenths(integrated)} LUFS of ${target}`, ok: true };
}
