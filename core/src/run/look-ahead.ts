/**
 * Rule R7.1 put to the test: up to any moment a run must have done exactly what it does when everything after that moment
 * is another (`altered-future.ts`). Both are held still at the same moment and compared, orders and fills, trades, equity
 * and log. A moment shows only what looks past it: so the moments right after orders were sent are tried first of all.
 */
import { firstAtOrAfter } from "../engine/ascending.ts";
import type { Order } from "../engine/orders.ts";
import type { DeclaredPlan } from "../language/vocabulary.ts";
import { Random } from "../random.ts";
import { withAlteredFuture } from "./altered-future.ts";
import { Backtest, type BacktestOptions, periodOf } from "./backtest.ts";

/** Where the two runs first part. */
export interface LookAheadDifference {
  /** Bars of the first instrument that were over when the two were compared: later ones differ. */
  readonly bars: number;
  readonly what: "order" | "fill" | "trade" | "equity" | "log" | "error";
  readonly barIndex: number;
  readonly timeMs: number;
  /** Line of the plan's source, 0 where unknown. */
  readonly line: number;
  /** What the run did there, and what it did with another future; empty where one did nothing. */
  readonly whole: string;
  readonly other: string;
}

export interface LookAheadReport {
  /** Where the two were compared. */
  readonly cuts: readonly number[];
  /** How many places were wanted; more than were compared where it was stopped, or where a difference was found. */
  readonly wanted: number;
  readonly difference: LookAheadDifference | null;
}

export interface LookAheadOptions extends Omit<BacktestOptions, "plan" | "freshPlan" | "equity" | "isLean"> {
  /** A fresh instance for each run. */
  readonly makePlan: () => DeclaredPlan;
  /** Numbers of bars after which to compare, ascending. */
  readonly cuts: readonly number[];
  /** Called every so many bars of each run. */
  readonly onStep?: () => void;
}

/** Bars between two calls of `onStep`. */
const STEP_BARS = 256;

/** The least number of comparisons, where there are so many bars. */
export const MIN_CUTS = 64;

/**
 * Where to compare: after bars on which orders were sent, spread over the run, and at others drawn by the seed.
 * @param most how many there is time for, at least `MIN_CUTS`.
 */
export function cutsFor(time: Float64Array, orders: readonly Pick<Order, "submittedTime">[], most: number, seed: number): number[] {
  const bars = time.length;
  if (bars - 1 <= most) return Array.from({ length: Math.max(0, bars - 1) }, (_none, i) => i + 1);
  const sent = [...new Set(orders.map(({ submittedTime }) => firstAtOrAfter(time, submittedTime, bars)))].filter(
    (cut) => cut > 0 && cut < bars,
  );
  sent.sort((a, b) => a - b);
  // A quarter is left for other bars.
  const room = Math.floor(most * 0.75);
  const chosen = sent.length <= room ? sent : Array.from({ length: room }, (_none, k) => sent[Math.floor((k * sent.length) / room)]!);
  const cuts = new Set(chosen);
  const random = new Random(seed);
  while (cuts.size < most) cuts.add(1 + Math.floor(random.next() * (bars - 1)));
  return [...cuts].sort((a, b) => a - b);
}

export function checkLookAhead(options: LookAheadOptions): LookAheadReport {
  const comparisons = lookAheadComparisons(options);
  for (;;) {
    const { done, value } = comparisons.next();
    if (done) return value;
  }
}

/** The same one comparison at a time: yields how many are made. Whoever stops asking has compared so many. */
export function* lookAheadComparisons({ makePlan, cuts, onStep, ...options }: LookAheadOptions): Generator<number, LookAheadReport> {
  const { time } = periodOf(options.feeds[0]!);
  const whole = new Backtest({ ...options, plan: makePlan(), freshPlan: makePlan });
  const wanted = cuts.length;
  for (const [i, cut] of cuts.entries()) {
    const makeOther = (): Backtest =>
      new Backtest({
        ...options,
        plan: makePlan(),
        freshPlan: makePlan,
        feeds: options.feeds.map((feed) => withAlteredFuture(feed, time[cut]!)),
      });
    const difference = compareAt(whole, makeOther, cut, onStep);
    if (difference) return { cuts: cuts.slice(0, i + 1), wanted, difference };
    yield i + 1;
  }
  return { cuts, wanted, difference: null };
}

/** Runs up to bar `until` of the first instrument, those ahead of the period counted. */
export function advanceInSteps({ simulation }: Backtest, until: number, onStep: () => void = () => undefined): void {
  while (simulation.done < until && !simulation.isOver) {
    onStep();
    simulation.run(Math.min(until, simulation.done + STEP_BARS));
  }
}

