/** What regimes are asked of: days of the run with the market's close on each, and the day on which each trade began. */
import { type BarSeries, lowerBound, type RegimeQuestion } from "@plan-tester/core";
import type { EvidenceView } from "../run-view/view.ts";

export function regimeQuestion(
  { daily, trades }: Pick<EvidenceView, "daily" | "trades">,
  { time, close, session, sessions, length }: Pick<BarSeries, "time" | "close" | "session" | "sessions" | "length">,
  sessionsPerYear: number,
): RegimeQuestion {
  const dayOf = new Map(daily.dates.map((date, day) => [date, day]));
  const dayAt = (bar: number): number | undefined => dayOf.get(sessions.dates[session[bar]!]!);
  const closes = new Float64Array(daily.dates.length).fill(Number.NaN);
  for (let bar = 0; bar < length; bar++) {
    const day = dayAt(bar);
    if (day !== undefined) closes[day] = close[bar]!;
  }
  return {
    returns: daily.dates.map((_date, day) => daily.equity[day + 1]! / daily.equity[day]! - 1),
    closes,
    trades: trades.flatMap(({ entryTime, net }) => {
      const day = dayAt(Math.max(0, lowerBound(time, entryTime + 1) - 1));
      return day === undefined ? [] : [{ day, net }];
    }),
    sessionsPerYear,
  };
}
