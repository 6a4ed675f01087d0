/** Drawdown of an equity column: peak so far minus equity, with the starting capital as the first peak. */

export interface Drawdown {
  /** Money for `deepest in money`, a fraction of the peak for `deepest in percent`. 0 when equity never fell. */
  readonly size: number;
  /** Indices into the equity column; start -1 is the starting capital. recovery is null while it lasts. */
  readonly start: number;
  readonly low: number;
  readonly recovery: number | null;
}

export interface Drawdowns {
  readonly money: Drawdown;
  readonly relative: Drawdown;
  /** Start and end index of the longest stretch under a peak; end is the recovery, or the last bar. */
  readonly longest: { readonly start: number; readonly end: number };
}

/** At each close how far equity is below its peak so far, <= 0; the peak is at least the capital. */
export function fallsOf(equity: ArrayLike<number>, capital: number): Float64Array {
  const falls = new Float64Array(equity.length);
  let peak = capital;
  for (let i = 0; i < falls.length; i++) {
    const value = equity[i]!;
    if (value > peak) peak = value;
    falls[i] = value - peak;
  }
  return falls;
}

/** At or above peak - depth without rounding, so that no value below it is taken for one above. */
const floorUnder = (peak: number, depth: number): number => peak - depth + (Math.abs(peak) + Math.abs(depth)) * 2 ** -51;

/**
 * Deepest drawdown in money and in percent (two separate maxima) and the longest one, in one pass.
 * `time` gives the time of each value for the longest; `startTime` that of the starting capital.
 */
export function drawdowns(equity: Float64Array, capital: number, time: Float64Array, startTime: number): Drawdowns {
  let peak = capital;
  let peakAt = -1;
  let depth = 0;
  let relative = 0;
  // What a fall must pass to be the deepest in percent: relative x peak, kept up to date.
  let relativeLimit = 0;
  let [moneyStart, moneyLow, relativeStart, relativeLow] = [-1, -1, -1, -1];
  let longest = 0;
  let [longestStart, longestEnd] = [-1, -1];
  // Between the peak and this value nothing new can happen: most values are passed over by two comparisons. It is the
  // shallower of both records.
  let floor = peak;
  const n = equity.length;
  for (let i = 0; i < n; i++) {
    const value = equity[i]!;
    if (value < peak && value >= floor) continue;
    if (value >= peak) {
      if (i - peakAt > 1) {
        const lasted = time[i]! - (peakAt < 0 ? startTime : time[peakAt]!);
        if (lasted > longest) {
          longest = lasted;
          longestStart = peakAt;
          longestEnd = i;
        }
      }
      peak = value;
      peakAt = i;
      relativeLimit = relative * peak;
      floor = floorUnder(peak, Math.min(depth, relativeLimit));
      continue;
    }
    const down = peak - value;
    if (down > depth) {
      depth = down;
      moneyStart = peakAt;
      moneyLow = i;
    }
    if (down > relativeLimit) {
      relative = down / peak;
      relativeLimit = down;
      relativeStart = peakAt;
      relativeLow = i;
    }
    floor = floorUnder(peak, Math.min(depth, relativeLimit));
  }
  if (n > 0 && peakAt < n - 1 && time[n - 1]! - (peakAt < 0 ? startTime : time[peakAt]!) > longest) {
    longestStart = peakAt;
    longestEnd = n - 1;
  }
  return {
    money: { size: depth, start: moneyStart, low: moneyLow, recovery: recoveryOf(equity, capital, moneyStart, moneyLow) },
    relative: { size: relative, start: relativeStart, low: relativeLow, recovery: recoveryOf(equity, capital, relativeStart, relativeLow) },
    longest: { start: longestStart, end: longestEnd },
  };
}

function recoveryOf(equity: Float64Array, capital: number, start: number, low: number): number | null {
  if (low < 0) return null;
  const peak = start < 0 ? capital : equity[start]!;
  const n = equity.length;
  for (let i = low + 1; i < n; i++) if (equity[i]! >= peak) return i;
  return null;
}