function compareAt(whole: Backtest, makeOther: () => Backtest, cut: number, onStep?: () => void): LookAheadDifference | null {
  const errors = ["", ""];
  const attempt = (which: 0 | 1, run: () => void): void => {
    try {
      run();
    } catch (error) {
      errors[which] = error instanceof Error ? error.message : String(error);
    }
  };
  let other: Backtest | null = null;
  const lead = whole.lead;
  attempt(0, () => advanceInSteps(whole, lead + cut, onStep));
  attempt(1, () => {
    other = makeOther();
    advanceInSteps(other, lead + cut, onStep);
  });
  if (errors[0] !== errors[1])
    return { bars: cut, what: "error", barIndex: cut - 1, timeMs: whole.host.cursor.timeMs, line: 0, whole: errors[0]!, other: errors[1]! };
  return other ? firstDifference(whole, other, cut) : null;
}

type Row = Omit<LookAheadDifference, "bars" | "what" | "whole" | "other"> & { readonly text: string };

/** The first bar before the cut at whose close the two are not worth the same; null where there is none. */
function whereEquityParts(a: Float64Array, b: Float64Array, cut: number): number | null {
  for (let i = 0; i < cut; i++) if (a[i] !== b[i] && !(Number.isNaN(a[i]) && Number.isNaN(b[i]))) return i;
  return null;
}

function firstDifference(whole: Backtest, other: Backtest, cut: number): LookAheadDifference | null {
  const parted = whereEquityParts(whole.equity, other.equity, cut);
  for (const [what, rowsOf] of ROWS) {
    const [a, b] = [rowsOf(whole, parted), rowsOf(other, parted)];
    for (let i = 0; i < Math.max(a.length, b.length); i++) {
      const [x, y] = [a[i], b[i]];
      if (x?.text === y?.text) continue;
      const { barIndex, timeMs, line } = (x ?? y)!;
      return { bars: cut, what, barIndex, timeMs, line, whole: x?.text ?? "", other: y?.text ?? "" };
    }
  }
  return null;
}

/** An order in words; numbers that it doesn't have are left out. */
function orderText(order: Order): string {
  const { side, kind, quantity, price, limitPrice, tag, state, note, fillPrice, fillBar, stopLoss, target, moves } = order;
  const what = `${side > 0 ? "buy" : "sell"} ${Number.isFinite(quantity) ? quantity : "all"} ${kind}`;
  const at = Number.isNaN(price) ? "" : ` at ${price}${Number.isNaN(limitPrice) ? "" : `, limit ${limitPrice}`}`;
  const exits = [stopLoss, target, moves].some((exit) => exit !== null) ? ` with exits ${JSON.stringify({ stopLoss, target, moves })}` : "";
  const became = Number.isNaN(fillPrice) ? state : `${state} at ${fillPrice} on bar ${fillBar}`;
  return `${what}${at}${tag ? ` "${tag}"` : ""}: ${became}${note ? ` (${note})` : ""}${exits}`;
}

/**
 * What is compared, the plainest first. An order's text is that of its state after the last bar of both; of equity there is
 * the one value at which the two part.
 */
const ROWS: readonly (readonly ["order" | "fill" | "trade" | "equity" | "log", (run: Backtest, parted: number | null) => Row[]])[] = [
  [
    "order",
    ({ host, lead }) =>
      host.orders.map((order) => ({
        barIndex: order.submittedBar - lead,
        timeMs: order.submittedTime,
        line: order.line,
        text: orderText(order),
      })),
  ],
  [
    "fill",
    ({ host, lead }) =>
      host.fills.map((fill) => ({
        barIndex: fill.barIndex - lead,
        timeMs: fill.timeMs,
        line: fill.line,
        text: `${fill.source} ${fill.side} ${fill.quantity} at ${fill.price}, costs ${fill.commission} ${fill.spread} ${fill.slippage}`,
      })),
  ],
  [
    "trade",
    ({ host, lead }) =>
      host.trades.map((trade) => ({
        barIndex: trade.exitBar - lead,
        timeMs: trade.exitTime,
        line: trade.entryLine,
        text: JSON.stringify(trade),
      })),
  ],
  [
    "equity",
    ({ equity, closeTime }, parted) =>
      parted === null ? [] : [{ barIndex: parted, timeMs: closeTime[parted]!, line: 0, text: String(equity[parted]) }],
  ],
  [
    "log",
    ({ host, lead }) =>
      host.lines.map((entry) => ({
        barIndex: entry.barIndex - lead,
        timeMs: entry.timeMs,
        line: 0,
        text: `${entry.level}: ${entry.text}`,
      })),
  ],
];
