/** Results by month and year of the session date, from daily equity and trades by their exit. */
import type { Trade } from "../engine/orders.ts";
import { DAY_MS } from "../market/timeframe.ts";
import type { Daily } from "./daily.ts";

export type PeriodUnit = "day" | "week" | "month" | "quarter" | "year";

export interface Period {
  /** 2025, 2025-Q2, 2025-06, 2025-W23, 2025-06-03. */
  readonly label: string;
  readonly netProfit: number;
  readonly totalReturn: number;
  readonly trades: number;
  /** Deepest fall of daily equity inside the period, from the equity at its start. */
  readonly maxDrawdown: number;
}

export function periodLabel(date: string, unit: PeriodUnit): string {
  if (unit === "year") return date.slice(0, 4);
  if (unit === "month") return date.slice(0, 7);
  if (unit === "quarter") return `${date.slice(0, 4)}-Q${Math.ceil(Number(date.slice(5, 7)) / 3)}`;
  return unit === "day" ? date : isoWeek(date);
}

/** ISO 8601 week: the week of the year that holds its Thursday. */
function isoWeek(date: string): string {
  const day = Date.parse(`${date}T00:00:00Z`);
  const weekday = (new Date(day).getUTCDay() + 6) % 7;
  const thursday = new Date(day + (3 - weekday) * DAY_MS);
  const year = thursday.getUTCFullYear();
  const week = Math.floor((thursday.getTime() - Date.UTC(year, 0, 1)) / DAY_MS / 7) + 1;
  return `${year}-W${String(week).padStart(2, "0")}`;
}

/** `exitDates` gives the session date of each trade's exit. */
export function periods(daily: Daily, trades: readonly Trade[], exitDates: readonly string[], unit: PeriodUnit): Period[] {
  const counts = new Map<string, number>();
  // Trades come in the order of their exits: many share a date, and its label.
  let [date, label] = ["", ""];
  for (let i = 0; i < trades.length; i++) {
    if (exitDates[i] !== date) {
      date = exitDates[i]!;
      label = periodLabel(date, unit);
    }
    counts.set(label, (counts.get(label) ?? 0) + 1);
  }
  const result: Period[] = [];
  let d = 0;
  while (d < daily.dates.length) {
    const label = periodLabel(daily.dates[d]!, unit);
    const start = daily.equity[d]!;
    let peak = start;
    let deepest = 0;
    while (d < daily.dates.length && periodLabel(daily.dates[d]!, unit) === label) {
      const value = daily.equity[d + 1]!;
      peak = Math.max(peak, value);
      deepest = Math.max(deepest, peak - value);
      d++;
    }
    const end = daily.equity[d]!;
    result.push({ label, netProfit: end - start, totalReturn: end / start - 1, trades: counts.get(label) ?? 0, maxDrawdown: deepest });
  }
  return result;
}
