/**
 * What a sweep wants to know of equity, from the stretches in which it came and without a column. While a position does not
 * change, equity rises and falls with the closes, so that sixteen bars whose highest close makes no new peak are one step.
 */
import { BLOCK_BARS, BLOCK_SHIFT, blocksOf } from "../engine/bar-blocks.ts";
import type { EquityStretches } from "../engine/equity.ts";
import type { BarSeries } from "../market/bars.ts";
import { type Daily, dayEnds } from "./daily.ts";

/** The deepest fall in money from the peak so far, the capital being the first peak: as `deepestFall` finds it in a column. */
export function deepestFallIn({ count, ends, bases, perPrices }: EquityStretches, capital: number, bars: BarSeries): number {
  const { close } = bars;
  const { closePeak, closeLow } = blocksOf(bars);
  let peak = capital;
  let deepest = 0;
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
        i = blockEnd;
        continue;
      }
      const stop = Math.min(blockEnd, to);
      for (; i < stop; i++) {
        const value = base + perPrice * close[i]!;
        const fall = peak - value;
        if (fall < 0) peak = value;
        else if (fall > deepest) deepest = fall;
      }
    }
    i = ends[k]!;
  }
  return deepest;
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
