import { BARS, SESSIONS, type StudyDefinition } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";

export const sessionVwap: StudyDefinition = {
  name: "sessionVwap",
  group: "session",
  unit: "price",
  summary: "Volume-weighted average price of the session so far",
  formula: "sum(typicalPrice * volume) / sum(volume) since the session opened; the typical price while nothing was traded",
  warmUp: "none",
  source: "session calendar of the instrument",
  pane: "price",
  inputs: [BARS],
  outputs: ["value"],
  settle: SESSIONS,
  compute: ({ bars }) => {
    const { high, low, close, volume, session, length } = bars;
    const out = newColumn(length, 0);
    let [paid, traded] = [0, 0];
    let start = startAt(0);
    // A session is added up from its first bar.
    while (start > 0 && session[start] === session[start - 1]) start--;
    for (let i = start; i < length; i++) {
      if (i === 0 || session[i] !== session[i - 1]) paid = traded = 0;
      const typical = (high[i]! + low[i]! + close[i]!) / 3;
      paid += typical * volume[i]!;
      traded += volume[i]!;
      out[i] = traded > 0 ? paid / traded : typical;
    }
    return [{ values: out, first: 0 }];
  },
};
