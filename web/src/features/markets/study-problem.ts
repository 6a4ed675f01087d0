/** Whether a text is a study, told without bars. */
import { ALWAYS_OPEN, BAR_COLUMNS, type BarColumns, evaluateText, makeSeries } from "@plan-tester/core";

/** What a text is read on to see whether it can be. */
const A_BAR = makeSeries(
  Object.fromEntries(BAR_COLUMNS.map((name) => [name, Float64Array.of(1)])) as unknown as BarColumns,
  "1m",
  ALWAYS_OPEN,
);

/** Why a text is none of a study; null where it is one. */
export function problemOf(text: string): string | null {
  try {
    evaluateText(text, A_BAR);
    return null;
  } catch (error) {
    return error instanceof Error ? error.message : String(error);
  }
}
