/** A spread below this share of what it is taken over is rounding noise and counts as none. */
const NOISE = 1e-9;

/** Whether values of about a size, spread so far, did not move but for rounding. Any unit, the same for both. */
export const isStill = (spread: number, size: number): boolean => !(spread > NOISE * Math.abs(size));
