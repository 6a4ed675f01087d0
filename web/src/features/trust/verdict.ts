/** What speaks for a setting, what against it, what has not been tried, and the next honest step: in words, with the numbers. */
import { type Luck, MOST_P, type RunFigures } from "@plan-tester/core";
import { count, money, number, percent } from "../../lib/format.ts";
import type { Standing } from "../rules/rule-verdict.ts";

export interface VerdictFacts {
  readonly figures: Pick<RunFigures, "trades" | "netProfit" | "pathDependentTrades" | "maxDrawdown">;
  /** Confidence that the true Sharpe ratio is above 0: of this run alone, and with all trials counted. null where undefined. */
  readonly confidence: number | null;
  readonly sessions: number;
  /** Sessions that would be needed for 95 %; null when no number is enough. */
  readonly neededSessions: number | null;
  readonly lossProbability: number | null;
  /** Deepest fall in 5 of 100 reshuffles. */
  readonly badDrawdown: number | null;
  readonly breakEvenCosts: number | null;
  readonly withoutBest: number | null;
  readonly delayedNet: number | null;
  /** Shares of the draws by chance that do as well: entries with the plan's exits, and entries alone, after as many bars as half of the trades last. */
  readonly randomAtLeast: number | null;
  readonly entriesAtLeast: number | null;
  /** Of the same run on markets without memory; null while it was not asked. */
  readonly chance: Luck | null;
  /** What each of its rules was found to earn; null while it was not asked. */
  readonly rules: readonly Standing[] | null;
  /** Share of shaken inputs that still gained, and what is left with one more tick of slippage; null while not asked. */
  readonly jitterGained: number | null;
  readonly slippageNet: number | null;
  /** Whether sweeps have used this stretch, and whether a walk-forward was made. */
  readonly isSpent: boolean;
  readonly hasWalkForward: boolean;
  readonly isWalkForward: boolean;
}

export interface Verdict {
  readonly forIt: readonly string[];
  readonly against: readonly string[];
  readonly untested: readonly string[];
  readonly next: string;
}

const ENOUGH_TRADES = 100;
const FEW_TRADES = 30;

/** More than this of what chance does as well is evidence against. */
const MUCH_CHANCE = 0.2;

/** Whether a share of chance speaks for what was found; null where it decides nothing. */
const beatsChance = (share: number): boolean | null => (share <= MOST_P ? true : share > MUCH_CHANCE ? false : null);

export function saysChance(share: number, something: string, nothing: string): string {
  const beats = beatsChance(share);
  return beats === null ? "that decides nothing" : beats ? something : nothing;
}

