/**
 * Rule R7.1 put to the test: a run that sees only the first k bars must have done, up to bar k, exactly what a run that
 * sees all of them did. Both are held still after the same bar and compared, orders and fills, trades, equity and log.
 */

import { StudyStore } from "../language/study-store.ts";
import type { DeclaredPlan } from "../language/vocabulary.ts";
import { type BarSeries, sliceSeries } from "../market/bars.ts";
import { Backtest, type BacktestOptions, type RunFeed } from "./backtest.ts";

/** Where the two runs first part. */
export interface LookAheadDifference {
  /** Bars that the shorter run could see. */
  readonly bars: number;
  readonly what: "order" | "fill" | "trade" | "equity" | "log" | "error";
  readonly barIndex: number;
  readonly timeMs: number;
  /** Line of the plan's source, 0 where unknown. */
  readonly line: number;
  /** What the run on all bars did there, and the run on the first bars; empty where one did nothing. */
  readonly whole: string;
  readonly part: string;
}

export interface LookAheadReport {
  readonly cuts: readonly number[];
  readonly difference: LookAheadDifference | null;
}

export interface LookAheadOptions extends Omit<BacktestOptions, "plan" | "freshPlan" | "equity" | "isLean"> {
  /** A fresh instance for each run. */
  readonly makePlan: () => DeclaredPlan;
  /** Numbers of bars after which to compare, ascending. */
  readonly cuts: readonly number[];
  /** Called after each comparison. */
  readonly onCut?: (done: number) => void;
}

/** Cuts spread over a series: the first soon after the start, none at the very end. */
export function evenCuts(bars: number, count: number): number[] {
  const cuts: number[] = [];
  for (let k = 1; k <= count; k++) cuts.push(Math.floor((bars * k) / (count + 1)));
  return [...new Set(cuts)].filter((cut) => cut > 0 && cut < bars);
}

export function checkLookAhead({ makePlan, cuts, onCut, ...options }: LookAheadOptions): LookAheadReport {
  const whole = new Backtest({ ...options, plan: makePlan(), freshPlan: makePlan });
  for (const [i, cut] of cuts.entries()) {
    const difference = compareAt(
      whole,
      () =>
        new Backtest({
          ...options,
          plan: makePlan(),
          freshPlan: makePlan,
          feeds: options.feeds.map((feed) => cutFeed(feed, options.feeds[0]!.store.bars, cut)),
        }),
      cut,
    );
    if (difference) return { cuts: cuts.slice(0, i + 1), difference };
    onCut?.(i + 1);
  }
  return { cuts, difference: null };
}

/** The bars of a feed that open before bar `cut` of the first instrument does, in memory of their own. */
function cutFeed({ instrument, store, finer }: RunFeed, main: BarSeries, cut: number): RunFeed {
  const { bars } = store;
  const until = main.time[cut]!;
  let n = 0;
  while (n < bars.length && bars.time[n]! < until) n++;
  const cutFiner = finer && { series: sliceSeries(finer.series, 0, finer.first[n]!), first: finer.first.slice(0, n + 1) };
  return { instrument, store: new StudyStore(sliceSeries(bars, 0, n)), finer: cutFiner };
}

function compareAt(whole: Backtest, makePart: () => Backtest, cut: number): LookAheadDifference | null {
  const errors = ["", ""];
  const attempt = (which: 0 | 1, run: () => void): void => {
    try {
      run();
    } catch (error) {
      errors[which] = error instanceof Error ? error.message : String(error);
    }
  };
  let part: Backtest | null = null;
  attempt(0, () => whole.simulation.run(cut));
  attempt(1, () => {
    part = makePart();
    part.simulation.run(cut);
  });
  if (errors[0] !== errors[1])
    return { bars: cut, what: "error", barIndex: cut - 1, timeMs: whole.host.cursor.timeMs, line: 0, whole: errors[0]!, part: errors[1]! };
  return part ? firstDifference(whole, part, cut) : null;
}

type Row = Omit<LookAheadDifference, "bars" | "what" | "whole" | "part"> & { readonly text: string };

function firstDifference(whole: Backtest, part: Backtest, cut: number): LookAheadDifference | null {
  for (const [what, rowsOf] of ROWS) {
    const [a, b] = [rowsOf(whole, cut), rowsOf(part, cut)];
    for (let i = 0; i < Math.max(a.length, b.length); i++) {
      const [x, y] = [a[i], b[i]];
      if (x?.text === y?.text) continue;
      const { barIndex, timeMs, line } = (x ?? y)!;
      return { bars: cut, what, barIndex, timeMs, line, whole: x?.text ?? "", part: y?.text ?? "" };
    }
  }
  return null;
}

/** What is compared, the plainest first. An order's text is that of its state after the last bar of both. */
const ROWS: readonly (readonly ["order" | "fill" | "trade" | "equity" | "log", (run: Backtest, cut: number) => Row[]])[] = [
  [
    "order",
    ({ host }) =>
      host.orders.map((order) => ({
        barIndex: order.submittedBar,
        timeMs: order.submittedTime,
        line: order.line,
        text: `${order.side > 0 ? "buy" : "sell"} ${order.kind} ${order.quantity} at ${order.price} ${order.limitPrice} (${order.tag}) ${order.state} ${order.note} ${order.fillPrice} ${order.fillBar} ${JSON.stringify([order.stopLoss, order.target, order.moves])}`,
      })),
  ],
  [
    "fill",
    ({ host }) =>
      host.fills.map((fill) => ({
        barIndex: fill.barIndex,
        timeMs: fill.timeMs,
        line: fill.line,
        text: `${fill.source} ${fill.side} ${fill.quantity} at ${fill.price}, costs ${fill.commission} ${fill.spread} ${fill.slippage}`,
      })),
  ],
  [
    "trade",
    ({ host }) =>
      host.trades.map((trade) => ({ barIndex: trade.exitBar, timeMs: trade.exitTime, line: trade.entryLine, text: JSON.stringify(trade) })),
  ],
  [
    "equity",
    ({ equity, host }, cut) => {
      const rows: Row[] = [];
      for (let i = 0; i < cut; i++) rows.push({ barIndex: i, timeMs: host.cursor.timeMs, line: 0, text: String(equity[i]) });
      return rows;
    },
  ],
  [
    "log",
    ({ host }) =>
      host.lines.map((entry) => ({ barIndex: entry.barIndex, timeMs: entry.timeMs, line: 0, text: `${entry.level}: ${entry.text}` })),
  ],
];
