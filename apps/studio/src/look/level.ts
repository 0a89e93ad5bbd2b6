/** A factor of full scale in dB; −∞ for nothing. */
export const dbOf = (factor: number) => (factor > 0 ? 20 * Math.log10(factor) : -Infinity);

/** How far up a meter stands that begins so many dB under full scale, 0 to 1. */
export const upMeter = (db: number, floor = 48) => Math.max(0, Math.min(1, (db + floor) / floor));
