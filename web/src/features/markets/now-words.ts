/** Whether an instrument trades now, until when, and why not, in words. */
import { type ClosedWhy, type SessionCalendar, type TradingAt, whyNoSession } from "@plan-tester/core";
import { dateWords, timeAt } from "../../lib/format.ts";

/** Why nothing is traded: nothing to be alarmed of. */
const WHY: Readonly<Record<ClosedWhy, string>> = {
  holiday: "a holiday",
  weekend: "no trading that day",
  break: "its break",
  "out of hours": "out of hours",
};

export function nowWords({ isOpen, untilMs, why }: TradingAt, zone: string): string {
  const until = untilMs === null ? "" : timeAt(untilMs, zone);
  if (isOpen) return `Open now, until ${until}.`;
  return `Closed now: ${WHY[why ?? "out of hours"]}. ${until === "" ? "It does not open within three weeks." : `Opens ${until}.`}`;
}

/** Of a day on which there is no session why, and what a run makes of it; "" of any other day. */
export function noSessionWords(calendar: SessionCalendar, date: string): string {
  const why = calendar.isAssumed ? null : whyNoSession(calendar, date);
  return why ? `${dateWords(date)} has no session: ${WHY[why]}. The sessions inside the period are run.` : "";
}
