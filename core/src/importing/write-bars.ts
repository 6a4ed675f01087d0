/** Bars as text, a piece at a time. Read back they are the same numbers, to the last bit. */
import type { BarColumns } from "../market/bars.ts";

export const BAR_FILES = ["csv", "jsonl"] as const;
export type BarFile = (typeof BAR_FILES)[number];

const ROWS = 20_000;
const NAMES = ["open", "high", "low", "close", "volume", "spread"] as const;

/**
 * CSV with a head, or a JSON object a line. Times are of UTC, in ISO 8601; a number is the shortest text that reads back as
 * the same one. The spread is there where the bars have one.
 */
export function* barsAsText(columns: BarColumns, form: BarFile): Generator<string> {
  const names = NAMES.filter((name) => columns[name] !== undefined);
  const values = names.map((name) => columns[name]!);
  const { time } = columns;
  if (form === "csv") yield `time,${names.join(",")}\n`;
  for (let from = 0; from < time.length; from += ROWS) {
    const to = Math.min(time.length, from + ROWS);
    let text = "";
    for (let i = from; i < to; i++) {
      const at = new Date(time[i]!).toISOString();
      text +=
        form === "csv"
          ? `${at},${values.map((column) => column[i]!).join(",")}\n`
          : `{"time":"${at}",${names.map((name, k) => `"${name}":${values[k]![i]!}`).join(",")}}\n`;
    }
    yield text;
  }
}
