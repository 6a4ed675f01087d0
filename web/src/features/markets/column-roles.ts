/** What each column of an imported file is: every role has one column at most, and a price has one always. */
import { type BarLayout, type CsvLayout, isOfTicks, type TickLayout } from "@plan-tester/core";

export const BAR_ROLES = ["time", "clock", "zoneColumn", "open", "high", "low", "close", "volume", "spread"] as const;
const TICK_ROLES = ["time", "clock", "zoneColumn", "price", "bid", "ask", "volume"] as const;
const TICK_PRICES: readonly ColumnRole[] = ["price", "bid", "ask"];
export type ColumnRole = (typeof BAR_ROLES)[number] | (typeof TICK_ROLES)[number];

const OPTIONAL: readonly ColumnRole[] = ["clock", "zoneColumn", "volume", "spread", ...TICK_PRICES];

const ROLE_WORDS: Readonly<Record<ColumnRole, string>> = {
  time: "time or date",
  clock: "time of day",
  zoneColumn: "time zone",
  open: "open",
  high: "high",
  low: "low",
  close: "close",
  volume: "volume",
  spread: "spread, in price",
  price: "price",
  bid: "bid",
  ask: "ask",
};

export const rolesOf = (format: CsvLayout): readonly ColumnRole[] => (isOfTicks(format) ? TICK_ROLES : BAR_ROLES);
/** What a role is called where a line is a bar, or a tick. */
export const wordsOf = (format: CsvLayout, role: ColumnRole): string =>
  isOfTicks(format) && role === "volume" ? "size" : ROLE_WORDS[role];

const columnOf = (format: CsvLayout, role: ColumnRole): number | null =>
  (format as Partial<Record<ColumnRole, number | null>>)[role] ?? null;

export const roleOf = (format: CsvLayout, column: number): ColumnRole | undefined =>
  rolesOf(format).find((role) => columnOf(format, role) === column);

/**
 * Gives a column a role, or none. The column that had it takes over what this one was, so that two mixed up columns change
 * places by one choice. What is needed stays somewhere: a price is only taken from a column by giving it to another, and ticks
 * keep one of theirs.
 */
export function withRole(format: CsvLayout, column: number, role: ColumnRole | null): CsvLayout {
  const held = roleOf(format, column);
  if (held === role || (held === undefined && role === null)) return format;
  const from = role === null ? null : columnOf(format, role);
  if (held !== undefined && from === null && !OPTIONAL.includes(held)) return format;
  const next = { ...format, ...(held === undefined ? {} : { [held]: from }), ...(role === null ? {} : { [role]: column }) };
  return isOfTicks(next) && TICK_PRICES.every((price) => columnOf(next, price) === null) ? format : next;
}

/** The same file read as ticks, or as bars: the close is the price, the price and the columns behind it are those of a bar. */
export function asKind(format: CsvLayout, kind: "bars" | "ticks", width: number): CsvLayout {
  if ((kind === "ticks") === isOfTicks(format)) return format;
  const { delimiter, headerLines, time, clock, zoneColumn, volume, dateFormat, decimal, zone, stamp } = format;
  const common = { delimiter, headerLines, time, clock, zoneColumn, dateFormat, decimal, zone, stamp };
  if (!isOfTicks(format)) return { ...common, kind: "ticks", price: format.close, bid: null, ask: null, volume } satisfies TickLayout;
  const free = Array.from({ length: Math.max(width, 8) }, (_, column) => column).filter(
    (column) => ![time, clock, zoneColumn].includes(column),
  );
  const [open, high, low, close] = free;
  return { ...common, open: open!, high: high!, low: low!, close: close!, volume: null } satisfies BarLayout;
}
