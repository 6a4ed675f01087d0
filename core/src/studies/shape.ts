/** The shape of the distribution of the last values. */
import { isStill } from "../still.ts";
import { SOURCE_COLUMN, type StudyDefinition, span, WINDOW } from "./definition.ts";
import { meanOf, overWindows } from "./windows.ts";

/** Mean of a power of the distances from the mean, in standard deviations; `neutral` when nothing moved. */
const standardMoment =
  (power: 3 | 4, neutral: number) =>
  (values: Float64Array, from: number, to: number): number => {
    const mean = meanOf(values, from, to);
    let [squares, powers] = [0, 0];
    for (let k = from; k <= to; k++) {
      const away = values[k]! - mean;
      squares += away * away;
      powers += away ** power;
    }
    const count = to - from + 1;
    const deviation = Math.sqrt(squares / count);
    return isStill(deviation, mean) ? neutral : powers / count / deviation ** power;
  };

const common = {
  group: "statistic",
  unit: "no unit",
  warmUp: "span - 1 bars after the source's first value",
  source: "standardised moments, divisor span, two passes",
  pane: "own",
  outputs: ["value"],
  settle: WINDOW,
} as const;

export const skewness: StudyDefinition = {
  ...common,
  name: "skewness",
  summary: "Skew of the last span values: above 0 where the large distances from the mean lie above it",
  formula: "mean((x - m)^3) / s^3 over span values, m their mean and s their standard deviation; 0 when nothing moved",
  inputs: [SOURCE_COLUMN, span(50, 3)],
  compute: ({ columns, numbers }) => [overWindows(columns[0]!, numbers[0]!, standardMoment(3, 0))],
};

export const kurtosis: StudyDefinition = {
  ...common,
  name: "kurtosis",
  summary: "Kurtosis of the last span values: 3 for a normal distribution, more where the tails are fat",
  formula: "mean((x - m)^4) / s^4 over span values, m their mean and s their standard deviation; 3 when nothing moved",
  inputs: [SOURCE_COLUMN, span(50, 3)],
  compute: ({ columns, numbers }) => [overWindows(columns[0]!, numbers[0]!, standardMoment(4, 3))],
};
