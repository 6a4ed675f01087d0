/** What each column of an imported file is: every role has one column at most, and a price has one always. */
import type { CsvLayout } from "@plan-tester/core";

export const ROLES = ["time", "clock", "zoneColumn", "open", "high", "low", "close", "volume", "spread"] as const;
export type ColumnRole = (typeof ROLES)[number];

const OPTIONAL: readonly ColumnRole[] = ["clock", "zoneColumn", "volume", "spread"];

export const ROLE_WORDS: Readonly<Record<ColumnRole, string>> = {
  time: "time or date",
  clock: "time of day",
  zoneColumn: "time zone",
  open: "open",
  high: "high",
  low: "low",
  close: "close",
  volume: "volume",
  spread: "spread, in price",
};

export const roleOf = (format: CsvLayout, column: number): ColumnRole | undefined => ROLES.find((role) => format[role] === column);

/**
 * Gives a column a role, or none. The column that had it takes over what this one was, so that two mixed up columns change
 * places by one choice. What is needed stays somewhere: a price is only taken from a column by giving it to another.
 */
export function withRole(format: CsvLayout, column: number, role: ColumnRole | null): CsvLayout {
  const held = roleOf(format, column);
  if (held === role || (held === undefined && role === null)) return format;
  const from = role === null ? null : (format[role] ?? null);
  if (held !== undefined && from === null && !OPTIONAL.includes(held)) return format;
  return { ...format, ...(held === undefined ? {} : { [held]: from }), ...(role === null ? {} : { [role]: column }) };
}
