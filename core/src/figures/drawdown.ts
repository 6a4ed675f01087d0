/** Drawdown of an equity column: peak so far minus equity, with the starting capital as the first peak. */
import { BLOCK_BARS, BLOCK_SHIFT, blocksOf } from "../engine/bar-blocks.ts";
import type { EquityStretches } from "../engine/equity.ts";
import type { BarSeries } from "../market/bars.ts";

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

/** Looks at equity from its first value to its last, in pieces. */
class Scan {
  peak: number;
  peakAt = -1;
  /**
   * Between the peak and this value nothing new can happen: most values are passed over by two comparisons. It is the
   * shallower of both records.
   */
  floor: number;
  readonly #equity: Float64Array;
  readonly #capital: number;
  readonly #time: Float64Array;
  readonly #startTime: number;
  #depth = 0;
  #relative = 0;
  /** What a fall must pass to be the deepest in percent: relative x peak, kept up to date. */
  #relativeLimit = 0;
  #moneyStart = -1;
  #moneyLow = -1;
  #relativeStart = -1;
  #relativeLow = -1;
  #longest = 0;
  #longestStart = -1;
  #longestEnd = -1;

  constructor(equity: Float64Array, capital: number, time: Float64Array, startTime: number) {
    this.#equity = equity;
    this.#capital = capital;
    this.#time = time;
    this.#startTime = startTime;
    this.peak = capital;
    this.floor = capital;
  }

  /** Values [from, to), which follow those before. */
  look(from: number, to: number): void {
    const equity = this.#equity;
    let { peak, peakAt, floor } = this;
    for (let i = from; i < to; i++) {
      const value = equity[i]!;
      if (value < peak && value >= floor) continue;
      if (value >= peak) {
        if (i - peakAt > 1) this.#recovered(peakAt, i);
        peak = value;
        peakAt = i;
        this.#relativeLimit = this.#relative * peak;
      } else {
        const down = peak - value;
        if (down > this.#depth) {
          this.#depth = down;
          this.#moneyStart = peakAt;
          this.#moneyLow = i;
        }
        if (down > this.#relativeLimit) {
          this.#relative = down / peak;
          this.#relativeLimit = down;
          this.#relativeStart = peakAt;
          this.#relativeLow = i;
        }
      }
      floor = floorUnder(peak, Math.min(this.#depth, this.#relativeLimit));
    }
    this.peak = peak;
    this.peakAt = peakAt;
    this.floor = floor;
  }

  #recovered(from: number, at: number): void {
    const lasted = this.#time[at]! - (from < 0 ? this.#startTime : this.#time[from]!);
    if (lasted <= this.#longest) return;
    this.#longest = lasted;
    this.#longestStart = from;
    this.#longestEnd = at;
  }

  /** After the last value. */
  found(): Drawdowns {
    const equity = this.#equity;
    const last = equity.length - 1;
    if (last > this.peakAt) this.#recovered(this.peakAt, last);
    const deepest = (size: number, start: number, low: number): Drawdown => ({
      ...{ size, start, low },
      recovery: recoveryOf(equity, this.#capital, start, low),
    });
    return {
      money: deepest(this.#depth, this.#moneyStart, this.#moneyLow),
      relative: deepest(this.#relative, this.#relativeStart, this.#relativeLow),
      longest: { start: this.#longestStart, end: this.#longestEnd },
    };
  }
}

/**
 * Deepest drawdown in money and in percent (two separate maxima) and the longest one, in one pass.
 * `time` gives the time of each value for the longest; `startTime` that of the starting capital.
 */
export function drawdowns(equity: Float64Array, capital: number, time: Float64Array, startTime: number): Drawdowns {
  const scan = new Scan(equity, capital, time, startTime);
  scan.look(0, equity.length);
  return scan.found();
}

/** The same of a run whose stretches are known: a stretch without a position is one value, and blocks of bars that stay between peak and floor are passed over. */
export function drawdownsIn(stretches: EquityStretches, equity: Float64Array, capital: number, bars: BarSeries): Drawdowns {
  const n = equity.length;
  const scan = new Scan(equity, capital, bars.closeTime, n > 0 ? bars.time[0]! : 0);
  const { closePeak, closeLow } = blocksOf(bars);
  const { ends, bases, perPrices, count } = stretches;
  let from = 0;
  for (let k = 0; k < count && from < n; k++) {
    const to = Math.min(ends[k]!, n);
    const base = bases[k]!;
    const perPrice = perPrices[k]!;
    if (perPrice === 0) {
      scan.look(from, from + 1);
      if (equity[from] === scan.peak) scan.peakAt = to - 1;
      from = to;
      continue;
    }
    const best = perPrice > 0 ? closePeak : closeLow;
    const worst = perPrice > 0 ? closeLow : closePeak;
    while (from < to) {
      const block = from >> BLOCK_SHIFT;
      const blockEnd = (block + 1) << BLOCK_SHIFT;
      const isWhole = blockEnd - from === BLOCK_BARS && blockEnd <= to;
      const isQuiet = isWhole && base + perPrice * best[block]! < scan.peak && base + perPrice * worst[block]! >= scan.floor;
      const next = Math.min(blockEnd, to);
      if (!isQuiet) scan.look(from, next);
      from = next;
    }
  }
  return scan.found();
}

function recoveryOf(equity: Float64Array, capital: number, start: number, low: number): number | null {
  if (low < 0) return null;
  const peak = start < 0 ? capital : equity[start]!;
  const n = equity.length;
  for (let i = low + 1; i < n; i++) if (equity[i]! >= peak) return i;
  return null;
}
