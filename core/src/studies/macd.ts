import { type ColumnValues, EXPONENTIAL, SOURCE_COLUMN, type StudyDefinition, type StudyInput } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";
import { smooth } from "./smoothing.ts";

const length = (name: string, value: number): StudyInput => ({ kind: "number", name, min: 1, max: 100_000, whole: true, default: value });

function difference(a: ColumnValues, b: ColumnValues): ColumnValues {
  const first = Math.max(a.first, b.first);
  const values = newColumn(a.values.length, first);
  const n = values.length;
  for (let i = startAt(first); i < n; i++) values[i] = a.values[i]! - b.values[i]!;
  return { values, first };
}

const exponential = (source: ColumnValues, bars: number): ColumnValues => smooth(source, bars, 2 / (bars + 1));

export const macd: StudyDefinition = {
  name: "macd",
  group: "oscillator",
  unit: "as the source",
  summary: "Difference of two exponential averages, its signal line and their gap",
  formula: "line = ema(fast) - ema(slow); signal = ema(line, smoothing); histogram = line - signal",
  warmUp: "max(fast, slow) - 1 bars for the line, smoothing - 1 more for signal and histogram",
  source: "Appel 2005, Technical Analysis: Power Tools for Active Investors",
  pane: "own",
  inputs: [SOURCE_COLUMN, length("fast", 12), length("slow", 26), length("smoothing", 9)],
  outputs: ["line", "signal", "histogram"],
  settle: EXPONENTIAL,
  compute: ({ columns, numbers }) => {
    const line = difference(exponential(columns[0]!, numbers[0]!), exponential(columns[0]!, numbers[1]!));
    const signal = exponential(line, numbers[2]!);
    return [line, signal, difference(line, signal)];
  },
};
