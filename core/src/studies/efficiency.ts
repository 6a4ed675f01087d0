import { type ColumnValues, SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { sumOver } from "./long-windows.ts";

/** Distance covered over the way walked in `length` steps, 0 to 1; 0 when nothing moved. */
export const efficiencyOf = ({ values, first }: ColumnValues, length: number): ColumnValues =>
  sumOver(
    values.length,
    first + 1,
    length,
    (i) => Math.abs(values[i]! - values[i - 1]!),
    (way, i) => (way === 0 ? 0 : Math.abs(values[i]! - values[i - length]!) / way),
  );

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
