import { BARS, type ColumnValues, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { barByBar, overWindows } from "./windows.ts";

/** 100 when the extreme of the last `length` + 1 values is the newest, 0 when it is the oldest; of equal ones the newest counts. */
const freshness = (values: Float64Array, length: number, sign: 1 | -1): ColumnValues =>
  overWindows({ values, first: 0 }, length + 1, (column, from, to) => {
    let best = from;
    for (let k = from + 1; k <= to; k++) if (sign * column[k]! >= sign * column[best]!) best = k;
    return (100 * (best - from)) / length;
  });

export const aroon: StudyDefinition = {
  name: "aroon",
  group: "oscillator",
  unit: "0 to 100",
  summary: "Aroon: how fresh the highest high and the lowest low are, and their gap",
  formula: "up = 100 * (span - bars since the highest high of span + 1 bars) / span; down by the lowest low; gap = up - down",
  warmUp: "span bars",
  source: "Chande 1995, A Time Price Oscillator",
  pane: "own",
  inputs: [BARS, span(25)],
  outputs: ["up", "down", "gap"],
  settle: WINDOW,
  compute: ({ bars, numbers }) => {
    const up = freshness(bars.high, numbers[0]!, 1);
    const down = freshness(bars.low, numbers[0]!, -1);
    return [up, down, barByBar([up, down], (i) => up.values[i]! - down.values[i]!)];
  },
};
