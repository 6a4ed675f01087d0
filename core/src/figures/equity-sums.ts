/**
 * What a sweep wants to know of equity, kept as bars go by and without a column: the deepest fall, and equity at the end of
 * each day. While a position does not change, equity rises and falls with the closes, so that sixteen bars whose highest
 * close makes no new peak are done in one step.
 */
import { type BarBlocks, BLOCK_BARS, BLOCK_SHIFT, blocksOf } from "../engine/bar-blocks.ts";
import type { EquityRecord } from "../engine/equity.ts";
import type { BarSeries } from "../market/bars.ts";
import { type Daily, type DayEnds, dayEnds } from "./daily.ts";

export class EquitySums implements EquityRecord {
  #deepest = 0;
  readonly #close: Float64Array;
  readonly #blocks: BarBlocks;
  readonly #days: DayEnds;
  readonly #daily: Float64Array;
  readonly #dayCount: number;
  /** The day that is under way. */
  #day = 0;
  #peak: number;

  constructor(bars: BarSeries, capital: number) {
    this.#close = bars.close;
    this.#blocks = blocksOf(bars);
    this.#days = dayEnds(bars);
    this.#dayCount = this.#days.bars.length;
    this.#daily = new Float64Array(this.#dayCount + 1);
    this.#daily[0] = capital;
    this.#peak = capital;
  }

  /** The deepest fall in money from the peak so far, the capital being the first peak: as `deepestFall` finds it. */
  get deepestFall(): number {
    this.#settle();
    return this.#deepest;
  }

  /** As `dailyEquity` gives it. */
  get daily(): Daily {
    this.#settle();
    return { dates: this.#days.dates, equity: this.#daily };
  }

  flat(value: number, from: number, to: number): void {
    this.#settle();
    if (to <= from) return;
    this.#see(value);
    const ends = this.#days.bars;
    while (this.#day < this.#dayCount && ends[this.#day]! < to) this.#daily[++this.#day] = value;
  }

  /** Pieces of one position are put together first: handlers that wait for a close cut it into short ones. */
  held(base: number, perPrice: number, from: number, to: number): void {
    if (from !== this.#leftTo || base !== this.#base || perPrice !== this.#perPrice) {
      this.#settle();
      this.#leftFrom = from;
      this.#base = base;
      this.#perPrice = perPrice;
    }
    this.#leftTo = to;
  }

  at(i: number, value: number): void {
    this.#settle();
    this.#see(value);
    if (this.#day < this.#dayCount && this.#days.bars[this.#day] === i) this.#daily[++this.#day] = value;
  }

  #see(value: number): void {
    const fall = this.#peak - value;
    if (fall < 0) this.#peak = value;
    else if (fall > this.#deepest) this.#deepest = fall;
  }

  // Bars [leftFrom, leftTo) of one position, not yet looked at.
  #leftFrom = 0;
  #leftTo = 0;
  #base = 0;
  #perPrice = 0;

  #settle(): void {
    const from = this.#leftFrom;
    const to = this.#leftTo;
    if (to === from) return;
    this.#leftFrom = to;
    const base = this.#base;
    const perPrice = this.#perPrice;
    const close = this.#close;
    const { closePeak, closeLow } = this.#blocks;
    const best = perPrice > 0 ? closePeak : closeLow;
    const worst = perPrice > 0 ? closeLow : closePeak;
    let peak = this.#peak;
    let deepest = this.#deepest;
    let i = from;
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
    this.#peak = peak;
    this.#deepest = deepest;
    const ends = this.#days.bars;
    while (this.#day < this.#dayCount && ends[this.#day]! < to) {
      const value = base + perPrice * close[ends[this.#day]!]!;
      this.#daily[++this.#day] = value;
    }
  }
}
