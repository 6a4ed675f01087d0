import { SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { overWindows } from "./windows.ts";

export const percentRank: StudyDefinition = {
  name: "percentRank",
  group: "statistic",
  unit: "0 to 100",
  summary: "How many percent of the span values before are below the current one; equal ones count half",
  formula: "100 * (values below + half of the values equal) / span, among x[1] to x[span]",
  warmUp: "span bars after the source's first value",
  source: "percentile rank with mid-ranks for ties",
  pane: "own",
  inputs: [SOURCE_COLUMN, span(100)],
  outputs: ["value"],
  settle: WINDOW,
  compute: ({ columns, numbers }) => [
    overWindows(columns[0]!, numbers[0]! + 1, (values, from, to) => {
      const x = values[to]!;
      let count = 0;
      for (let k = from; k < to; k++) count += values[k]! < x ? 1 : values[k]! === x ? 0.5 : 0;
      return (100 * count) / (to - from);
    }),
  ],
};
