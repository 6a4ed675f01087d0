import { BARS, type ColumnValues, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";
import { barByBar } from "./windows.ts";

/** 100 when the extreme of the last `length` + 1 values is the newest, 0 when it is the oldest; of equal ones the newest counts. */
function freshness(values: Float64Array, length: number, sign: 1 | -1): ColumnValues {
  const n = values.length;
  const out = newColumn(n, length);
  // Places of values that fall (for the highest) from head to tail, as in extremes.ts.
  const from = startAt(length);
  const start = Math.max(0, from - length);
  const queue = new Int32Array(Math.max(0, n - start));
  let [head, tail] = [0, 0];
  for (let i = start; i < n; i++) {
    while (tail > head && sign * values[queue[tail - 1]!]! <= sign * values[i]!) tail--;
    queue[tail++] = i;
    if (queue[head]! < i - length) head++;
    if (i >= from) out[i] = (100 * (queue[head]! - i + length)) / length;
  }
  return { values: out, first: length };
}

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
