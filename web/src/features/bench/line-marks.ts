/** What a run says of each line of its source: how often it ran, and the outcome of the orders it sent. */
import type { LineEvidence, RunOrders } from "@plan-tester/contract";
import type { Trade } from "@plan-tester/core";
import { number, signedMoney } from "../../lib/format.ts";

export interface LineMark {
  readonly line: number;
  /** How often its statement ran; null for a line on which none begins. */
  readonly count: number | null;
  /** Orders sent from it and what they came to; empty where it sent none. */
  readonly text: string;
}

interface Sent {
  orders: number;
  fills: number;
  trades: number;
  net: number;
}

/** What to show of a run in its source. */
export interface LineMarks {
  readonly lines: readonly LineMark[];
  /** Statements that never ran; one inside another that never ran is left out. */
  readonly dead: LineEvidence["statements"];
}

export function lineMarks(evidence: LineEvidence, orders: RunOrders["orders"], trades: readonly Trade[]): LineMarks {
  const sent = new Map<number, Sent>();
  const of = (line: number): Sent => {
    const known = sent.get(line) ?? { orders: 0, fills: 0, trades: 0, net: 0 };
    sent.set(line, known);
    return known;
  };
  for (const order of orders) {
    const mark = of(order.line);
    mark.orders++;
    if (order.state === "filled") mark.fills++;
  }
  for (const trade of trades) {
    const mark = of(trade.entryLine);
    mark.trades++;
    mark.net += trade.net;
  }
  sent.delete(0);
  const counts = new Map<number, number>();
  evidence.statements.forEach(({ line }, k) => {
    counts.set(line, Math.max(counts.get(line) ?? 0, evidence.counts[k]!));
  });
  const dead = evidence.statements.filter((_statement, k) => evidence.counts[k] === 0);
  const lines = [...new Set([...counts.keys(), ...sent.keys()])]
    .sort((a, b) => a - b)
    .map((line) => {
      const mark = sent.get(line);
      return { line, count: counts.get(line) ?? null, text: mark ? wordsOf(mark) : "" };
    });
  return { lines, dead: dead.filter((statement) => !dead.some((other) => other !== statement && holds(other, statement))) };
}

type Statement = LineEvidence["statements"][number];

function holds(outer: Statement, inner: Statement): boolean {
  const begins = outer.line < inner.line || (outer.line === inner.line && outer.column <= inner.column);
  const ends = outer.endLine > inner.endLine || (outer.endLine === inner.endLine && outer.endColumn >= inner.endColumn);
  return begins && ends;
}

const wordsOf = ({ orders, fills, trades, net }: Sent): string =>
  [`${number(orders)} orders`, `${number(fills)} filled`, ...(trades > 0 ? [`${number(trades)} trades`, signedMoney(net)] : [])].join(
    " · ",
  );

/** A count in at most four characters. */
export function shortCount(count: number): string {
  if (count < 1000) return String(count);
  if (count < 10_000) return `${(count / 1000).toFixed(1)}k`;
  return count < 1_000_000 ? `${Math.round(count / 1000)}k` : `${(count / 1_000_000).toFixed(1)}M`;
}
