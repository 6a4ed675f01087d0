import { ALL_HISTORY, numberInput, SOURCE_COLUMN, type StudyDefinition } from "./definition.ts";
import { newColumn, startAt } from "./growth.ts";

export const reading: StudyDefinition = {
  name: "reading",
  group: "oscillator",
  unit: "-1, 0 or 1",
  summary: "Bullish or bearish reading of an oscillator: 1 from a value above one level on, -1 from a value below another on",
  formula: "1 when x > bullishAbove, -1 when x < bearishBelow, else as before; 0 before either",
  warmUp: "none after the source's first value",
  source: "two-level switch",
  pane: "own",
  inputs: [SOURCE_COLUMN, numberInput("bullishAbove", 60, -1e12, 1e12), numberInput("bearishBelow", 40, -1e12, 1e12)],
  outputs: ["value"],
  settle: ALL_HISTORY,
  compute: ({ columns, numbers }) => {
    const { values, first } = columns[0]!;
    const n = values.length;
    const out = newColumn(n, first);
    const start = startAt(first);
    let now = start > first ? out[start - 1]! : 0;
    for (let i = start; i < n; i++) {
      if (values[i]! > numbers[0]!) now = 1;
      else if (values[i]! < numbers[1]!) now = -1;
      out[i] = now;
    }
    return [{ values: out, first }];
  },
};
