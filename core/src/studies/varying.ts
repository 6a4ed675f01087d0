/** Windows whose length is itself a column, between a floor and a ceiling: the look-back adapts bar by bar. */
import { barsInput, type ColumnValues, columnInput, SOURCE_COLUMN, type StudyDefinition } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";
import { meanOf } from "./windows.ts";

type Fold = (values: Float64Array, from: number, to: number) => number;

function overVarying(source: ColumnValues, lengths: ColumnValues, floor: number, ceiling: number, fold: Fold): ColumnValues {
  const n = source.values.length;
  const first = Math.max(source.first + Math.max(floor, ceiling) - 1, lengths.first);
  const out = newColumn(n, first);
  for (let i = startAt(first); i < n; i++) {
    const length = Math.max(floor, Math.min(ceiling, Math.floor(lengths.values[i]!)));
    out[i] = fold(source.values, i - length + 1, i);
  }
  return { values: out, first };
}

const definition = (name: string, group: StudyDefinition["group"], what: string, fold: Fold): StudyDefinition => ({
  name,
  group,
  unit: "as the source",
  summary: `${what} of as many values as another column says`,
  formula: `${what.toLowerCase()} of the last n values, n = floor(length) kept between floor and ceiling`,
  warmUp: "ceiling - 1 bars after the source's first value, or the first length if later",
  source: "look-back by column",
  pane: "price",
  inputs: [SOURCE_COLUMN, columnInput("length"), barsInput("floor", 20), barsInput("ceiling", 60)],
  outputs: ["value"],
  settle: (numbers) => Math.max(numbers[0]!, numbers[1]!) + 1,
  compute: ({ columns, numbers }) => [overVarying(columns[0]!, columns[1]!, numbers[0]!, numbers[1]!, fold)],
});

export const averageOver = definition("averageOver", "average", "Simple average", meanOf);
export const highestOver = definition("highestOver", "extreme", "Highest", (values, from, to) => {
  let best = values[from]!;
  for (let k = from + 1; k <= to; k++) best = Math.max(best, values[k]!);
  return best;
});
export const lowestOver = definition("lowestOver", "extreme", "Lowest", (values, from, to) => {
  let best = values[from]!;
  for (let k = from + 1; k <= to; k++) best = Math.min(best, values[k]!);
  return best;
});
