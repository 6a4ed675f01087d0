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

/** Settings that were tried on data of a period: at least the one that is looked at. */
export const trialsOn = (context: Pick<TrialContext, "stretches">, period: Period): number =>
  Math.max(
    1,
    usedOn(context, period).reduce((sum, { variants }) => sum + variants, 0),
  );
