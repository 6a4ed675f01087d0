/**
 * What a sweep wants to know of equity, from the stretches in which it came and without a column. While a position does not
 * change, equity rises and falls with the closes, so that sixteen bars whose highest close makes no new peak are one step.
 */
import { BLOCK_BARS, BLOCK_SHIFT, blocksOf } from "../engine/bar-blocks.ts";
import type { EquityStretches } from "../engine/equity.ts";
import type { BarSeries } from "../market/bars.ts";
import { type Daily, dayEnds } from "./daily.ts";

/** The deepest falls from the peak so far, in money and as a share of that peak: two maxima, as `drawdowns` finds them in a column. */
export interface DeepestFalls {
  readonly money: number;
  readonly share: number;
}

/** The capital is the first peak. */
export function deepestFallsIn({ count, ends, bases, perPrices }: EquityStretches, capital: number, bars: BarSeries): DeepestFalls {
  const { close } = bars;
  const { closePeak, closeLow } = blocksOf(bars);
  let peak = capital;
  let deepest = 0;
  let share = 0;
  let i = 0;
  for (let k = 0; k < count; k++) {
    const base = bases[k]!;
    const perPrice = perPrices[k]!;
    // Without a position one bar says it all.
    const to = perPrice === 0 ? i + 1 : ends[k]!;
    const best = perPrice > 0 ? closePeak : closeLow;
    const worst = perPrice > 0 ? closeLow : closePeak;
    while (i < to) {
      const block = i >> BLOCK_SHIFT;
      const blockEnd = (block + 1) << BLOCK_SHIFT;
      if (blockEnd - i === BLOCK_BARS && blockEnd <= to && base + perPrice * best[block]! <= peak) {
        const fall = peak - (base + perPrice * worst[block]!);
        if (fall > deepest) deepest = fall;
        if (fall > share * peak) share = fall / peak;
        i = blockEnd;
        continue;
      }
      const stop = Math.min(blockEnd, to);
      for (; i < stop; i++) {
        const value = base + perPrice * close[i]!;
        const fall = peak - value;
        if (fall < 0) peak = value;
        else if (fall > share * peak || fall > deepest) {
          if (fall > deepest) deepest = fall;
          if (fall > share * peak) share = fall / peak;
        }
      }
    }
    i = ends[k]!;
  }
  return { money: deepest, share };
}

/** Daily equity, as `dailyEquity` has it of a column. */
export function dailyIn({ count, ends, bases, perPrices }: EquityStretches, capital: number, bars: BarSeries): Daily {
  const days = dayEnds(bars);
  const { close } = bars;
  const n = days.bars.length;
  const equity = new Float64Array(n + 1);
  equity[0] = capital;
  let d = 0;
  for (let k = 0; k < count; k++)
    for (; d < n && days.bars[d]! < ends[k]!; d++) equity[d + 1] = bases[k]! + perPrices[k]! * close[days.bars[d]!]!;
  return { dates: days.dates, equity };
}
