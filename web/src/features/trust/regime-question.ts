/** What regimes are asked of: days of the run with the market's close on each, and the day on which each trade began. */
import { type BarSeries, dailyReturns, lowerBound, type RegimeQuestion } from "@plan-tester/core";
import type { EvidenceView } from "../run-view/view.ts";

type Bars = Pick<BarSeries, "time" | "close" | "session" | "sessions" | "length">;
type View = Pick<EvidenceView, "daily" | "trades">;

/** The place of a bar's session among the days of a view; undefined outside of it. */
function dayReader({ daily }: View, { session, sessions }: Bars): (bar: number) => number | undefined {
  const dayOf = new Map(daily.dates.map((date, day) => [date, day]));
  return (bar) => dayOf.get(sessions.dates[session[bar]!]!);
}

/** The day on which each trade began; undefined outside of the view's days. */
export function tradeDays(view: View, bars: Bars): (number | undefined)[] {
  const dayAt = dayReader(view, bars);
  return view.trades.map(({ entryTime }) => dayAt(Math.max(0, lowerBound(bars.time, entryTime + 1) - 1)));
}

export function regimeQuestion(view: View, bars: Bars, sessionsPerYear: number): RegimeQuestion {
  const { daily, trades } = view;
  const dayAt = dayReader(view, bars);
  const closes = new Float64Array(daily.dates.length).fill(Number.NaN);
  for (let bar = 0; bar < bars.length; bar++) {
    const day = dayAt(bar);
    if (day !== undefined) closes[day] = bars.close[bar]!;
  }
  return {
    returns: dailyReturns(Float64Array.from(daily.equity)),
    closes,
    trades: tradeDays(view, bars).flatMap((day, k) => (day === undefined ? [] : [{ day, net: trades[k]!.net }])),
    sessionsPerYear,
  };
}
