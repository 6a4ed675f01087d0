import { MINUTE_MS } from "../market/timeframe.ts";
import { BARS, numberInput, SESSIONS, type StudyDefinition } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";

export const openingMinutes: StudyDefinition = {
  name: "openingMinutes",
  group: "session",
  unit: "price",
  summary: "High and low of the session's first minutes, whatever the timeframe",
  formula:
    "highest high and lowest low of the session's bars that open before its scheduled open + minutes, the first bar at least; of those there are so far while it forms",
  warmUp: "none",
  source: "session calendar of the instrument",
  pane: "price",
  inputs: [BARS, numberInput("minutes", 30, 1, 1440, true)],
  outputs: ["high", "low"],
  settle: SESSIONS,
  compute: ({ bars, numbers }) => {
    const { session, sessions, time, length } = bars;
    const high = newColumn(length, 0);
    const low = newColumn(length, 0);
    for (let i = startAt(0); i < length; i++) {
      const isFirst = i === 0 || session[i] !== session[i - 1];
      const isOpening = time[i]! < sessions.openMs[session[i]!]! + numbers[0]! * MINUTE_MS;
      high[i] = isFirst ? bars.high[i]! : isOpening ? Math.max(high[i - 1]!, bars.high[i]!) : high[i - 1]!;
      low[i] = isFirst ? bars.low[i]! : isOpening ? Math.min(low[i - 1]!, bars.low[i]!) : low[i - 1]!;
    }
    return [
      { values: high, first: 0 },
      { values: low, first: 0 },
    ];
  },
};
