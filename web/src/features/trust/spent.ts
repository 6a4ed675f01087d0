/** What of history was chosen on: sweeps and walk-forwards choose, single runs only look. */
import type { TrialContext } from "@plan-tester/contract";

type Used = TrialContext["stretches"][number];

export const isChoosing = ({ kind }: Pick<Used, "kind">): boolean => kind !== "run";

/** Stretches on which something was chosen and that touch a period of an instrument. */
export const choosingOn = (
  { stretches }: Pick<TrialContext, "stretches">,
  { symbol, from, to }: { readonly symbol: string; readonly from: string; readonly to: string },
): Used[] => stretches.filter((used) => isChoosing(used) && used.symbol === symbol && used.from <= to && used.to >= from);
