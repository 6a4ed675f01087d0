/** Facts of the session before the current one, known from the current session's first bar on. */
import type { BarSeries } from "../market/bars.ts";
import { BARS, type ColumnValues, SESSIONS, type StudyDefinition } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";

export interface SessionFacts {
  readonly open: ColumnValues;
  readonly high: ColumnValues;
  readonly low: ColumnValues;
  readonly close: ColumnValues;
}

/** Open, high, low and close of the session before; NaN in the first session of the data. */
export function previousSessionOf({ open, high, low, close, session, length }: BarSeries): SessionFacts {
  let first = 0;
  while (first < length && session[first] === session[0]) first++;
  const made = {
    open: newColumn(length, first),
    high: newColumn(length, first),
    low: newColumn(length, first),
    close: newColumn(length, first),
  };
  const from = startAt(first);
  const isFirstOfSession = (i: number): boolean => i === 0 || session[i] !== session[i - 1];
  // From the start of the session before that of the first value to be written.
  let start = Math.min(startAt(0), Math.max(0, length - 1));
  while (!isFirstOfSession(start)) start--;
  if (start > 0)
    do start--;
    while (!isFirstOfSession(start));
  let [lastOpen, lastHigh, lastLow, lastClose] = [0, 0, 0, 0];
  let [nowOpen, nowHigh, nowLow] = [0, 0, 0];
  for (let i = start; i < length; i++) {
    if (isFirstOfSession(i)) {
      lastOpen = nowOpen;
      lastHigh = nowHigh;
      lastLow = nowLow;
      lastClose = i > 0 ? close[i - 1]! : 0;
      nowOpen = open[i]!;
      nowHigh = high[i]!;
      nowLow = low[i]!;
    } else {
      nowHigh = Math.max(nowHigh, high[i]!);
      nowLow = Math.min(nowLow, low[i]!);
    }
    if (i < from) continue;
    made.open[i] = lastOpen;
    made.high[i] = lastHigh;
    made.low[i] = lastLow;
    made.close[i] = lastClose;
  }
  const column = (values: Float64Array): ColumnValues => ({ values, first });
  return { open: column(made.open), high: column(made.high), low: column(made.low), close: column(made.close) };
}

export const previousSession: StudyDefinition = {
  name: "previousSession",
  group: "session",
  unit: "price",
  summary: "Open, high, low, close and range of the session before",
  formula: "of the bars of the last completed session; range = high - low",
  warmUp: "until the second session of the data",
  source: "session calendar of the instrument",
  pane: "price",
  inputs: [BARS],
  outputs: ["open", "high", "low", "close", "range"],
  settle: () => 2 * SESSIONS(),
  compute: ({ bars }) => {
    const { open, high, low, close } = previousSessionOf(bars);
    const n = bars.length;
    const range = newColumn(n, high.first);
    for (let i = startAt(high.first); i < n; i++) range[i] = high.values[i]! - low.values[i]!;
    return [open, high, low, close, { values: range, first: high.first }];
  },
};
