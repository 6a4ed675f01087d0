/** Where a step can jump to: bars on which something of a kind happens. */
import type { RunEvidence, RunOrders } from "@plan-tester/contract";
import { isTradeIn } from "@plan-tester/core";
import type { NamedStrip } from "../../charts/strip-layers.ts";

export const JUMPS = ["bar", "order", "fill", "trade", "stop-out", "log line"] as const;
/** One of `JUMPS`, or a change of the condition of a name: "condition up". */
export type Jump = string;

const CONDITION = "condition ";
export const conditionJump = (label: string): Jump => CONDITION + label;

const ascending = (bars: Iterable<number>): Int32Array => Int32Array.from(new Set(bars)).sort();

/** Bars of the run's first instrument, ascending; null for every bar. */
export function jumpBars(jump: Jump, run: RunEvidence, orders: RunOrders | null, strips: readonly NamedStrip[]): Int32Array | null {
  const own = run.trades.filter((trade) => isTradeIn(trade, run.settings));
  if (jump.startsWith(CONDITION)) return changesOf(strips.find(({ label }) => label === jump.slice(CONDITION.length)));
  switch (jump) {
    case "order":
      return ascending((orders?.orders ?? []).map(({ submittedBar }) => submittedBar));
    case "fill":
      return ascending((orders?.fills ?? []).map(({ barIndex }) => barIndex));
    case "trade":
      return ascending(own.flatMap(({ entryBar, exitBar }) => [entryBar, exitBar]));
    case "stop-out":
      return ascending(own.filter(({ reason }) => reason === "stop").map(({ exitBar }) => exitBar));
    case "log line":
      return ascending(run.log.map(({ barIndex }) => Math.max(0, barIndex)));
    default:
      return null;
  }
}

function changesOf(strip: NamedStrip | undefined): Int32Array {
  const bars: number[] = [];
  if (strip) for (let i = 1; i < strip.values.length; i++) if (strip.values[i] !== strip.values[i - 1]) bars.push(i);
  return Int32Array.from(bars);
}

/** The next bar in a direction, or null where there is none. */
export function jumpFrom(bars: Int32Array | null, from: number, direction: 1 | -1, length: number): number | null {
  if (!bars) {
    const next = from + direction;
    return next >= 0 && next < length ? next : null;
  }
  if (direction > 0) return bars.find((bar) => bar > from) ?? null;
  return bars.findLast((bar) => bar < from) ?? null;
}
