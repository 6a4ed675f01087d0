/**
 * Are a plan's entries worth anything, whatever its exits do: where the price stands n bars after them, on average, beside
 * entries by chance of the same sides at the same minutes of the session. Entries by chance are at an open and pay nothing;
 * the plan's are its own fills, slippage included.
 */
import type { Trade } from "../engine/orders.ts";
import { quantile } from "../figures/statistics.ts";
import { isTradeIn } from "../figures/trade-facts.ts";
import type { BarSeries } from "../market/bars.ts";
import type { Instrument } from "../market/instrument.ts";
import { Random } from "../random.ts";

/** Of one unit, for each number of bars after the entry, the first at place 0: the close of the entry's own bar. */
export interface EntryPath {
  /** Mean move in favour of the trades. */
  readonly plan: Float64Array;
  /** That of the draws at 5, 50 and 95 %. */
  readonly low: Float64Array;
  readonly middle: Float64Array;
  readonly high: Float64Array;
}

export interface EntryPaths {
  readonly trades: number;
  readonly draws: number;
  /** Closes after the entry that half of the trades last; at most as many as a path has. */
  readonly at: number;
  /** Share of the draws that stand as far ahead by then: small where the entries are worth something. */
  readonly atLeast: number;
  readonly ticks: EntryPath;
  /** In units of each trade's first risk; null where fewer than five trades had a stop. */
  readonly r: EntryPath | null;
}

/** Fewer trades than this tell nothing. */
const LEAST_TRADES = 5;
/** Fewer bars at the same minute of the session are no choice: all bars are drawn from. */
const LEAST_BARS = 20;
const SHORTEST = 10;
const LONGEST = 60;
const MOST_STEPS = 20_000_000;

interface Entry {
  readonly side: 1 | -1;
  readonly bar: number;
  readonly price: number;
  /** Price distance to the first stop; NaN for none. */
  readonly risk: number;
  /** Bars at the same minute of their session, from which a path is whole. */
  readonly choices: Int32Array;
}

/** Milliseconds from the session's open to the bar's. */
const minuteOf = ({ time, session, sessions }: BarSeries, bar: number): number => time[bar]! - sessions.openMs[session[bar]!]!;

/** Bars with room for a whole path, by the minute of the session. */
function barsByMinute(bars: BarSeries, length: number): Map<number, Int32Array> {
  const found = new Map<number, number[]>();
  for (let i = 0; i + length <= bars.length; i++) {
    const minute = minuteOf(bars, i);
    const own = found.get(minute);
    if (own) own.push(i);
    else found.set(minute, [i]);
  }
  return new Map(Array.from(found, ([minute, own]) => [minute, Int32Array.from(own)]));
}

const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;

/**
 * null with fewer than five trades of the instrument, or too few bars to draw from.
 * @param bars all bars of the run, which the trades' places are of
 */
export function entryPaths(trades: readonly Trade[], bars: BarSeries, instrument: Instrument, draws = 400, seed = 1): EntryPaths | null {
  const own = trades.filter((trade) => isTradeIn(trade, instrument));
  if (own.length < LEAST_TRADES) return null;
  const lasted = median(own.map(({ entryBar, exitBar }) => exitBar - entryBar + 1));
  const length = Math.min(LONGEST, Math.max(SHORTEST, 2 * lasted));
  const at = Math.min(length, lasted);
  if (bars.length < LEAST_BARS + length) return null;
  const minutes = barsByMinute(bars, length);
  const all = Int32Array.from({ length: bars.length - length + 1 }, (_none, i) => i);
  const entries = own.map(({ side, entryBar, entryPrice, risk, quantity }): Entry => {
    const choices = minutes.get(minuteOf(bars, entryBar));
    return {
      ...{ side, bar: entryBar, price: entryPrice },
      risk: risk === null ? Number.NaN : risk / (quantity * instrument.pointValue),
      choices: choices && choices.length >= LEAST_BARS ? choices : all,
    };
  });
  const count = Math.max(50, Math.min(draws, Math.floor(MOST_STEPS / (own.length * length))));
  const random = new Random(seed);
  const plan = new Sums(length);
  for (const entry of entries) plan.add(bars, entry, entry.bar, entry.price);
  const paths = { ticks: new Float64Array(count * length), r: new Float64Array(count * length) };
  const sums = new Sums(length);
  for (let d = 0; d < count; d++) {
    sums.clear();
    for (const entry of entries) {
      const bar = entry.choices[Math.floor(random.next() * entry.choices.length)]!;
      sums.add(bars, entry, bar, bars.open[bar]!);
    }
    paths.ticks.set(sums.means("ticks", instrument.tickSize), d * length);
    paths.r.set(sums.means("r"), d * length);
  }
  const ticks = pathOf(plan.means("ticks", instrument.tickSize), paths.ticks, count);
  let asFar = 0;
  for (let d = 0; d < count; d++) if (paths.ticks[d * length + at - 1]! >= ticks.plan[at - 1]!) asFar++;
  const withRisk = entries.filter(({ risk }) => risk > 0).length;
  return {
    ...{ trades: own.length, draws: count, at, atLeast: asFar / count, ticks },
    r: withRisk < LEAST_TRADES ? null : pathOf(plan.means("r"), paths.r, count),
  };
}

/** Moves summed over entries, for each number of bars after them. */
class Sums {
  readonly #moves: Float64Array;
  readonly #counts: Float64Array;
  readonly #risks: Float64Array;
  readonly #riskCounts: Float64Array;

  constructor(length: number) {
    [this.#moves, this.#counts] = [new Float64Array(length), new Float64Array(length)];
    [this.#risks, this.#riskCounts] = [new Float64Array(length), new Float64Array(length)];
  }

  clear(): void {
    for (const column of [this.#moves, this.#counts, this.#risks, this.#riskCounts]) column.fill(0);
  }

  add({ close, length }: BarSeries, { side, risk }: Entry, bar: number, price: number): void {
    const steps = Math.min(this.#moves.length, length - bar);
    for (let n = 0; n < steps; n++) {
      const move = side * (close[bar + n]! - price);
      this.#moves[n]! += move;
      this.#counts[n]!++;
      if (!(risk > 0)) continue;
      this.#risks[n]! += move / risk;
      this.#riskCounts[n]!++;
    }
  }

  means(of: "ticks" | "r", unit = 1): Float64Array {
    const [sums, counts] = of === "ticks" ? [this.#moves, this.#counts] : [this.#risks, this.#riskCounts];
    return sums.map((sum, n) => sum / counts[n]! / unit);
  }
}

function pathOf(plan: Float64Array, drawn: Float64Array, draws: number): EntryPath {
  const length = plan.length;
  const [low, middle, high] = [0, 1, 2].map(() => new Float64Array(length)) as [Float64Array, Float64Array, Float64Array];
  const column = new Float64Array(draws);
  for (let n = 0; n < length; n++) {
    for (let d = 0; d < draws; d++) column[d] = drawn[d * length + n]!;
    column.sort();
    [low[n], middle[n], high[n]] = [quantile(column, 0.05)!, quantile(column, 0.5)!, quantile(column, 0.95)!];
  }
  return { plan, low, middle, high };
}
