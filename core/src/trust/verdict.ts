/**
 * Whether a search is to be believed: for when at least two of three findings say so, against when none does, open between.
 * How often each is right was measured on worlds of known truth (docs/trust-study.md).
 */

export type Verdict = "for" | "open" | "against";

export interface Findings {
  /** Of the luck test; null where it was not made. */
  readonly luck: number | null;
  /** Of the days that the choice had not seen; null where there were too few. */
  readonly notSeen: number | null;
  /** Probability of overfitting; null where it can't be told. */
  readonly overfitting: number | null;
  readonly years: number;
}

export const MOST_P = 0.05;
/** The probability of overfitting is no p-value: what counts as low depends on how long the track is. */
export const overfittingLimit = (years: number): number => (years < 2.5 ? 0.1 : 0.05);

/** Which of the findings speak for it. */
export function speakingFor({ luck, notSeen, overfitting, years }: Findings): {
  readonly [Name in "luck" | "notSeen" | "overfitting"]: boolean | null;
} {
  return {
    luck: luck === null ? null : luck <= MOST_P,
    notSeen: notSeen === null ? null : notSeen <= MOST_P,
    overfitting: overfitting === null ? null : overfitting < overfittingLimit(years),
  };
}

/** null while it depends on findings that are missing. */
export function verdictOf(findings: Findings): Verdict | null {
  const all = Object.values(speakingFor(findings));
  const yes = all.filter((one) => one === true).length;
  const missing = all.filter((one) => one === null).length;
  if (yes >= 2) return "for";
  if (missing > 0) return null;
  return yes === 0 ? "against" : "open";
}

/** How often a search with a true annual ratio was believed, by years of track: measured with sweeps of 1,040 settings. */
export const POWER_RATIOS = [0, 1, 1.5, 2, 3] as const;
const POWER: readonly (readonly [years: number, shares: readonly number[]])[] = [
  [1, [0.07, 0.25, 0.25, 0.31, 0.69]],
  [2, [0.05, 0.25, 0.38, 0.69, 1]],
  [3, [0.05, 0.62, 0.81, 0.81, 1]],
];

/** The share of searches with a true ratio that would be believed, by the nearest length that was measured. */
export function powerAt(years: number, ratio: (typeof POWER_RATIOS)[number]): number {
  const nearest = POWER.reduce((best, row) => (Math.abs(row[0] - years) < Math.abs(best[0] - years) ? row : best));
  return nearest[1][POWER_RATIOS.indexOf(ratio)]!;
}
