/** Figures of a sweep: how each is called, written and judged; and aims in words. */
import { aimOf, type SweepRequest, SYMBOL_AXIS, TIMEFRAME_AXIS } from "@plan-tester/contract";
import { SWEEP_FIGURES, SWEEP_SENSE, type SweepFigure } from "@plan-tester/core";
import { money, number, percent, signed, signedMoney } from "./format.ts";

export interface SweepFigureDefinition {
  readonly key: SweepFigure;
  readonly label: string;
  readonly text: (value: number) => string;
  /** Whether more is better; null where neither is. */
  readonly more: boolean | null;
}

const WORDS: Readonly<Record<SweepFigure, Pick<SweepFigureDefinition, "label" | "text">>> = {
  netProfit: { label: "Net profit", text: signedMoney },
  trades: { label: "Trades", text: (value) => number(value) },
  winRate: { label: "Win rate", text: (value) => percent(value, 0) },
  profitFactor: { label: "Profit factor", text: (value) => number(value, 2) },
  averageTrade: { label: "Average trade", text: (value) => signed(value, 1) },
  maxDrawdown: { label: "Drawdown", text: money },
  returnToDrawdown: { label: "Net over drawdown", text: (value) => number(value, 2) },
  sharpe: { label: "Sharpe", text: (value) => number(value, 2) },
  costs: { label: "Costs", text: money },
  pathDependentTrades: { label: "Path-dependent", text: (value) => number(value) },
  profitableYears: { label: "Years in profit", text: (value) => number(value) },
  cagr: { label: "Annual return", text: (value) => percent(value) },
  sortino: { label: "Sortino", text: (value) => number(value, 2) },
  volatility: { label: "Annual volatility", text: (value) => percent(value) },
  calmar: { label: "Calmar", text: (value) => number(value, 2) },
  martinRatio: { label: "Martin ratio", text: (value) => number(value, 2) },
  sqn: { label: "SQN", text: (value) => number(value, 2) },
  averageTradeTicks: { label: "Average trade, ticks", text: (value) => number(value, 2) },
  averageTradeR: { label: "Average trade, R", text: (value) => number(value, 2) },
  payoffRatio: { label: "Payoff ratio", text: (value) => number(value, 2) },
  longestLosingStreak: { label: "Losing streak", text: (value) => number(value) },
  exposure: { label: "Exposure", text: (value) => percent(value) },
};

const MORE = { more: true, less: false, neither: null } as const;

export const SWEEP_DEFINITIONS: readonly SweepFigureDefinition[] = SWEEP_FIGURES.map((key) => ({
  ...{ key, more: MORE[SWEEP_SENSE[key]] },
  ...WORDS[key],
}));

/** Figures that one may aim at, the most usual first. */
export const AIM_FIGURES: readonly SweepFigure[] = [
  "returnToDrawdown",
  "netProfit",
  "sharpe",
  "profitFactor",
  "averageTrade",
  "winRate",
  "maxDrawdown",
  "profitableYears",
  ...(["cagr", "sortino", "calmar", "martinRatio", "sqn", "averageTradeTicks", "averageTradeR", "payoffRatio", "volatility"] as const),
  ...(["longestLosingStreak", "exposure"] as const),
  "trades",
  "costs",
  "pathDependentTrades",
];

export const labelOf = (figure: SweepFigure): string => WORDS[figure].label;

/** Column of a figure in a row of the sweep's table. */
export const columnOf = (figure: SweepFigure): number => SWEEP_FIGURES.indexOf(figure);

/** An aim in words, e.g. "the middle of the neighbours' Sharpe, with Trades at least 30". */
export function aimWords(aim: SweepRequest["aim"]): string {
  const { terms, robust, conditions } = aimOf(aim);
  const whole = terms.reduce((sum, { weight }) => sum + weight, 0);
  const blend =
    terms.length === 1
      ? labelOf(terms[0]!.figure)
      : terms.map(({ figure, weight }) => `${labelOf(figure)} ${percent(weight / whole, 0)}`).join(" + ");
  const limits = conditions.map(({ figure, is, value }) => `${labelOf(figure)} ${is} ${number(value, Number.isInteger(value) ? 0 : 2)}`);
  return `${blend}${robust ? ", middle of the neighbours" : ""}${limits.length > 0 ? `, with ${limits.join(" and ")}` : ""}`;
}

/** What varies, in words: an input by its name, a setting of the run by its own. */
export const axisWords = (name: string): string =>
  name === SYMBOL_AXIS ? "instrument" : name === TIMEFRAME_AXIS ? "timeframe" : name.replaceAll(".", " ");
