/** Guesses how a CSV of bars is laid out from its first rows, already split into fields. The user confirms or corrects it. */
import type { CsvLayout } from "./csv-bars.ts";
import type { DateFormat } from "./time-text.ts";

const NAMES: Readonly<Record<string, readonly string[]>> = {
  time: ["time", "date", "datetime", "timestamp", "open time", "date time", "ts"],
  clock: ["time", "clock", "time of day", "hour"],
  open: ["open", "o"],
  high: ["high", "h", "max"],
  low: ["low", "l", "min"],
  close: ["close", "c", "last", "price"],
  volume: ["volume", "vol", "v", "tick volume", "quantity"],
};

const plain = (text: string): string =>
  text
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, " ")
    .trim();
const isNumber = (text: string): boolean => /^-?\d+(\.\d+)?([eE][-+]?\d+)?$/.test(text.trim());

/**
 * @param rows the first rows of the file, fields as text
 * @param zone taken for times that name none
 */
export function guessLayout(rows: readonly (readonly string[])[], delimiter: string, zone: string): CsvLayout {
  const first = rows[0] ?? [];
  const headerLines = first.some((field) => /[a-z]{2,}/i.test(field) && !/\dT\d/.test(field)) ? 1 : 0;
  const header = headerLines ? first.map(plain) : [];
  const sample = rows.slice(headerLines, headerLines + 50);
  const find = (what: string): number => header.findIndex((name) => NAMES[what]!.includes(name));
  const firstRow = sample[0] ?? [];
  let time = find("time");
  const dateColumn = header.indexOf("date");
  if (dateColumn >= 0) time = dateColumn;
  if (time < 0)
    time = Math.max(
      0,
      firstRow.findIndex((field) => !isNumber(field) || /^\d{8,14}$/.test(field.trim())),
    );
  const apart = firstRow[time + 1];
  const clock = apart !== undefined && /^\d{1,2}:\d{2}(:\d{2})?$/.test(apart.trim()) ? time + 1 : null;
  const next = (clock ?? time) + 1;
  const orElse = (found: number, fallback: number): number => (found >= 0 ? found : fallback);
  const volume = orElse(find("volume"), next + 4);
  return {
    delimiter,
    headerLines,
    time,
    clock,
    open: orElse(find("open"), next),
    high: orElse(find("high"), next + 1),
    low: orElse(find("low"), next + 2),
    close: orElse(find("close"), next + 3),
    volume: volume < firstRow.length ? volume : null,
    dateFormat: guessDateFormat(sample.map((row) => row[time] ?? "")),
    zone,
    stamp: "open",
  };
}

export function guessDateFormat(values: readonly string[]): DateFormat {
  const value = (values[0] ?? "").trim();
  if (/^\d{13}$/.test(value)) return "unix-ms";
  if (/^\d{9,10}$/.test(value)) return "unix-s";
  if (/^\d{8}(\D?\d{4,6})?$/.test(value)) return "compact";
  if (/^\d{4}-\d{2}-\d{2}/.test(value)) return "iso";
  if (/^\d{4}\D/.test(value)) return "ymd";
  // Day and month look alike until one of them passes 12.
  const pairs = values.map((text) => text.split(/\D+/).map(Number));
  if (pairs.some(([a]) => (a ?? 0) > 12)) return "dmy";
  if (pairs.some(([, b]) => (b ?? 0) > 12)) return "mdy";
  return "dmy";
}
