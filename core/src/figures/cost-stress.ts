/** Net profit at other costs than those that were paid (metrics: cost stress). */
import type { Trade } from "../engine/orders.ts";
import { costsOf } from "./trade-facts.ts";

export interface CostStress {
  /** Costs as a multiple of what was paid, and the net profit then. */
  readonly steps: readonly { readonly multiple: number; readonly net: number }[];
  /** The multiple at which nothing is left; null where no costs were paid or there was no profit before them. */
  readonly breakEven: number | null;
}

const MULTIPLES = [0, 0.5, 1, 1.5, 2, 2.5, 3] as const;

/** The same trades at 0 to 3 times their costs: what costs would have changed in the trades themselves is left out. */
export function costStress(trades: readonly Trade[]): CostStress {
  let [gross, costs] = [0, 0];
  for (const trade of trades) {
    gross += trade.gross;
    costs += costsOf(trade);
  }
  const breakEven = costs > 0 && gross > 0 ? gross / costs : null;
  return { steps: MULTIPLES.map((multiple) => ({ multiple, net: gross - multiple * costs })), breakEven };
}
