/** "Why no trade here?": what of a bar's conditions, guards, limits and waiting orders kept a trade from being made. */
import type { RunSteps } from "@plan-tester/contract";
import { STRIP, type TraceState } from "@plan-tester/core";
import { number, units } from "../../lib/format.ts";

export interface Reason {
  readonly text: string;
  /** Line of the plan's source; 0 for none. */
  readonly line: number;
}

export interface BarFacts {
  readonly barIndex: number;
  /** First bar on which handlers may run. */
  readonly firstBar: number;
  readonly high: number;
  readonly low: number;
  readonly steps: RunSteps;
  readonly strips: readonly {
    readonly label: string;
    readonly line: number;
    readonly kind: "holds" | "asked";
    readonly values: Uint8Array;
  }[];
}

const sideWord = (side: 1 | -1): string => (side > 0 ? "buy" : "sell");

export function whyNoTrade({ barIndex, firstBar, high, low, steps, strips }: BarFacts): Reason[] {
  const reasons: Reason[] = [];
  const add = (text: string, line = 0): void => void reasons.push({ text, line });
  if (barIndex < firstBar) {
    add(`Studies have no full value yet: handlers begin on bar ${number(firstBar + 1)}.`);
    return reasons;
  }
  const here = steps.events.filter((event) => event.barIndex === barIndex);
  const before = stateBefore(steps, barIndex);
  for (const event of here) {
    if (event.kind === "accepted") add(`There was an order here: ${event.text}.`, event.line);
    if (event.kind === "opened") add(`There was a fill here: ${event.text}.`, event.line);
    if (event.kind === "ended") add(`Refused or ended: ${event.text}.`, event.line);
    if (event.kind === "log" && event.text.includes("not sent")) add(event.text.replace(/^\w+: /, ""));
  }
  for (const lot of before?.lots ?? [])
    add(`A position was open: ${lot.side > 0 ? "long" : "short"} ${units(lot.units)} from ${lot.entryPrice}.`);
  for (const order of before?.orders ?? []) {
    if (order.intent === "exit") continue;
    const reached = order.price !== null && order.price <= high && order.price >= low;
    add(
      `An order was waiting: ${sideWord(order.side)} ${order.kind}${order.price === null ? "" : ` at ${order.price}`}${reached || order.price === null ? "" : ", which price did not reach"}.`,
      order.line,
    );
  }
  // What is held now is written last, so that what forbids stands first.
  const failed = new Map<string, Reason>();
  for (const event of here)
    if (event.kind === "test" && event.value === 0) {
      const { text, line } = steps.tests[event.place]!;
      failed.set(`${line} ${text}`, { text: `${text} was false.`, line });
    }
  reasons.push(...failed.values());
  for (const { label, line, kind, values } of strips) {
    if (values[barIndex] === STRIP.no && !(kind === "asked" && failed.has(`${line} ${label}`))) add(`${label} did not hold.`, line);
    if (values[barIndex] === STRIP.yes) add(`${label} held.`, line);
  }
  if (!here.some(({ kind }) => kind === "test" || kind === "value" || kind === "accepted"))
    add("No handler of the plan did anything on this bar: what it waits for did not happen.");
  return reasons;
}

/** The account as the bar began: after the close of the bar before it, where that is known. */
function stateBefore({ from, closeStates, states, events }: RunSteps, barIndex: number): TraceState | null {
  const at = barIndex - from;
  if (at > 0) return states[closeStates[at - 1]!] ?? null;
  const first = events.find((event) => event.barIndex >= barIndex);
  return first ? (states[first.state] ?? null) : (states[closeStates[0]!] ?? null);
}
