/** What is left of a result when it is treated worse than it was: without its best trades, a bar late, or entered by chance. */
import type { Trade } from "../engine/orders.ts";
import { quantile } from "../figures/statistics.ts";
import { costsOf, isTradeIn } from "../figures/trade-facts.ts";
import type { BarSeries } from "../market/bars.ts";
import type { Instrument } from "../market/instrument.ts";
import { Random } from "../random.ts";
import { BAND_LEVELS } from "./resampling.ts";

export interface WithoutBest {
  /** How many of the best trades are left out. */
  readonly dropped: number;
  readonly net: number;
}

/** Net profit without the best 1, 3 and 5 trades and without the best tenth. */
export function withoutBest(trades: readonly Trade[]): WithoutBest[] {
  const nets = trades.map(({ net }) => net).sort((a, b) => b - a);
  const total = nets.reduce((sum, net) => sum + net, 0);
  const counts = [...new Set([1, 3, 5, Math.ceil(nets.length / 10)])].filter((count) => count < nets.length).sort((a, b) => a - b);
  return counts.map((dropped) => ({ dropped, net: nets.slice(0, dropped).reduce((left, net) => left - net, total) }));
}

export interface DelayedEntries {
  readonly net: number;
  /** Trades that were over before a late entry could have come. */
  readonly missed: number;
}

/**
 * The same trades entered at the open of the bar after the one they were entered on, with the same exits and costs. A
 * trade that had ended by then is missed. A first answer: the stop of a late entry would stand elsewhere.
 */
export function delayedEntries(trades: readonly Trade[], { open, length }: BarSeries, instrument: Instrument): DelayedEntries {
  let [net, missed] = [0, 0];
  for (const trade of trades) {
    if (!isTradeIn(trade, instrument)) {
      net += trade.net;
      continue;
    }
    const late = trade.entryBar + 1;
    if (late >= length || late > trade.exitBar) missed++;
    else net += trade.net - trade.side * (open[late]! - trade.entryPrice) * trade.quantity * instrument.pointValue;
  }
  return { net, missed };
}

export interface RandomEntries {
  readonly draws: number;
  readonly seed: number;
  /** Net profit of the draws at 5, 25, 50, 75 and 95 %. */
  readonly bands: readonly number[];
  /** Share of the draws that made at least as much as the plan did: small where the entries are worth something. */
  readonly atLeast: number;
}

const MOST_STEPS = 30_000_000;

/**
 * What the exits alone earn: every trade is entered at the open of a bar drawn by chance instead, with the same side, size,
 * costs, first stop and target distance and longest time. Inside one bar the stop comes first. Trades of other instruments
 * are left out of both sides of the comparison. null with fewer than 5 trades.
 */
export function randomEntries(
  trades: readonly Trade[],
  bars: BarSeries,
  instrument: Instrument,
  draws = 500,
  seed = 1,
): RandomEntries | null {
  const own = trades.filter((trade) => isTradeIn(trade, instrument));
  if (own.length < 5 || bars.length < 20) return null;
  const steps = own.reduce((sum, trade) => sum + trade.exitBar - trade.entryBar + 1, 0);
  const count = Math.max(20, Math.min(draws, Math.floor(MOST_STEPS / steps)));
  const random = new Random(seed);
  const nets = new Float64Array(count);
  const plans = own.map(planOf);
  for (let d = 0; d < count; d++)
    for (const plan of plans) nets[d]! += drawnNet(plan, bars, instrument, Math.floor(random.next() * (bars.length - plan.held - 1)));
  const actual = own.reduce((sum, { net }) => sum + net, 0);
  const sorted = nets.slice().sort();
  return {
    draws: count,
    seed,
    bands: BAND_LEVELS.map((level) => quantile(sorted, level)!),
    atLeast: nets.reduce((sum, net) => sum + (net >= actual ? 1 : 0), 0) / count,
  };
}

/** What of a trade is kept when its entry is drawn anew. */
interface ExitPlan {
  readonly side: 1 | -1;
  readonly quantity: number;
  readonly held: number;
  readonly costs: number;
  /** Price distances to the first stop and target; Infinity for none. */
  readonly stop: number;
  readonly target: number;
}

function planOf(trade: Trade): ExitPlan {
  const { side, quantity, entryBar, exitBar, entryPrice, rails } = trade;
  const first = rails[0];
  const away = (level: number | null | undefined, sign: number): number => {
    const distance = level === null || level === undefined ? Number.POSITIVE_INFINITY : sign * side * (level - entryPrice);
    return distance > 0 ? distance : Number.POSITIVE_INFINITY;
  };
  return {
    ...{ side, quantity, held: Math.max(1, exitBar - entryBar) },
    costs: costsOf(trade),
    stop: away(first?.stop, -1),
    target: away(first?.target, 1),
  };
}

function drawnNet(
  { side, quantity, held, costs, stop, target }: ExitPlan,
  bars: BarSeries,
  { pointValue }: Instrument,
  at: number,
): number {
  const { open, high, low, close } = bars;
  const start = Math.max(0, at);
  const entry = open[start]!;
  let move = 0;
  for (let i = start; ; i++) {
    const [worst, best] = side > 0 ? [entry - low[i]!, high[i]! - entry] : [high[i]! - entry, entry - low[i]!];
    if (worst >= stop) {
      // Case: it opens beyond the stop.
      move = -Math.max(stop, i > start ? side * (entry - open[i]!) : 0);
      break;
    }
    if (best >= target) {
      move = target;
      break;
    }
    if (i >= start + held || i >= bars.length - 1) {
      move = side * (close[i]! - entry);
      break;
    }
  }
  return move * quantity * pointValue - costs;
}
