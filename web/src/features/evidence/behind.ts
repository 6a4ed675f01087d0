/** What stands behind a figure: the trades, or the days, that make it. */
import type { RunFigures, Trade } from "@plan-tester/core";
import type { EvidenceView } from "../run-view/view.ts";

const winners = (trades: readonly Trade[]): Trade[] => trades.filter(({ net }) => net > 0);
const losers = (trades: readonly Trade[]): Trade[] => trades.filter(({ net }) => net < 0);
const extreme = (trades: readonly Trade[], sign: 1 | -1): Trade[] => {
  const best = trades.reduce<Trade | null>((most, trade) => (most && most.net * sign >= trade.net * sign ? most : trade), null);
  return best && best.net * sign > 0 ? [best] : [];
};

/** The first of the longest runs of trades of one sign; an even trade ends it. */
function longestStreak(trades: readonly Trade[], sign: 1 | -1): Trade[] {
  let longest: Trade[] = [];
  let current: Trade[] = [];
  for (const trade of trades) {
    current = trade.net * sign > 0 ? [...current, trade] : [];
    if (current.length > longest.length) longest = current;
  }
  return longest;
}

/** The losing trades in a row that lost most. */
function worstStreak(trades: readonly Trade[]): Trade[] {
  let worst: Trade[] = [];
  let current: Trade[] = [];
  const netOf = (streak: readonly Trade[]): number => streak.reduce((sum, { net }) => sum + net, 0);
  for (const trade of trades) {
    current = trade.net < 0 ? [...current, trade] : [];
    if (netOf(current) < netOf(worst)) worst = current;
  }
  return worst;
}

const withRisk = (trades: readonly Trade[]): Trade[] => trades.filter(({ risk }) => risk !== null && risk > 0);
const all = (trades: readonly Trade[]): readonly Trade[] => trades;

const TRADES: Partial<Record<keyof RunFigures, (trades: readonly Trade[]) => readonly Trade[]>> = {
  netProfit: all,
  trades: all,
  averageTrade: all,
  averageTradeTicks: all,
  costs: all,
  costPerTradeTicks: all,
  costShare: all,
  averageBarsHeld: all,
  averageMae: all,
  averageMfe: all,
  edgeRatio: all,
  giveBack: all,
  profitFactor: all,
  payoffRatio: all,
  sqn: all,
  kelly: all,
  averageTradeR: (trades) => trades.filter(({ r }) => r !== null),
  winRate: winners,
  grossProfit: winners,
  averageWin: winners,
  grossLoss: losers,
  averageLoss: losers,
  largestWin: (trades) => extreme(trades, 1),
  largestLoss: (trades) => extreme(trades, -1),
  wins: winners,
  losses: losers,
  even: (trades) => trades.filter(({ net }) => net === 0),
  averageBarsWins: winners,
  averageBarsLosses: losers,
  averageMaeR: withRisk,
  averageMfeR: withRisk,
  worstLosingStreak: worstStreak,
  longestWinningStreak: (trades) => longestStreak(trades, 1),
  longestLosingStreak: (trades) => longestStreak(trades, -1),
  pathDependentTrades: (trades) => trades.filter(({ pathDependent }) => pathDependent),
  pathAtStake: (trades) => trades.filter(({ pathDependent }) => pathDependent),
  openAtEnd: (trades) => trades.filter(({ reason }) => reason === "end of data"),
};

/** The trades that a figure is made of; null for a figure of days or bars. */
export function tradesBehind(name: keyof RunFigures, trades: readonly Trade[]): readonly Trade[] | null {
  return TRADES[name]?.(trades) ?? null;
}

const OF_DAYS: ReadonlySet<keyof RunFigures> = new Set([
  "sharpe",
  "sortino",
  "volatility",
  "valueAtRisk",
  "expectedShortfall",
  "monthsWon",
  "beta",
  "rSquared",
  "alpha",
  "correlation",
  "ulcerIndex",
  "martinRatio",
]);

export interface Day {
  readonly date: string;
  readonly net: number;
  readonly share: number;
}

const SHOWN_DAYS = 5;

/** The worst and the best days, for figures that are made of days; null for others. */
export function daysBehind(
  name: keyof RunFigures,
  { daily }: Pick<EvidenceView, "daily">,
): { worst: Day[]; best: Day[]; count: number } | null {
  if (!OF_DAYS.has(name)) return null;
  const equity = Array.from(daily.equity);
  const days = daily.dates
    .map((date, d) => ({ date, net: equity[d + 1]! - equity[d]!, share: equity[d + 1]! / equity[d]! - 1 }))
    .sort((a, b) => a.share - b.share);
  return { worst: days.slice(0, SHOWN_DAYS), best: days.slice(-SHOWN_DAYS).reverse(), count: days.length };
}
