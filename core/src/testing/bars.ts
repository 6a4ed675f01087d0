/** Small bar series for tests. */
import { type BarSeries, makeSeries } from "../market/bars.ts";
import { ALWAYS_OPEN, type SessionCalendar } from "../market/calendar.ts";
import { type Instrument, NO_COSTS } from "../market/instrument.ts";
import { Random } from "../random.ts";

export const START = Date.UTC(2025, 2, 3);

/** [open, high, low, close] of each bar, one a minute. */
export type Ohlc = readonly [number, number, number, number];

export function barsOf(rows: readonly Ohlc[], timeframe = "1m", stepMs = 60_000, calendar: SessionCalendar = ALWAYS_OPEN): BarSeries {
  return makeSeries(
    {
      time: Float64Array.from(rows, (_row, i) => START + i * stepMs),
      open: Float64Array.from(rows, (row) => row[0]),
      high: Float64Array.from(rows, (row) => row[1]),
      low: Float64Array.from(rows, (row) => row[2]),
      close: Float64Array.from(rows, (row) => row[3]),
      volume: Float64Array.from(rows, () => 1),
    },
    timeframe,
    calendar,
  );
}

/** A seeded random walk on a grid of 0.25. */
export function walk(length: number, seed: number): BarSeries {
  const random = new Random(seed);
  let price = 400;
  const rows: Ohlc[] = [];
  for (let i = 0; i < length; i++) {
    const gap = random.next() < 0.1 ? Math.round(random.normal() * 6) : 0;
    const open = Math.max(40, price + gap);
    const close = Math.max(40, open + Math.round(random.normal() * 4));
    const high = Math.max(open, close) + Math.floor(random.next() * 5);
    const low = Math.max(20, Math.min(open, close) - Math.floor(random.next() * 5));
    rows.push([open / 4, high / 4, low / 4, close / 4]);
    price = close;
  }
  return barsOf(rows);
}

/** A walk of half-hour bars over several sessions, with volumes of which some are 0. */
export function tradedWalk(length: number, seed: number): BarSeries {
  const random = new Random(seed + 1);
  const { open, high, low, close } = walk(length, seed);
  const time = Float64Array.from(close, (_value, i) => START + i * 1_800_000);
  const volume = Float64Array.from(close, () => (random.next() < 0.1 ? 0 : Math.ceil(random.next() * 500)));
  return makeSeries({ time, open, high, low, close, volume }, "30m", ALWAYS_OPEN);
}

export const INSTRUMENT: Instrument = {
  symbol: "TEST",
  name: "Test",
  class: "other",
  currency: "XSC",
  tickSize: 0.25,
  pipSize: 0.25,
  pointValue: 10,
  decimals: 2,
  minQuantity: 1,
  quantityStep: 1,
  calendar: ALWAYS_OPEN,
  costs: NO_COSTS,
  note: "",
};
