import { type ColumnValues, SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { overWindows } from "./windows.ts";

/** Distance covered over the way walked in `length` steps, 0 to 1; 0 when nothing moved. */
export const efficiencyOf = (source: ColumnValues, length: number): ColumnValues =>
  overWindows(source, length + 1, (values, from, to) => {
    let way = 0;
    for (let k = from + 1; k <= to; k++) way += Math.abs(values[k]! - values[k - 1]!);
    return way === 0 ? 0 : Math.abs(values[to]! - values[from]!) / way;
  });

export const efficiency: StudyDefinition = {
  name: "efficiency",
  group: "statistic",
  unit: "0 to 1",
  summary: "Efficiency ratio: how straight the last span steps were",
  formula: "abs(x - x[span]) / sum(abs(x - x[1]), span); 0 when nothing moved",
  warmUp: "span bars after the source's first value",
  source: "Kaufman 1995, Smarter Trading",
  pane: "own",
  inputs: [SOURCE_COLUMN, span(10)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => [efficiencyOf(columns[0]!, numbers[0]!)],
};
