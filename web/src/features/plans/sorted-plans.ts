/** Which plans a search finds, and in which order they stand. */
import type { PlanSummary } from "@plan-tester/contract";

export type SortBy = "title" | "market" | "updatedMs" | "netProfit" | "maxDrawdown" | "trades" | "sharpe";

export interface PlanSort {
  readonly by: SortBy;
  readonly down: boolean;
}

export const SORTS: readonly { readonly by: SortBy; readonly label: string; readonly isNumber: boolean }[] = [
  { by: "title", label: "Plan", isNumber: false },
  { by: "market", label: "Market", isNumber: false },
  { by: "updatedMs", label: "Changed", isNumber: true },
  { by: "netProfit", label: "Net of the last kept run", isNumber: true },
  { by: "maxDrawdown", label: "Drawdown", isNumber: true },
  { by: "trades", label: "Trades", isNumber: true },
  { by: "sharpe", label: "Sharpe", isNumber: true },
];

const words = new Intl.Collator();

const symbolOf = ({ symbol, lastRun }: PlanSummary): string => lastRun?.settings.symbol ?? symbol;

function sortValue(plan: PlanSummary, by: SortBy): string | number | null {
  if (by === "title") return plan.title;
  if (by === "market") return symbolOf(plan);
  if (by === "updatedMs") return plan.updatedMs;
  return plan.lastRun?.[by] ?? null;
}

/** Every word must be in the name, a market or the note. What has no value in the column stands last, whichever way. */
export function sortedPlans(plans: readonly PlanSummary[], search: string, { by, down }: PlanSort): PlanSummary[] {
  const wanted = search.toLowerCase().split(/\s+/).filter(Boolean);
  const found = plans.filter((plan) => {
    const text = `${plan.title} ${plan.symbol} ${symbolOf(plan)} ${plan.note}`.toLowerCase();
    return wanted.every((word) => text.includes(word));
  });
  return found.sort((a, b) => {
    const [first, second] = [sortValue(a, by), sortValue(b, by)];
    if (first === null || second === null) return Number(first === null) - Number(second === null);
    const order = typeof first === "string" ? words.compare(first, String(second)) : first - Number(second);
    return down ? -order : order;
  });
}
