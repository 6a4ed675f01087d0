/** One definition a figure: its label, how it is written, what it means and where it comes from. */
import type { RunFigures } from "@plan-tester/core";
import { duration, money, number, percent, signedMoney } from "../../lib/format.ts";

export interface FigureDefinition {
  readonly key: keyof RunFigures;
  readonly label: string;
  readonly text: (value: number | null) => string;
  readonly definition: string;
  readonly source?: string;
}

const two = (value: number | null): string => number(value, 2);
const whole = (value: number | null): string => number(value);
const times = (value: number | null): string => (value === null ? number(null) : `${number(value, 2)} times`);
const share = (value: number | null): string => percent(value);
/** Where costs exceed what there was before them, a share says nothing. */
const partOfResult = (value: number | null): string => (value !== null && (value < 0 || value > 1) ? "more than all" : share(value));
const days = (value: number | null): string =>
  value === 0 ? "never" : value === null ? number(null) : value < 2 ? duration(value * 86_400_000) : `${number(value)} days`;
const figure = (
  key: keyof RunFigures,
  label: string,
  text: FigureDefinition["text"],
  definition: string,
  source?: string,
): FigureDefinition => ({ key, label, text, definition, ...(source ? { source } : {}) });

export const FIGURES: readonly FigureDefinition[] = [
  figure("netProfit", "Net profit", signedMoney, "Sum of the net results of all trades, after every cost."),
  figure("totalReturn", "Total return", share, "Equity at the end over starting cash, minus 1."),
  figure("cagr", "Annual return", share, "(end / start)^(365.25 / calendar days) - 1."),
  figure("averageTrade", "Average trade", signedMoney, "Mean net result of a trade: the expectancy."),
  figure(
    "averageTradeTicks",
    "Average trade, ticks",
    two,
    "Mean net result in ticks for one unit, of each trade's own instrument. Compare with the cost of a trade.",
  ),
  figure("averageTradeR", "Average trade, R", two, "Mean net result over initial risk, for trades whose stop was known."),
  figure(
    "costPerTradeTicks",
    "Cost per trade, ticks",
    two,
    "Mean of commission, spread, slippage and financing of a trade, in ticks for one unit.",
  ),
  figure("grossProfit", "Gross profit", signedMoney, "Sum of the net results of winning trades."),
  figure("grossLoss", "Gross loss", signedMoney, "Sum of the net results of losing trades."),
  figure("averageWin", "Average win", signedMoney, "Mean net of winning trades."),
  figure("averageLoss", "Average loss", signedMoney, "Mean net of losing trades."),
  figure("largestWin", "Largest win", signedMoney, "Best net result of one trade."),
  figure("largestLoss", "Largest loss", signedMoney, "Worst net result of one trade."),
  figure("maxDrawdown", "Deepest drawdown", money, "Largest fall of equity from its peak so far, at bar closes, in money."),
  figure(
    "maxDrawdownShare",
    "Deepest drawdown, share",
    share,
    "Largest fall of equity as a share of its peak so far. May be another fall than the deepest in money.",
  ),
  figure("closedTradeDrawdown", "Closed-trade drawdown", money, "The same on the balance after each closed trade."),
  figure("longestDrawdownDays", "Longest under water", days, "Longest time from a peak of equity to its recovery, or to the end."),
  figure("returnToDrawdown", "Net over drawdown", two, "Net profit over the deepest drawdown in money."),
  figure("calmar", "Calmar", two, "Annual return over the deepest drawdown share."),
  figure("ulcerIndex", "Ulcer index", share, "Root mean square of daily drawdown shares.", "Martin & McCann 1989"),
  figure("martinRatio", "Martin ratio", two, "Annual return over the ulcer index.", "Martin & McCann 1989"),
  figure("volatility", "Annual volatility", share, "Sample standard deviation of daily returns times the root of sessions a year."),
  figure("valueAtRisk", "1-day value at risk", share, "The 5 % quantile of daily returns."),
  figure("expectedShortfall", "Expected shortfall", share, "Mean of daily returns at or below the value at risk."),
  figure(
    "worstLosingStreak",
    "Worst losing streak",
    money,
    "Net of the losing trades in a row that lost most; an even trade ends a streak.",
  ),
  figure("longestLosingStreak", "Longest losing streak", whole, "Most losing trades in a row; an even trade ends a streak."),
  figure("longestWinningStreak", "Longest winning streak", whole, "Most winning trades in a row."),
  figure(
    "sharpe",
    "Sharpe",
    two,
    "Mean daily excess return over its sample standard deviation, times the root of sessions a year.",
    "Sharpe 1994",
  ),
  figure(
    "sortino",
    "Sortino",
    two,
    "Mean daily excess return over its downside deviation, times the root of sessions a year.",
    "Sortino & Price 1994",
  ),
  figure("profitFactor", "Profit factor", two, "Gross profit over gross loss."),
  figure("payoffRatio", "Payoff ratio", two, "Average win over average loss."),
  figure("winRate", "Win rate", share, "Winning trades over all trades."),
  figure("sqn", "SQN", two, "sqrt(min(n, 100)) times mean over deviation of R, or of net where no risk is known.", "Tharp 2006"),
  figure("kelly", "Kelly fraction", two, "W - (1 - W) / payoff.", "Kelly 1956"),
  figure("monthsWon", "Months won", share, "Months in which equity rose, over all months with a trade or a change of equity."),
  figure("trades", "Trades", whole, "Closed round trips; each part of a lot that closes is one."),
  figure("wins", "Wins", whole, "Trades with a net result above 0."),
  figure("losses", "Losses", whole, "Trades with a net result below 0."),
  figure("even", "Even", whole, "Trades with a net result of 0."),
  figure("averageBarsHeld", "Average bars held", two, "Mean bars from entry to exit."),
  figure("averageBarsWins", "Average bars held, wins", two, "The same of winning trades."),
  figure("averageBarsLosses", "Average bars held, losses", two, "The same of losing trades."),
  figure("costs", "Costs paid", money, "Commission, spread, slippage and financing of all trades."),
  figure("costShare", "Cost share", partOfResult, "Costs over net profit plus costs: what they took of the result before costs."),
  figure("averageMae", "Average adverse excursion", money, "Mean of the largest move against a trade while it was open, in money."),
  figure("averageMfe", "Average favourable excursion", money, "Mean of the largest move for a trade while it was open, in money."),
  figure(
    "averageMaeR",
    "Average adverse excursion, R",
    two,
    "Mean of adverse excursion over initial risk, for trades whose stop was known.",
  ),
  figure(
    "averageMfeR",
    "Average favourable excursion, R",
    two,
    "Mean of favourable excursion over initial risk, for trades whose stop was known.",
  ),
  figure("edgeRatio", "Edge ratio", two, "Mean favourable over mean adverse excursion."),
  figure("giveBack", "Give-back", money, "Mean of favourable excursion minus net: what was on the table and not taken."),
  figure("exposure", "Exposure", share, "Bars with an open position over all bars."),
  figure("averagePositionValue", "Average position value", money, "Mean value of the open position at bar closes, over all bars."),
  figure("peakPositionValue", "Peak position value", money, "Largest value of the open position at a bar close."),
  figure("peakMargin", "Peak margin", money, "Largest margin used at a bar close, in an account with margin."),
  figure("turnover", "Annual turnover", times, "Value of all entries and exits a year over the mean of daily equity."),
  figure("beta", "Beta", two, "Slope of daily excess return on the benchmark's, least squares."),
  figure("alpha", "Annual alpha", share, "What daily excess return is left besides beta, times sessions a year."),
  figure("correlation", "Correlation", two, "Of daily excess returns with the benchmark's."),
  figure("rSquared", "R squared", two, "Square of the correlation: share of the variance of returns that the benchmark explains."),
  figure(
    "pathDependentTrades",
    "Path-dependent trades",
    whole,
    "Trades that would end otherwise if high and low came in the other order inside a bar.",
  ),
  figure("pathAtStake", "At stake on paths", money, "Sum of the differences in money of path-dependent trades."),
  figure("openAtEnd", "Open at the end", whole, "Positions marked out at the last close without costs; they count as trades too."),
];

const byKey = new Map(FIGURES.map((definition) => [definition.key, definition]));

export function figureNamed(key: keyof RunFigures): FigureDefinition {
  const found = byKey.get(key);
  if (!found) throw new Error(`No figure is called ${key}.`);
  return found;
}
