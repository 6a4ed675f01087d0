import { BARS, barsInput, SESSIONS, type StudyDefinition } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";

export const openingRange: StudyDefinition = {
  name: "openingRange",
  group: "session",
  unit: "price",
  summary: "High and low of the session's first bars",
  formula: "highest high and lowest low of the first count bars of the session; of those there are so far while it forms",
  warmUp: "none",
  source: "session calendar of the instrument",
  pane: "price",
  inputs: [BARS, barsInput("count", 1)],
  outputs: ["high", "low"],
  settle: SESSIONS,
  compute: ({ bars, numbers }) => {
    const { session, length } = bars;
    const high = newColumn(length, 0);
    const low = newColumn(length, 0);
    const start = startAt(0);
    // How old the session is counts only up to the end of its opening.
    let age = 0;
    while (age <= numbers[0]! && age < start && session[start - 1 - age] === session[start - 1]) age++;
    for (let i = start; i < length; i++) {
      age = i > 0 && session[i] === session[i - 1] ? age + 1 : 1;
      const isFirst = age === 1;
      high[i] = isFirst ? bars.high[i]! : age <= numbers[0]! ? Math.max(high[i - 1]!, bars.high[i]!) : high[i - 1]!;
      low[i] = isFirst ? bars.low[i]! : age <= numbers[0]! ? Math.min(low[i - 1]!, bars.low[i]!) : low[i - 1]!;
    }
    return [
      { values: high, first: 0 },
      { values: low, first: 0 },
    ];
  },
};
