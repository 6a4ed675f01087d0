/** How often a watch has been in a position and out again. */
import type { Trade } from "@plan-tester/core";

/** Trades that were open at one time, on any instrument, are one round. */
export function roundsOf(trades: readonly Pick<Trade, "entryTime" | "exitTime">[]): number {
  let rounds = 0;
  let heldUntil = Number.NEGATIVE_INFINITY;
  for (const { entryTime, exitTime } of [...trades].sort((a, b) => a.entryTime - b.entryTime)) {
    if (entryTime >= heldUntil) rounds++;
    heldUntil = Math.max(heldUntil, exitTime);
  }
  return rounds;
}
