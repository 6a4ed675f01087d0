/** How large the entries of a run were, parts that were closed apart taken together. */
import type { Trade } from "../engine/orders.ts";

export interface EntrySizes {
  /** Units; 0 of no trades. */
  readonly least: number;
  readonly most: number;
}

export function entrySizes(trades: readonly Pick<Trade, "orderId" | "quantity">[]): EntrySizes {
  const units = new Map<number, number>();
  for (const { orderId, quantity } of trades) units.set(orderId, (units.get(orderId) ?? 0) + quantity);
  let [least, most] = [Number.POSITIVE_INFINITY, 0];
  for (const size of units.values()) {
    // Sums of tenths carry noise.
    const plain = Number(size.toPrecision(12));
    least = Math.min(least, plain);
    most = Math.max(most, plain);
  }
  return { least: units.size === 0 ? 0 : least, most };
}
