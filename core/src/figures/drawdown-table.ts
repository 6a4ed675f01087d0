/** Falls of equity, one by one: from a peak to the next close that is as high. */

export interface DrawdownRow {
  /** Index of the peak; -1 is the starting capital. */
  readonly start: number;
  readonly low: number;
  /** Index of the first value at or above the peak; null while the fall lasts. */
  readonly recovery: number | null;
  /** Money. */
  readonly depth: number;
  /** Of the peak, a fraction. */
  readonly share: number;
}

/**
 * The deepest falls in money, the deepest first; of two as deep the earlier one. Falls do not overlap: each ends where
 * equity is back at its peak.
 * @param equity at bar closes
 * @param capital the first peak
 */
export function drawdownTable(equity: ArrayLike<number>, capital: number, most = 10): DrawdownRow[] {
  const rows: DrawdownRow[] = [];
  let [peak, peakAt, low] = [capital, -1, -1];
  const end = (recovery: number | null): void => {
    if (low < 0) return;
    const depth = peak - equity[low]!;
    rows.push({ start: peakAt, low, recovery, depth, share: depth / peak });
    low = -1;
  };
  for (let i = 0; i < equity.length; i++) {
    const value = equity[i]!;
    if (value >= peak) {
      end(i);
      [peak, peakAt] = [value, i];
    } else if (low < 0 || value < equity[low]!) low = i;
  }
  end(null);
  return rows.sort((a, b) => b.depth - a.depth || a.start - b.start).slice(0, most);
}
