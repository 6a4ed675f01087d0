/** What of history was chosen on: sweeps and walk-forwards choose, single runs only look. */
import type { TrialContext } from "@plan-tester/contract";
import { lookCost } from "@plan-tester/core";
import { count, number, percent } from "../../lib/format.ts";

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

/** Settings that were tried with an instrument from a day on: looks at what is to be held out. */
export const looksFrom = ({ tried }: Pick<TrialContext, "tried">, symbol: string, from: string): number =>
  tried.filter((one) => one.symbol === symbol && one.periods.some(({ to }) => to >= from)).reduce((sum, { variants }) => sum + variants, 0);

const MAKERS = { run: "by hand", sweep: "in sweeps", "walk-forward": "in walk-forwards" } as const;

/** "12 by hand, 295 in sweeps"; "" where nothing was tried. */
export function triedBy({ tried }: Pick<TrialContext, "tried">): string {
  const kinds = Object.keys(MAKERS) as (keyof typeof MAKERS)[];
  return kinds
    .flatMap((kind) => {
      const variants = tried.filter((one) => one.kind === kind).reduce((sum, one) => sum + one.variants, 0);
      return variants > 0 ? [`${number(variants)} ${MAKERS[kind]}`] : [];
    })
    .join(", ");
}

/** What releasing the holdout for one more setting costs. */
export function lookWords(before: number): string {
  const looks = before + 1;
  const { luckOnce, level } = lookCost(looks);
  const first =
    before === 0 ? "Nothing was tried on it yet." : `${count(before, "setting")} ${before === 1 ? "was" : "were"} tried on it before.`;
  return before === 0
    ? `${first} The first setting that is tried on it is judged at p 5 %; each further one is another chance for luck.`
    : `${first} Of ${number(looks)} looks at nothing one comes to p 5 % in ${percent(luckOnce, 0)} of the cases: the next has to reach p ${percent(level, 1)}.`;
}
