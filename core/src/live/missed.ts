/** What a kit's limits have counted, and what happened while the plan could not hear of it. */
import type { KitMemory } from "../language/kit-guard.ts";
import type { AccountEvent } from "./messages.ts";

/**
 * Takes an entry or a loss in. It counts as of the session that is counted: where another has begun meanwhile, the kit starts
 * counting anew by itself.
 */
export function withMissed(memory: KitMemory, event: AccountEvent): KitMemory {
  if (event.kind === "opened") return { ...memory, entries: memory.entries + 1 };
  if (event.kind !== "closed" || event.trade.net >= 0) return memory;
  return { ...memory, lost: memory.lost - event.trade.net, lossMs: event.trade.exitTime };
}
