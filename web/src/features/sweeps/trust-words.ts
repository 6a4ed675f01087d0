/** The verdict on a sweep in words, the same on its page and in its report. */
import type { LuckTest } from "@plan-tester/contract";
import { type Findings, type Luck, luckOf, overfittingLimit, powerAt, speakingFor, type Verdict, verdictOf } from "@plan-tester/core";
import { count, number, percent } from "../../lib/format.ts";
import type { SweepDoubt } from "./overfit-worker.ts";

/** Markets that a luck test needs before it counts. */
export const LEAST_MARKETS = 19;

export const VERDICTS: Readonly<Record<Verdict, readonly [word: string, meaning: string]>> = {
  for: ["For", "At least two of three findings speak for the best setting. It is worth a look on days that nothing was chosen by."],
  open: ["Open", "One of three findings speaks for the best setting: that is not enough to believe it, nor to drop it."],
  against: ["Against", "None of three findings speaks for the best setting. What it shows is what a search finds by luck."],
};
const UNDECIDED = ["Not decided", "It depends on the luck test, which has not been made."] as const;

/** What was found, as a sentence. */
export function luckWords({ markets, asGood, luck, expected }: Luck, best: number): string {
  const of = `In ${count(markets, "market")} with this one’s moves but no memory, the same search found as good a ratio in ${asGood === 0 ? "none" : asGood}.`;
  const found = `Luck alone finds about ${number(luck, 1)}; `;
  return expected > 0
    ? `${of} ${found}expect about ${number(best, 1)} − ${number(luck, 1)} = ${number(expected, 1)}.`
    : `${of} ${found}the best of the sweep, ${number(best, 1)}, is no more than that.`;
}

/** What a track of that length can tell at all. */
export function powerWords(verdict: Verdict | null, years: number): string {
  const share = powerAt(years, 1);
  const track = `With ${number(years, 1)} years a true annual ratio of 1 is believed in ${Math.round(100 * share)} of 100 searches, one of 2 in ${Math.round(100 * powerAt(years, 2))}.`;
  if (verdict === "for") return `${track} Luck is believed in about ${Math.round(100 * powerAt(years, 0))} of 100.`;
  return share < 0.5 ? `${track} So this says little against a small edge: another year of days would tell more.` : track;
}

/** The exact p, and the smooth one beside it where markets are few. */
const luckP = ({ p, smooth }: Luck): string => `p ${number(p, 2)}${smooth === null ? "" : ` (smooth ${number(smooth, 3)})`}`;

export interface FindingWords {
  readonly name: "luck" | "notSeen" | "overfitting";
  readonly title: string;
  /** null where it is not known yet. */
  readonly speaks: boolean | null;
  readonly figure: string;
  readonly text: string;
}

export interface TrustWords {
  readonly verdict: Verdict | null;
  readonly head: string;
  readonly text: string;
  readonly findings: readonly FindingWords[];
  readonly luck: Luck | null;
  readonly second: readonly (readonly [label: string, value: string])[];
}

export const CANT_SHOW =
  "What these can’t show: edges that fade, settings tried outside this sweep, and whether it pays. The first tests memory, the second money: look at both. How often each is wrong was measured on worlds of known truth, with sweeps of 1,040 settings.";

export function trustWords(doubt: SweepDoubt, test: LuckTest | null, settings: number): TrustWords {
  const { probability, notSeen, ability, years, independent, deflated } = doubt;
  const luck = test && luckOf(test.best, test.ratios);
  // One that is running, or was left after few markets, does not decide yet.
  const counts = luck !== null && test?.status !== "running" && luck.markets >= LEAST_MARKETS;
  const given: Findings = { luck: counts ? luck.p : null, notSeen: notSeen?.p ?? null, overfitting: probability, years };
  const verdict = verdictOf(given);
  const speaks = speakingFor(given);
  const [head, meaning] = verdict ? VERDICTS[verdict] : UNDECIDED;
  const findings: FindingWords[] = [
    {
      ...{ name: "luck", title: "Luck test", speaks: speaks.luck, figure: luck ? luckP(luck) : "" },
      text: luck && test ? luckWords(luck, test.best) : "",
    },
    {
      ...{ name: "notSeen", title: "Days not seen", speaks: speaks.notSeen, figure: notSeen ? `p ${number(notSeen.p, 3)}` : "" },
      text: notSeen
        ? `On days that the choice had not seen, it made ${percent(notSeen.aYear)} a year, a ratio of ${number(notSeen.ratio, 2)}. Of twelve blocks of days two are left out in each of 66 ways; ${number(notSeen.chosen)} of the ${number(settings)} settings were chosen so.`
        : "There are too few days: 60 are needed.",
    },
    {
      ...{ name: "overfitting", title: "Probability of overfitting", speaks: speaks.overfitting, figure: percent(probability, 0) },
      text: `Where half of the days chose, the other half put its choice at or below the middle in ${percent(probability, 0)} of the ways. It speaks for the search below ${percent(overfittingLimit(years), 0)}. This is no probability of luck.`,
    },
  ];
  const second = [
    ["Superior predictive ability, all settings counted (Hansen 2005)", ability ? `p ${number(ability.p, 3)}` : "–"],
    ["Settings that pass on their own at 95 % (Romano & Wolf 2005)", ability ? number(ability.passing.length) : "–"],
    ["Confidence with all trials counted, deflated (rough)", percent(deflated)],
    [`Independent settings that the ${number(settings)} amount to`, number(independent, 1)],
  ] as const;
  return { verdict, head, text: `${meaning} ${powerWords(verdict, years)}`, findings, luck, second };
}

export const speaksWord = (speaks: boolean | null): string =>
  speaks === null ? "not known yet" : speaks ? "speaks for it" : "does not speak for it";
