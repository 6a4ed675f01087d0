import { type ColumnValues, EXPONENTIAL, SOURCE_COLUMN, type StudyDefinition, span } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";
import { smooth } from "./smoothing.ts";

function relativeStrength(source: ColumnValues, length: number): ColumnValues {
  const { values } = source;
  const n = values.length;
  const up = newColumn(n, source.first + 1);
  const down = newColumn(n, source.first + 1);
  for (let i = startAt(source.first + 1); i < n; i++) {
    const change = values[i]! - values[i - 1]!;
    up[i] = Math.max(change, 0);
    down[i] = change < 0 ? -change : 0;
  }
  const gains = smooth({ values: up, first: source.first + 1 }, length, 1 / length);
  const losses = smooth({ values: down, first: source.first + 1 }, length, 1 / length);
  const out = newColumn(n, gains.first);
  for (let i = startAt(gains.first); i < n; i++) {
    const total = gains.values[i]! + losses.values[i]!;
    out[i] = total === 0 ? 50 : (100 * gains.values[i]!) / total;
  }
  return { values: out, first: gains.first };
}

export const rsi: StudyDefinition = {
  name: "rsi",
  group: "oscillator",
  unit: "0 to 100",
  summary: "Relative strength index, 0 to 100",
  formula: "100 * G / (G + L), with G and L Wilder's averages of the rises and falls; 50 when nothing moved",
  warmUp: "span bars after the source's first value",
  source: "Wilder 1978, New Concepts in Technical Trading Systems",
  pane: "own",
  inputs: [SOURCE_COLUMN, span(14)],
  outputs: ["value"],
  settle: EXPONENTIAL,
  compute: ({ columns, numbers }) => [relativeStrength(columns[0]!, numbers[0]!)],
};
