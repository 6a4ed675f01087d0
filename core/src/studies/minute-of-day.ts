import { wallMinuteIn } from "../market/calendar.ts";
import { BARS, type StudyDefinition } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";

export const minuteOfDay: StudyDefinition = {
  name: "minuteOfDay",
  group: "session",
  unit: "minutes",
  summary: "Exchange time of the bar's open in minutes after midnight",
  formula: "wall clock of the exchange, hours x 60 + minutes",
  warmUp: "none",
  source: "session calendar of the instrument",
  pane: "own",
  inputs: [BARS],
  outputs: ["value"],
  settle: () => 1,
  compute: ({ bars }) => {
    const { time, session, sessions, length } = bars;
    const out = newColumn(length, 0);
    for (let i = startAt(0); i < length; i++) {
      const s = session[i]!;
      out[i] = wallMinuteIn(sessions, s, time[i]!);
    }
    return [{ values: out, first: 0 }];
  },
};
