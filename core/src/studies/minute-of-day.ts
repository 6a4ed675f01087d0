import { MINUTE_MS } from "../market/timeframe.ts";
import { BARS, newColumn, type StudyDefinition } from "./definition.ts";

export const minuteOfDay: StudyDefinition = {
  name: "minuteOfDay",
  group: "session",
  unit: "minutes",
  summary: "Exchange time of the bar's open in minutes after midnight",
  formula: "minutes of the session's open + minutes since it, within a day of 1440",
  warmUp: "none",
  source: "session calendar of the instrument",
  pane: "own",
  inputs: [BARS],
  outputs: ["value"],
  settle: () => 1,
  compute: ({ bars }) => {
    const { time, session, sessions, length } = bars;
    const out = newColumn(length, 0);
    for (let i = 0; i < length; i++) {
      const s = session[i]!;
      out[i] = (sessions.openMinute[s]! + Math.floor((time[i]! - sessions.openMs[s]!) / MINUTE_MS)) % 1440;
    }
    return [{ values: out, first: 0 }];
  },
};
