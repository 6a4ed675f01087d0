/** Where the time of a line stands, from the heads of its columns and a line. */
import { columnsNamed } from "./column-names.ts";
import type { CsvLayout } from "./file-layout.ts";
import { isNumeric } from "./split-text.ts";

/** A time of day, whatever stands behind it. Only a head can tell 715 and 7.15 from numbers. */
const CLOCK = /^\d{1,2}:\d{2}(?!\d)/;
const CLOCK_WITHOUT_COLON = /^(\d{1,6}|\d{1,2}\.\d{2}(\.\d{2})?)$/;

const unnamedZone = (row: readonly string[], after: number): number | null =>
  /^(UTC|GMT)?[+-]\d{1,2}:\d{2}$|^(UTC|GMT|Z|CET|CEST)$/i.test(row[after + 1] ?? "") ? after + 1 : null;

export interface TimeColumns extends Pick<CsvLayout, "time" | "clock" | "zoneColumn"> {
  /** The first column behind them. */
  readonly next: number;
}

export function timeColumns(names: readonly string[], row: readonly string[]): TimeColumns {
  const dateNames = ["date", "datum", "fecha", "day", "trade date", "trading day"];
  const named = columnsNamed(names, "time");
  let time = names.findIndex((name) => dateNames.includes(name));
  if (time < 0) time = named[0] ?? -1;
  if (time < 0)
    time = Math.max(
      0,
      row.findIndex((field) => !isNumeric(field) || /^\d{8,19}$/.test(field)),
    );
  const clockNamed = columnsNamed(names, "clock").find((column) => column !== time);
  const holdsClock = (column: number): boolean =>
    CLOCK.test(row[column] ?? "") || (clockNamed === column && CLOCK_WITHOUT_COLON.test(row[column] ?? ""));
  const clock = [clockNamed, time + 1].find((column) => column !== undefined && holdsClock(column)) ?? null;
  const zoneColumn =
    columnsNamed(names, "zoneColumn").find((column) => column !== time && column !== clock) ??
    (names.length === 0 ? unnamedZone(row, clock ?? time) : null);
  const next = Math.max(time, clock ?? 0, zoneColumn !== null && zoneColumn <= (clock ?? time) + 1 ? zoneColumn : 0) + 1;
  return { time, clock, zoneColumn, next };
}
