/** What of history was chosen on: sweeps and walk-forwards choose, single runs only look. */
import type { TrialContext } from "@plan-tester/contract";

type Used = TrialContext["stretches"][number];

export const isChoosing = ({ kind }: Pick<Used, "kind">): boolean => kind !== "run";

interface Period {
  readonly symbol: string;
  readonly from: string;
  readonly to: string;
}

/** Stretches that were used and touch a period of an instrument. */
const usedOn = ({ stretches }: Pick<TrialContext, "stretches">, { symbol, from, to }: Period): Used[] =>
  stretches.filter((used) => used.symbol === symbol && used.from <= to && used.to >= from);

/** Those on which something was chosen. */
export const choosingOn = (context: Pick<TrialContext, "stretches">, period: Period): Used[] => usedOn(context, period).filter(isChoosing);

/**
 * Distinct settings that were tried on data that overlaps a period: at least the one that is looked at. What was tried
 * inside the windows of a walk-forward does not count against its own stitched curve, which saw none of it.
 */
export function trialsOn({ tried }: Pick<TrialContext, "tried">, { symbol, from, to }: Period, walkForwardId = ""): Trials {
  const counted = tried
    .filter((one) => one.symbol === symbol && (one.walkForwardId === "" || one.walkForwardId !== walkForwardId))
    .filter(({ periods }) => periods.some((period) => period.from <= to && period.to >= from));
  return {
    distinct: Math.max(
      1,
      counted.reduce((sum, { variants }) => sum + variants, 0),
    ),
    independent: Math.max(
      1,
      counted.reduce((sum, { independent }) => sum + independent, 0),
    ),
  };
}

export interface Trials {
  readonly distinct: number;
  /** What they amount to where settings of a sweep resemble one another. */
  readonly independent: number;
}
