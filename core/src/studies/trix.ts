import { changeOf } from "./change.ts";
import { EXPONENTIAL, SOURCE_COLUMN, type StudyDefinition, span } from "./definition.ts";
import { exponentialAverage } from "./smoothing.ts";

export const trix: StudyDefinition = {
  name: "trix",
  group: "oscillator",
  unit: "%",
  summary: "Rate of change of a triple exponential smoothing",
  formula: "100 * (e / e[1] - 1), e = ema(ema(ema(x, span), span), span); 0 where e[1] is 0",
  warmUp: "3 * (span - 1) + 1 bars after the source's first value",
  source: "Hutson 1983, Good Trix",
  pane: "own",
  inputs: [SOURCE_COLUMN, span(15)],
  outputs: ["value"],
  settle: (numbers) => 3 * EXPONENTIAL(numbers),
  compute: ({ columns, numbers }) => {
    const n = numbers[0]!;
    const smoothed = exponentialAverage(exponentialAverage(exponentialAverage(columns[0]!, n), n), n);
    return [changeOf(smoothed, 1, (now, then) => (then === 0 ? 0 : 100 * (now / then - 1)))];
  },
};
