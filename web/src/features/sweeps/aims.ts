/** Figures of a sweep: how each is called, written and judged. */
import type { SweepRequest } from "@plan-tester/contract";
import { SWEEP_FIGURES, type SweepFigure } from "@plan-tester/core";
import { number, percent, signed } from "../../lib/format.ts";

export interface SweepFigureDefinition {
  readonly key: SweepFigure;
  readonly label: string;
  readonly text: (value: number) => string;
  /** Whether more is better; null where neither is. */
  readonly more: boolean | null;
}

const LABELS: Readonly<Record<SweepFigure, Omit<SweepFigureDefinition, "key">>> = {
  netProfit: { label: "Net profit", text: (value) => signed(value), more: true },
  trades: { label: "Trades", text: (value) => number(value), more: null },
  winRate: { label: "Win rate", text: (value) => percent(value, 0), more: true },
  profitFactor: { label: "Profit factor", text: (value) => number(value, 2), more: true },
  averageTrade: { label: "Average trade", text: (value) => signed(value, 1), more: true },
  maxDrawdown: { label: "Drawdown", text: (value) => number(value), more: false },
  returnToDrawdown: { label: "Net over drawdown", text: (value) => number(value, 2), more: true },
  sharpe: { label: "Sharpe", text: (value) => number(value, 2), more: true },
  costs: { label: "Costs", text: (value) => number(value), more: false },
  pathDependentTrades: { label: "Path-dependent", text: (value) => number(value), more: false },
};

export const SWEEP_DEFINITIONS: readonly SweepFigureDefinition[] = SWEEP_FIGURES.map((key) => ({ key, ...LABELS[key] }));

const AIM_KEYS: readonly SweepRequest["aim"][] = ["returnToDrawdown", "netProfit", "sharpe", "profitFactor", "averageTrade", "winRate"];

export const AIMS = AIM_KEYS.map((key) => ({ key, label: LABELS[key].label }));

/** Column of a figure in a row of the sweep's table. */
export const columnOf = (figure: SweepFigure): number => SWEEP_FIGURES.indexOf(figure);
