/** Facts of the session so far. A session that the data enter in the middle counts from its first bar there. */
import type { BarSeries } from "../market/bars.ts";
import { BARS, type ColumnValues, SESSIONS, type StudyDefinition } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";

/** One value a bar, folded over the bars of its session in order. */
function foldSession(bars: BarSeries, start: (i: number) => number, next: (value: number, i: number) => number): ColumnValues {
  const { session, length } = bars;
  const out = newColumn(length, 0);
  for (let i = startAt(0); i < length; i++) out[i] = i === 0 || session[i] !== session[i - 1] ? start(i) : next(out[i - 1]!, i);
  return { values: out, first: 0 };
}

const definition = (
  name: string,
  summary: string,
  formula: string,
  pane: "price" | "own",
  compute: (bars: BarSeries) => ColumnValues,
): StudyDefinition => ({
  name,
  group: "session",
  unit: pane === "price" ? "price" : "bars",
  summary,
  formula,
  warmUp: "none",
  source: "session calendar of the instrument",
  pane,
  inputs: [BARS],
  outputs: ["value"],
  settle: SESSIONS,
  compute: ({ bars }) => [compute(bars)],
});

export const sessionOpenOf = (bars: BarSeries): ColumnValues =>
  foldSession(
    bars,
    (i) => bars.open[i]!,
    (value) => value,
  );

export const sessionOpen = definition("sessionOpen", "Open of the session's first bar", "open of the first bar", "price", sessionOpenOf);

export const sessionHigh = definition(
  "sessionHigh",
  "Highest price of the session so far",
  "max of high since the session opened",
  "price",
  (bars) =>
    foldSession(
      bars,
      (i) => bars.high[i]!,
      (value, i) => Math.max(value, bars.high[i]!),
    ),
);

export const sessionLow = definition(
  "sessionLow",
  "Lowest price of the session so far",
  "min of low since the session opened",
  "price",
  (bars) =>
    foldSession(
      bars,
      (i) => bars.low[i]!,
      (value, i) => Math.min(value, bars.low[i]!),
    ),
);

export const barsSinceOpen = definition(
  "barsSinceOpen",
  "Bars since the session opened; the first bar counts 1",
  "1, 2, 3, ... within a session",
  "own",
  (bars) =>
    foldSession(
      bars,
      () => 1,
      (value) => value + 1,
    ),
);
