/** Whether an instrument trades now, until when, and why not, in words. */
import {
  type ClosedWhy,
  closedBefore,
  layOutSessions,
  nameOfDay,
  type SessionCalendar,
  type TradingAt,
  whyNoSession,
} from "@plan-tester/core";
import { dateWords, timeAt, weekdayWords } from "../../lib/format.ts";

/** Why nothing is traded: nothing to be alarmed of. */
const WHY: Readonly<Record<ClosedWhy, string>> = {
  holiday: "a holiday",
  weekend: "no trading that day",
  break: "its break",
  "out of hours": "out of hours",
};

export function nowWords({ isOpen, untilMs, why, name }: TradingAt, zone: string): string {
  const until = untilMs === null ? "" : timeAt(untilMs, zone);
  if (isOpen) return `Open now, until ${until}.`;
  return `Closed now: ${name || WHY[why ?? "out of hours"]}. ${until === "" ? "It does not open within three weeks." : `Opens ${until}.`}`;
}

/** Of a day on which there is no session why, and what a run makes of it; "" of any other day. */
export function noSessionWords(calendar: SessionCalendar, date: string): string {
  const why = calendar.isAssumed ? null : whyNoSession(calendar, date);
  return why ? `${dateWords(date)} has no session: ${nameOfDay(calendar, date) || WHY[why]}. The sessions inside the period are run.` : "";
}

/** The days without trading ahead of a session: "closed Sat 2 May – Mon 4 May: Gull Monday"; "" where the day before it has one. */
export function closedBeforeWords(calendar: SessionCalendar, date: string): string {
  const closed = calendar.isAssumed ? null : closedBefore(calendar, date);
  if (!closed) return "";
  const { from, to, holidays } = closed;
  const days = from === to ? weekdayWords(from) : `${weekdayWords(from)} – ${weekdayWords(to)}`;
  const called = holidays.map(({ date: day, name }) => name || `a holiday on ${weekdayWords(day)}`);
  return `closed ${days}${called.length > 0 ? `: ${called.join(", ")}` : ""}`;
}

/** Bars of days that follow one another are no further apart, also where clocks are changed. */
const NEXT_DAY_MS = 25 * 3_600_000;

/** The same of a bar, for what is said of it; "" unless days without trading lie between it and the bar before it. */
export function closedBeforeBar(calendar: SessionCalendar | undefined, time: Float64Array, i: number): string {
  if (!calendar || i < 1 || time[i]! - time[i - 1]! <= NEXT_DAY_MS) return "";
  const [date] = layOutSessions(calendar, time[i]!, time[i]! + 1).dates;
  const words = date === undefined ? "" : closedBeforeWords(calendar, date);
  return words === "" ? "" : ` · before it ${words}`;
}
