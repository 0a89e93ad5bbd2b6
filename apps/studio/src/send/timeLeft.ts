/** Seconds as people say them. */
export function timeLeft(seconds: number): string {
  if (seconds < 90) return `${Math.max(1, Math.round(seconds))} s left`;
  return `${Math.round(seconds / 60)} min left`;
}