export function verdictOf(facts: VerdictFacts): Verdict {
  const [forIt, against, untested]: [string[], string[], string[]] = [[], [], []];
  const weigh = (isGood: boolean | null, good: string, bad: string): void => {
    if (isGood === true) forIt.push(good);
    if (isGood === false) against.push(bad);
  };
  const { figures, sessions } = facts;
  const { trades, netProfit } = figures;
  if (trades === 0)
    return { forIt, against: ["It made no trade."], untested, next: "Find out on the chart and in the log why it does not trade." };
  weigh(
    trades >= ENOUGH_TRADES ? true : trades < FEW_TRADES ? false : null,
    `${number(trades)} trades are enough for averages to mean something.`,
    `${count(trades, "trade")} are too few: chance decides the averages.`,
  );
  weigh(netProfit > 0 ? null : false, "", "It lost money.");
  if (netProfit > 0)
    weigh(
      facts.neededSessions === null ? false : sessions >= facts.neededSessions,
      `The track is long enough for its Sharpe ratio: ${number(sessions)} sessions, ${number(facts.neededSessions)} are needed.`,
      facts.neededSessions === null
        ? "Its Sharpe ratio is not above 0: no track is long enough."
        : `The track is too short for its Sharpe ratio: ${number(sessions)} sessions, ${number(facts.neededSessions)} are needed for 95 %.`,
    );
  if (facts.lossProbability !== null)
    weigh(
      facts.lossProbability < 0.05 ? true : facts.lossProbability > 0.2 ? false : null,
      `Its trades resampled lose in ${percent(facts.lossProbability)} of the draws only.`,
      `Its trades resampled lose in ${percent(facts.lossProbability)} of the draws.`,
    );
  if (facts.badDrawdown !== null && facts.badDrawdown > 1.5 * figures.maxDrawdown)
    against.push(`The drawdown was lucky: in another order the same trades fall by ${money(facts.badDrawdown)} in one case of twenty.`);
  if (netProfit > 0 && facts.withoutBest !== null)
    weigh(facts.withoutBest > 0, "It does not depend on its best trade.", "Without its best trade nothing is left.");
  if (facts.breakEvenCosts !== null && netProfit > 0)
    weigh(
      facts.breakEvenCosts >= 2,
      `It would bear ${number(facts.breakEvenCosts, 1)} times the costs.`,
      `At ${number(facts.breakEvenCosts, 1)} times the costs nothing is left.`,
    );
  if (netProfit > 0 && facts.delayedNet !== null)
    weigh(facts.delayedNet > 0, "Entered a bar late it still gains.", "Entered a bar late it loses: it depends on being first.");
  if (facts.randomAtLeast !== null) {
    const found = `Entries by chance with the same exits do as well in ${percent(facts.randomAtLeast)} of the draws`;
    weigh(beatsChance(facts.randomAtLeast), `${found} only.`, `${found}: the entries add little.`);
  }
  if (facts.entriesAtLeast !== null) {
    const found = `After entries by chance prices stand as far ahead in ${percent(facts.entriesAtLeast)} of the draws`;
    weigh(beatsChance(facts.entriesAtLeast), `${found} only, whatever the exits do.`, `${found}: the entries do not tell where prices go.`);
  }
  if (facts.chance) {
    const { markets, asGood, p } = facts.chance;
    const found = `On ${count(markets, "market")} without memory the same run came to as good a ratio in ${asGood === 0 ? "none" : number(asGood)} (p ${number(p, 2)})`;
    weigh(beatsChance(p), `${found}.`, `${found}: a market of which the past says nothing shows as much.`);
  }
  if (facts.rules === null) {
    if (!facts.isWalkForward) untested.push("What each rule earns has not been asked.");
  } else if (facts.rules.length > 0) {
    const idle = facts.rules.filter((standing) => standing === "nothing" || standing === "costs").length;
    const earning = facts.rules.filter((standing) => standing === "earns").length;
    weigh(
      idle > 0 ? false : earning === facts.rules.length ? true : null,
      `Each of its ${count(facts.rules.length, "rule")} earns more than placebos do.`,
      `${number(idle)} of its ${count(facts.rules.length, "rule")} ${idle === 1 ? "earns" : "earn"} nothing that stands out from chance.`,
    );
  }
  if (figures.pathDependentTrades > trades / 10)
    against.push(`${number(figures.pathDependentTrades)} of ${number(trades)} trades depend on the path inside a bar.`);
  if (facts.jitterGained === null) untested.push("Its inputs have not been perturbed.");
  else
    weigh(
      facts.jitterGained >= 0.8 ? true : facts.jitterGained < 0.6 ? false : null,
      `With its inputs perturbed it still gains in ${percent(facts.jitterGained, 0)} of the cases.`,
      `With its inputs perturbed it gains in ${percent(facts.jitterGained, 0)} of the cases only: a lonely peak.`,
    );
  if (facts.slippageNet === null) untested.push("Worse fills have not been tried.");
  else if (netProfit > 0)
    weigh(
      facts.slippageNet > 0,
      "With one more tick of slippage per fill it still gains.",
      "With one more tick of slippage per fill it loses.",
    );
  if (facts.isWalkForward) forIt.push("Each part of this curve was made with inputs chosen before it.");
  else if (facts.isSpent) against.push("This period has been used for a sweep: its figures are those of what was chosen on it.");
  if (!facts.chance && !facts.isSpent && !facts.isWalkForward) untested.push("It has not been run on markets without memory.");
  if (!facts.hasWalkForward && !facts.isWalkForward) untested.push("No walk-forward has been made.");
  return { forIt, against, untested, next: nextOf(facts, against) };
}

function nextOf(facts: VerdictFacts, against: readonly string[]): string {
  const { figures } = facts;
  if (figures.netProfit <= 0) return "Change the idea rather than its numbers; sweeping a losing plan finds the luckiest loser.";
  if (figures.trades < FEW_TRADES) return "Test a longer period, or the same rules on more instruments, before anything else.";
  if (facts.jitterGained === null || facts.slippageNet === null)
    return "Perturb it: change its inputs a little and worsen its fills, with the button below.";
  if (!facts.chance && !facts.isSpent && !facts.isWalkForward)
    return "Run it on markets without memory, with the button below: would chance have found it?";
  if (!facts.hasWalkForward && !facts.isWalkForward)
    return "Make a walk-forward from the sweep dialog, and look at its stitched curve alone.";
  if (facts.isSpent) return "Run it, unchanged, on a period that no sweep has seen.";
  return against.length === 0
    ? "Watch it on the practice venue, and compare what it does with this."
    : "Work on the evidence against it one point at a time, and see under Journal what each change did.";
}
