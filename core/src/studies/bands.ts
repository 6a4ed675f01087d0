/** A middle line with bands at a multiple of the average true range. */
import { BARS, type ColumnValues, EXPONENTIAL, numberInput, SOURCE_COLUMN, type StudyDefinition, span } from "./definition.ts";
import { exponentialAverage, wilderAverage } from "./smoothing.ts";
import { trueRangeOf } from "./true-range.ts";
import { plusTimes } from "./windows.ts";

const around = (middle: ColumnValues, width: number, reach: ColumnValues): ColumnValues[] => [
  middle,
  plusTimes(middle, width, reach),
  plusTimes(middle, -width, reach),
];
const width = numberInput("width", 2, 0.01, 100);

export const keltner: StudyDefinition = {
  name: "keltner",
  group: "band",
  unit: "price",
  summary: "Keltner channel: an exponential average and bands a number of average true ranges away",
  formula: "middle = ema(close, span); upper, lower = middle + and - width * atr(span)",
  warmUp: "span - 1 bars",
  source: "Keltner 1960; with true range by Raschke 1995",
  pane: "price",
  inputs: [BARS, span(20), width],
  outputs: ["middle", "upper", "lower"],
  settle: EXPONENTIAL,
  compute: ({ bars, numbers }) =>
    around(exponentialAverage({ values: bars.close, first: 0 }, numbers[0]!), numbers[1]!, wilderAverage(trueRangeOf(bars), numbers[0]!)),
};

export const atrBands: StudyDefinition = {
  name: "atrBands",
  group: "band",
  unit: "price",
  summary: "Bands a number of average true ranges away from any column",
  formula: "middle = x; upper, lower = x + and - width * atr(span)",
  warmUp: "span - 1 bars, or the source's first value if later",
  source: "Wilder 1978, New Concepts in Technical Trading Systems",
  pane: "price",
  inputs: [BARS, SOURCE_COLUMN, span(14), width],
  outputs: ["middle", "upper", "lower"],
  settle: EXPONENTIAL,
  compute: ({ bars, columns, numbers }) => around(columns[0]!, numbers[1]!, wilderAverage(trueRangeOf(bars), numbers[0]!)),
};
