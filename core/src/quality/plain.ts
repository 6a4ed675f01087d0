/** What can be seen on a single bar: its time, its volume, its place on the price grid, its spread. */
import type { BarColumns } from "../market/bars.ts";
import { type Doubt, type Finding, plural, stretchesOf } from "./finding.ts";
import type { Slots } from "./slots.ts";

/** Prices of a file are rounded: so far from the grid, in ticks, is off it. */
const GRID_TOLERANCE = 1e-4;
/** A history of which more bars than this are off the grid has another tick size. */
const OTHER_TICK_SHARE = 0.2;
/** Volume that is missing from more of the bars than this is simply not known. */
const NO_VOLUME_SHARE = 0.05;

interface Told {
  readonly kind: Doubt;
  readonly isOne: (bar: number) => boolean;
  readonly words: (bars: number, first: number) => string;
}

function findingsOf({ time }: BarColumns, closeTime: Float64Array, { kind, isOne, words }: Told): Finding[] {
  return stretchesOf(time.length, isOne).map(({ first, last, bars }) => ({
    kind,
    ...{ fromMs: time[first]!, toMs: closeTime[last]!, bars, size: bars, text: words(bars, first) },
  }));
}

export const duplicatesIn = (columns: BarColumns, closeTime: Float64Array): Finding[] =>
  findingsOf(columns, closeTime, {
    kind: "duplicate",
    isOne: (i) => i > 0 && columns.time[i] === columns.time[i - 1],
    words: (bars) => `${plural(bars, "bar")} open${bars === 1 ? "s" : ""} at the time of the bar before`,
  });

export function volumeIn(columns: BarColumns, closeTime: Float64Array): Finding[] {
  const { volume } = columns;
  const isNegative = (i: number): boolean => volume[i]! < 0;
  let zeros = 0;
  for (const value of volume) if (value === 0) zeros++;
  const isKnown = zeros <= volume.length * NO_VOLUME_SHARE;
  return findingsOf(columns, closeTime, {
    kind: "volume",
    isOne: (i) => isNegative(i) || (isKnown && volume[i] === 0),
    words: (bars, first) => `${plural(bars, "bar")} with ${isNegative(first) ? "a volume below zero" : "no volume"}`,
  });
}

export function offGridIn(columns: BarColumns, closeTime: Float64Array, tickSize: number): Finding[] {
  const { time, open, high, low, close } = columns;
  const isOff = (price: number): boolean => {
    const ticks = price / tickSize;
    return Math.abs(ticks - Math.round(ticks)) > GRID_TOLERANCE;
  };
  const off = new Uint8Array(time.length);
  let count = 0;
  for (const column of [open, high, low, close])
    for (let i = 0; i < column.length; i++) {
      if (!isOff(column[i]!) || off[i] === 1) continue;
      off[i] = 1;
      count++;
    }
  if (count > time.length * OTHER_TICK_SHARE)
    return [
      {
        kind: "off grid",
        ...{ fromMs: time[0]!, toMs: closeTime[time.length - 1]!, bars: count, size: count / time.length },
        text: `${((100 * count) / time.length).toFixed(0)} % of the bars lie off the grid of ${tickSize}: the tick size may be another`,
      },
    ];
  return findingsOf(columns, closeTime, {
    kind: "off grid",
    isOne: (i) => off[i] === 1,
    words: (bars, first) =>
      `${plural(bars, "bar")} with a price off the grid of ${tickSize}: ${[open, high, low, close].map((column) => column[first]!).find(isOff)}`,
  });
}

export const outsideIn = (columns: BarColumns, closeTime: Float64Array, slots: Slots): Finding[] =>
  findingsOf(columns, closeTime, {
    kind: "outside sessions",
    isOne: (i) => slots.slotOf[i]! < 0,
    words: (bars) => `${plural(bars, "bar")} outside every session of the calendar`,
  });

export const crossedIn = (columns: BarColumns, closeTime: Float64Array): Finding[] =>
  findingsOf(columns, closeTime, {
    kind: "crossed",
    isOne: (i) => columns.spread !== undefined && columns.spread[i]! < 0,
    words: (bars) => `${plural(bars, "bar")} whose bid lies above the ask`,
  });
