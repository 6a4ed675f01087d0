/** Where a bar stands in its week and in its session. */
import { MINUTE_MS } from "../market/timeframe.ts";
import { BARS, type StudyDefinition } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";

const common = {
  group: "session",
  warmUp: "none",
  source: "session calendar of the instrument",
  pane: "own",
  inputs: [BARS],
  outputs: ["value"],
  settle: () => 1,
} as const;

/** 1 for Monday to 7 for Sunday, of a date "yyyy-mm-dd". */
const weekdayOfDate = (date: string): number => new Date(`${date}T00:00:00Z`).getUTCDay() || 7;

export const weekday: StudyDefinition = {
  ...common,
  name: "weekday",
  unit: "1 to 7",
  summary: "Weekday of the session's date: 1 for Monday to 7 for Sunday",
  formula: "day of the week of the session's date",
  compute: ({ bars: { session, sessions, length } }) => {
    const out = newColumn(length, 0);
    for (let i = startAt(0), day = 0, of = -1; i < length; i++) {
      if (session[i] !== of) {
        of = session[i]!;
        day = weekdayOfDate(sessions.dates[of]!);
      }
      out[i] = day;
    }
    return [{ values: out, first: 0 }];
  },
};

export const minutesToClose: StudyDefinition = {
  ...common,
  name: "minutesToClose",
  unit: "minutes",
  summary: "Minutes from the bar's close to the session's scheduled close, early closes included; 0 on its last bar",
  formula: "session close - bar close, not below 0",
  compute: ({ bars: { session, sessions, closeTime, length } }) => {
    const out = newColumn(length, 0);
    for (let i = startAt(0); i < length; i++) out[i] = Math.max(0, (sessions.closeMs[session[i]!]! - closeTime[i]!) / MINUTE_MS);
    return [{ values: out, first: 0 }];
  },
};
