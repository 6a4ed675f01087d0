/** Timeframes: whole minutes inside a session, or whole sessions, weeks and months. Written "15m", "1h", "1d", "1w", "1mo". */
import { PlanTesterError } from "../errors.ts";

export const MINUTE_MS = 60_000;
export const DAY_MS = 86_400_000;

export type Timeframe =
  | { readonly unit: "minutes"; readonly count: number }
  | { readonly unit: "sessions" | "weeks" | "months"; readonly count: 1 };

/** The timeframes a menu offers; any whole number of minutes up to a session is accepted. */
export const COMMON_TIMEFRAMES = ["1m", "2m", "3m", "5m", "10m", "15m", "30m", "1h", "2h", "4h", "1d", "1w", "1mo"] as const;

const PATTERN = /^(\d{1,4})(m|h|d|w|mo)$/;

/**
 * Reads a timeframe.
 * @throws PlanTesterError bad-timeframe when the text is not a timeframe or asks for several days, weeks or months.
 */
export function parseTimeframe(text: string): Timeframe {
  const match = PATTERN.exec(text);
  const count = Number(match?.[1]);
  const unit = match?.[2];
  if (!match || count < 1) throw badTimeframe(text);
  if (unit === "m" || unit === "h") {
    const minutes = unit === "h" ? count * 60 : count;
    if (minutes > 1440) throw badTimeframe(text);
    return { unit: "minutes", count: minutes };
  }
  if (count !== 1) throw badTimeframe(text);
  return { unit: unit === "d" ? "sessions" : unit === "w" ? "weeks" : "months", count: 1 };
}

function badTimeframe(text: string): PlanTesterError {
  return new PlanTesterError(
    "bad-timeframe",
    `"${text}" is not a timeframe. Use whole minutes or hours up to a day (1m, 15m, 4h), or 1d, 1w, 1mo.`,
    { timeframe: text },
  );
}

/** A timeframe in words: "15 min", "4 h", "daily". */
export function timeframeLabel(text: string): string {
  const timeframe = parseTimeframe(text);
  if (timeframe.unit === "minutes") return timeframe.count % 60 === 0 ? `${timeframe.count / 60} h` : `${timeframe.count} min`;
  return { sessions: "daily", weeks: "weekly", months: "monthly" }[timeframe.unit];
}

/** Nominal length in milliseconds: for display and for guessing, never for closing times. */
export function nominalMs(text: string): number {
  const timeframe = parseTimeframe(text);
  if (timeframe.unit === "minutes") return timeframe.count * MINUTE_MS;
  return { sessions: 1, weeks: 7, months: 30 }[timeframe.unit] * DAY_MS;
}
