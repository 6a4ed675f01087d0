/** Orders that a plan meant to send and that never worked: refused, cut to nothing, or not sent at all. */
import type { LogLine, Order } from "../engine/orders.ts";

export interface Refusals {
  readonly count: number;
  /** The commonest reason, as the order or the log has it; "" where there is none. */
  readonly reason: string;
  /** How many had it. */
  readonly ofReason: number;
}

const NOT_SENT = / not sent: /;
/** Numbers differ from order to order; the reason is the same. */
const plainOf = (text: string): string => text.replace(/-?\d[\d.,]*/g, "#");

export function refusals(orders: readonly Order[], log: readonly LogLine[]): Refusals {
  const reasons = new Map<string, { text: string; count: number }>();
  let count = 0;
  const add = (text: string): void => {
    count++;
    const key = plainOf(text);
    const known = reasons.get(key);
    if (known) known.count++;
    else reasons.set(key, { text, count: 1 });
  };
  for (const { state, note } of orders) if (state === "refused") add(note);
  for (const { text } of log) if (NOT_SENT.test(text)) add(text.split(NOT_SENT)[1]!);
  let most = { text: "", count: 0 };
  for (const reason of reasons.values()) if (reason.count > most.count) most = reason;
  return { count, reason: most.text, ofReason: most.count };
}
