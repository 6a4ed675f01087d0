/** Bounds of numbers at the border: far beyond any market, and far from where sums of them lose their digits or their ends. */

/** Stands for 0, exclusive. */
export const LEAST_POSITIVE = 1e-9;
export const MOST = 1e12;
