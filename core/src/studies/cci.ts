import { isStill } from "../still.ts";
import { BARS, type ColumnValues, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { DeviationWindow } from "./deviation-window.ts";
import { isGoingOn, newColumn } from "./growth.ts";
import { SHORT_WINDOW } from "./long-windows.ts";
import { typicalOf } from "./prices.ts";
import { meanOf, overWindows } from "./windows.ts";

const inDeviations = (value: number, mean: number, deviation: number): number =>
  isStill(deviation, mean) ? 0 : (value - mean) / (0.015 * deviation);

const cciAfresh = (typical: ColumnValues, length: number): ColumnValues =>
  overWindows(typical, length, (values, from, to) => {
    const mean = meanOf(values, from, to);
    let away = 0;
    for (let k = from; k <= to; k++) away += Math.abs(values[k]! - mean);
    return inDeviations(values[to]!, mean, away / length);
  });

/** The same in O(n log n). */
function cciInOrder({ values, first: start }: ColumnValues, length: number): ColumnValues {
  const first = start + length - 1;
  const out = newColumn(values.length, first);
  const window = new DeviationWindow(values);
  for (let i = start; i < values.length; i++) {
    window.add(i);
    if (i > first) window.remove(i - length);
    if (i >= first) out[i] = inDeviations(values[i]!, window.mean, window.meanDeviation);
  }
  return { values: out, first };
}

export const cci: StudyDefinition = {
  name: "cci",
  group: "oscillator",
  unit: "about -200 to 200",
  summary: "Commodity channel index: distance from the mean in mean deviations",
  formula: "(t - sma(t, span)) / (0.015 * mean absolute deviation), t the typical price; 0 when nothing moved",
  warmUp: "span - 1 bars",
  source: "Lambert 1980, Commodity Channel Index",
  pane: "own",
  inputs: [BARS, span(20)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ bars, numbers }) => [(numbers[0]! > SHORT_WINDOW && !isGoingOn() ? cciInOrder : cciAfresh)(typicalOf(bars), numbers[0]!)],
};
