/** How a file of text is read: what each of its columns is, and how times and numbers are written. */
import type { DecimalSign } from "./number-text.ts";
import type { DateFormat } from "./time-text.ts";

interface TextLayout {
  readonly delimiter: string;
  readonly headerLines: number;
  readonly time: number;
  /** Column of the time of day, where it stands apart from the date. */
  readonly clock: number | null;
  /** Column of the zone, where each line names it. */
  readonly zoneColumn: number | null;
  readonly volume: number | null;
  readonly dateFormat: DateFormat;
  readonly decimal: DecimalSign;
  /** Of times that name none. */
  readonly zone: string;
  /** Whether a time marks the bar's open or its close; of a tick it is its own. */
  readonly stamp: "open" | "close";
}

/** A bar a line. */
export interface BarLayout extends TextLayout {
  readonly kind?: "bars";
  readonly open: number;
  readonly high: number;
  readonly low: number;
  readonly close: number;
  /** Ask minus bid, in price units. */
  readonly spread?: number | null;
}

/** A trade or a quote a line; one of price, bid and ask is there at least. The volume is the size of a trade. */
export interface TickLayout extends TextLayout {
  readonly kind: "ticks";
  readonly price: number | null;
  readonly bid: number | null;
  readonly ask: number | null;
}

export type CsvLayout = BarLayout | TickLayout;

export const isOfTicks = (layout: CsvLayout): layout is TickLayout => layout.kind === "ticks";

/** A layout with what its kind needs, and nothing else that it was given with. */
export function plainLayout(layout: CsvLayout): CsvLayout {
  const { delimiter, headerLines, time, clock, zoneColumn, volume, dateFormat, decimal, zone, stamp } = layout;
  const text = { delimiter, headerLines, time, clock, zoneColumn, volume, dateFormat, decimal, zone, stamp };
  if (isOfTicks(layout)) return { ...text, kind: "ticks", price: layout.price, bid: layout.bid, ask: layout.ask };
  const { open, high, low, close, spread = null } = layout;
  return { ...text, kind: "bars", open, high, low, close, spread };
}
