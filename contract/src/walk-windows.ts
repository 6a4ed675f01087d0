/**
 * How many windows a walk-forward has: the stretches to try on follow each other without a gap from `inSample` sessions on;
 * the last may be shorter, but not under half.
 */
export const countWindows = (sessions: number, inSample: number, outOfSample: number): number =>
  Math.max(0, Math.floor((sessions - inSample) / outOfSample + 0.5));
