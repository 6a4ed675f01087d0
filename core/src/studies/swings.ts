/** Swing highs and lows: turning points of a column, known only once enough values have come after them. */
import { ALL_HISTORY, barsInput, type ColumnValues, SOURCE_COLUMN, type StudyDefinition } from "./definition.ts";
import { firstBar, newColumn, startAt } from "./growth.ts";

/** The value of the last swing: none of `strength` values before it goes beyond it, and all of as many after it stay short of it. */
function lastSwing({ values, first: start }: ColumnValues, strength: number, sign: 1 | -1): ColumnValues {
  const n = values.length;
  const isSwing = (i: number): boolean => {
    const x = sign * values[i - strength]!;
    for (let k = 1; k <= strength; k++) if (sign * values[i - strength + k]! >= x || sign * values[i - strength - k]! > x) return false;
    return true;
  };
  const first = firstBar(n, start + 2 * strength, isSwing);
  const out = newColumn(n, first);
  for (let i = startAt(first); i < n; i++) out[i] = isSwing(i) ? values[i - strength]! : out[i - 1]!;
  return { values: out, first };
}

const definition = (name: string, what: "high" | "low", sign: 1 | -1): StudyDefinition => ({
  name,
  group: "extreme",
  unit: "as the source",
  summary: `Last swing ${what} that is confirmed: a turning point with strength values on each side of it`,
  formula: `x[strength] where x[strength] ${sign > 0 ? ">" : "<"} the strength values after it and ${sign > 0 ? ">=" : "<="} those before it; else as before`,
  warmUp: `strength bars after the first swing ${what}: it is known then, never before`,
  source: "fractal turning points, Williams 1995, Trading Chaos",
  pane: "price",
  inputs: [SOURCE_COLUMN, barsInput("strength", 3)],
  outputs: ["value"],
  settle: ALL_HISTORY,
  compute: ({ columns, numbers }) => [lastSwing(columns[0]!, numbers[0]!, sign)],
});

export const swingHigh = definition("swingHigh", "high", 1);
export const swingLow = definition("swingLow", "low", -1);
