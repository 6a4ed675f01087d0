import { SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { displaced } from "./displaced.ts";
import { simpleAverage } from "./sma.ts";
import { plusTimes } from "./windows.ts";

export const detrended: StudyDefinition = {
  name: "detrended",
  group: "oscillator",
  unit: "as the source",
  summary: "Detrended price: a value half a span ago less the average about it",
  formula: "x[floor(span / 2) + 1] - sma(x, span)",
  warmUp: "the later of span - 1 and floor(span / 2) + 1 bars after the source's first value",
  source: "centred moving average, Murphy 1999, Technical Analysis of the Financial Markets",
  pane: "own",
  inputs: [SOURCE_COLUMN, span(20)],
  outputs: ["value"],
  settle: (numbers) => WINDOW(numbers) + 1,
  compute: ({ columns, numbers }) => [
    plusTimes(displaced(columns[0]!, Math.floor(numbers[0]! / 2) + 1), -1, simpleAverage(columns[0]!, numbers[0]!)),
  ],
};
