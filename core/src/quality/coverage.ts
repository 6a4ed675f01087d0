/** A history as a map: one row for each session, one cell for each stretch of it, with what is there, missing and doubtful. */
import { DAY_MS, MINUTE_MS } from "../market/timeframe.ts";
import { DOUBTS, type Finding } from "./finding.ts";
import type { History } from "./history.ts";

/** No trading is expected there. */
export const CLOSED = 255;

export interface CoverageMap {
  /** Dates of the sessions, one a row. */
  readonly dates: readonly string[];
  readonly openMs: Float64Array;
  /** Cells a row, and minutes of each from the open of the session. */
  readonly cells: number;
  readonly cellMinutes: number;
  /** Row by row: percent of the expected bars that are there, or `CLOSED`. */
  readonly present: Uint8Array;
  /** Row by row: one more than the place in `DOUBTS` of what is doubtful there; 0 for nothing. */
  readonly doubt: Uint8Array;
}

/** Cells a row at most: what a screen has room for. */
const MOST_CELLS = 96;

/** @returns null for weeks and months, and for an instrument without a calendar of its own */
export function coverageMap({ instrument, sessions, slots }: History, findings: readonly Finding[]): CoverageMap | null {
  if (!slots || instrument.calendar.isAssumed) return null;
  const { openMs, closeMs, dates } = sessions;
  const rows = dates.length;
  let longest = 0;
  for (let s = 0; s < rows; s++) longest = Math.max(longest, Math.min(DAY_MS, closeMs[s]! - openMs[s]!) / MINUTE_MS);
  const isSession = Number.isNaN(slots.stepMs);
  const stepMinutes = isSession ? longest : slots.stepMs / MINUTE_MS;
  const cellMinutes = isSession ? longest : Math.ceil(longest / MOST_CELLS / stepMinutes) * stepMinutes;
  const cells = Math.max(1, Math.ceil(longest / cellMinutes));
  const [expected, there] = [new Uint16Array(rows * cells), new Uint16Array(rows * cells)];
  const cellOf = (s: number, ms: number): number =>
    s * cells + Math.min(cells - 1, Math.max(0, Math.floor((ms - openMs[s]!) / MINUTE_MS / cellMinutes)));
  for (let n = 0; n < slots.time.length; n++) {
    const cell = cellOf(slots.session[n]!, slots.time[n]!);
    expected[cell]!++;
    if (slots.bar[n]! >= 0) there[cell]!++;
  }
  const present = Uint8Array.from(expected, (count, k) => (count === 0 ? CLOSED : Math.round((100 * there[k]!) / count)));
  const doubt = new Uint8Array(rows * cells);
  for (const { kind, fromMs, toMs } of findings) {
    const code = DOUBTS.indexOf(kind) + 1;
    for (let s = 0; s < rows; s++) {
      const until = s + 1 < rows ? openMs[s + 1]! : Number.POSITIVE_INFINITY;
      if (until <= fromMs || (openMs[s]! >= toMs && openMs[s]! > fromMs)) continue;
      // What lies outside of a session is shown at its end.
      const from = cellOf(s, Math.max(fromMs, openMs[s]!));
      const to = cellOf(s, Math.min(Math.max(toMs - 1, fromMs), until - 1));
      doubt.fill(code, from, to + 1);
    }
  }
  return { dates, openMs, cells, cellMinutes, present, doubt };
}
