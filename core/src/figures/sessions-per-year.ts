/** How many sessions make a year: what figures are made yearly with. */
import type { BarSeries } from "../market/bars.ts";
import type { SessionCalendar } from "../market/calendar.ts";
import { DAY_MS } from "../market/timeframe.ts";
import { dayEnds } from "./daily.ts";
import { MIN_YEARLY_DAYS } from "./equity-figures.ts";

const YEAR_DAYS = 365.25;

/** The calendar's own number; where the calendar was only assumed, session dates over the span of the bars. */
export function sessionsPerYearOf(bars: BarSeries, { sessionsPerYear, isAssumed = false }: SessionCalendar): number {
  const { dates } = dayEnds(bars);
  if (!isAssumed || dates.length < 2) return sessionsPerYear;
  const days = (Date.parse(dates.at(-1)!) - Date.parse(dates[0]!)) / DAY_MS + 1;
  return days < MIN_YEARLY_DAYS ? sessionsPerYear : (dates.length / days) * YEAR_DAYS;
}
