/** What has changed since some bars ago. */
import { type ColumnValues, SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";

export function changeOf(source: ColumnValues, back: number, value: (now: number, then: number) => number): ColumnValues {
  const { values } = source;
  const n = values.length;
  const first = source.first + back;
  const out = newColumn(n, first);
  for (let i = startAt(first); i < n; i++) out[i] = value(values[i]!, values[i - back]!);
  return { values: out, first };
}

export const momentum: StudyDefinition = {
  name: "momentum",
  group: "oscillator",
  unit: "as the source",
  summary: "Change since span bars ago",
  formula: "x - x[span]",
  warmUp: "span bars after the source's first value",
  source: "difference",
  pane: "own",
  inputs: [SOURCE_COLUMN, span(10)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => [changeOf(columns[0]!, numbers[0]!, (now, then) => now - then)],
};

export const rateOfChange: StudyDefinition = {
  name: "rateOfChange",
  group: "oscillator",
  unit: "%",
  summary: "Change since span bars ago in percent",
  formula: "100 * (x / x[span] - 1); 0 where x[span] is 0",
  warmUp: "span bars after the source's first value",
  source: "relative difference",
  pane: "own",
  inputs: [SOURCE_COLUMN, span(10)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => [changeOf(columns[0]!, numbers[0]!, (now, then) => (then === 0 ? 0 : 100 * (now / then - 1)))],
};
