/** Bars as text, a piece at a time. Read back they are the same numbers, to the last bit. */
import type { BarColumns } from "../market/bars.ts";

export const BAR_FILES = ["csv", "jsonl"] as const;
export type BarFile = (typeof BAR_FILES)[number];

const ROWS = 20_000;
const NAMES = ["open", "high", "low", "close", "volume", "spread"] as const;

const isoText = (ms: number): string => new Date(ms).toISOString();

/**
 * CSV with a head, or a JSON object a line; a number is the shortest text that reads back as the same one. The spread is there
 * where the bars have one.
 * @param timeText of a time in UTC milliseconds: ISO 8601 where it is left out
 */
export function* barsAsText(columns: BarColumns, form: BarFile, timeText = isoText): Generator<string> {
  const names = NAMES.filter((name) => columns[name] !== undefined);
  const values = names.map((name) => columns[name]!);
  const { time } = columns;
  if (form === "csv") yield `time,${names.join(",")}\n`;
  for (let from = 0; from < time.length; from += ROWS) {
    const to = Math.min(time.length, from + ROWS);
    let text = "";
    for (let i = from; i < to; i++) {
      const at = timeText(time[i]!);
      text +=
        form === "csv"
          ? `${at},${values.map((column) => column[i]!).join(",")}\n`
          : `{"time":"${at}",${names.map((name, k) => `"${name}":${values[k]![i]!}`).join(",")}}\n`;
    }
    yield text;
  }
}
