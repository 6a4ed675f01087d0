/** Bars with what is known of when there should be any: worked out once for all that looks through them. */
import type { BarSeries } from "../market/bars.ts";
import { layOutSessions, type SessionTable } from "../market/calendar.ts";
import type { Instrument } from "../market/instrument.ts";
import { type Slots, slotsOf } from "./slots.ts";

export interface History {
  readonly series: BarSeries;
  readonly instrument: Instrument;
  /** Those that the bars reach into. */
  readonly sessions: SessionTable;
  /** null for weeks and months. */
  readonly slots: Slots | null;
}

/** @param series one bar at least */
export function historyOf(series: BarSeries, instrument: Instrument): History {
  const { time, timeframe } = series;
  const sessions = layOutSessions(instrument.calendar, time[0]!, time[time.length - 1]! + 1);
  return { series, instrument, sessions, slots: slotsOf(series, timeframe, sessions) };
}
