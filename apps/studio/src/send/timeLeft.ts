/** Seconds as people say them: "12 s", "3 min". */
export const sayDuration = (seconds: number): string =>
  seconds < 90 ? `${Math.max(1, Math.round(seconds))} s` : `${Math.round(seconds / 60)} min`;

/** How much longer something takes. */
export const timeLeft = (seconds: number): string => `${sayDuration(seconds)} left`;
