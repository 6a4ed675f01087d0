import { describe, expect, test } from "vitest";
import { DAY_MS, MINUTE_MS } from "../market/timeframe.ts";
import { guessTimeframe, spacingProblem } from "./spacing.ts";

const MONDAY = Date.UTC(2025, 2, 31);
const HOUR_MS = 60 * MINUTE_MS;
const every = (step: number, count = 40, from = MONDAY): number[] => Array.from({ length: count }, (_, i) => from + i * step);
/** Bars at some times of day, over so many days. */
const daily = (hours: readonly number[], days: number): number[] =>
  every(DAY_MS, days).flatMap((day) => hours.map((hour) => day + hour * HOUR_MS));
const problem = (times: readonly number[], timeframe: string) =>
  spacingProblem(
    Float64Array.from(times),
    timeframe,
    Float64Array.from(times, (_, i) => i + 2),
  );

describe("bars that lie as their timeframe says", () => {
  test.each<[string, string, number[]]>([
    ["quarters of an hour", "15m", every(15 * MINUTE_MS)],
    ["minutes of a thin market", "1m", every(MINUTE_MS, 400).filter((_, i) => (i * 7919) % 11 < 5)],
    ["hours with a short one ahead of a break", "1h", daily([9.5, 10, 11, 11.5, 13, 14], 8)],
    ["four hours of a short session: every second one is cut", "4h", daily([9.5, 12], 20)],
    [
      "sessions, with weekends and clocks that change",
      "1d",
      every(DAY_MS, 60)
        .filter((ms) => new Date(ms).getUTCDay() % 6 > 0)
        .map((ms, i) => ms - (i > 20 ? HOUR_MS : 0)),
    ],
    ["weeks, one of which begins on Tuesday", "1w", every(7 * DAY_MS, 30).map((ms, i) => ms + (i === 12 ? DAY_MS : 0))],
    ["months", "1mo", Array.from({ length: 26 }, (_, i) => Date.UTC(2023, i, 1))],
    ["two bars, which tell nothing", "1h", every(MINUTE_MS, 2)],
  ])("%s, %s", (_what, timeframe, times) => {
    expect(problem(times, timeframe)).toBeNull();
  });
});

describe("bars that do not", () => {
  test.each<[string, string, number[], number, RegExp]>([
    ["quarters declared as minutes", "1m", every(15 * MINUTE_MS), 3, /15 minutes after .* not bars of 1 min but, it seems, bars of 15 min/],
    ["quarters declared as hours", "1h", every(15 * MINUTE_MS), 4, /15 minutes after .* not bars of 1 h but, it seems, bars of 15 min/],
    ["quarters declared as days", "1d", every(15 * MINUTE_MS), 4, /not daily bars but, it seems, bars of 15 min/],
    ["days declared as hours", "1h", every(DAY_MS), 3, /1 day after .* but, it seems, daily bars/],
    ["weeks declared as days", "1d", every(7 * DAY_MS), 3, /7 days after .* not daily bars but, it seems, weekly bars/],
    ["days declared as weeks", "1w", every(DAY_MS), 4, /not weekly bars but, it seems, daily bars/],
    [
      "months declared as weeks",
      "1w",
      Array.from({ length: 26 }, (_, i) => Date.UTC(2023, i, 1)),
      3,
      /not weekly bars but, it seems, monthly bars/,
    ],
    ["seconds declared as minutes", "1m", every(1000), 4, /the finest bars are those of a minute/],
    [
      "minutes, then hours",
      "1m",
      [...every(MINUTE_MS, 60), ...every(HOUR_MS, 60, MONDAY + 2 * HOUR_MS)],
      63,
      /1 hour apart and not 1 minute/,
    ],
    [
      "hours, then minutes",
      "1m",
      [...every(HOUR_MS, 30), ...every(MINUTE_MS, 600, MONDAY + 30 * HOUR_MS)],
      33,
      /1 minute apart and not 1 hour/,
    ],
  ])("%s", (_what, timeframe, times, line, text) => {
    expect(problem(times, timeframe)).toMatchObject({ line, text: expect.stringMatching(text) });
  });

  test("the guess is one that fits", () => {
    for (const minutes of [1, 2, 5, 15, 30, 60, 240, 1440]) {
      const times = every(minutes * MINUTE_MS, 50);
      expect(problem(times, guessTimeframe(Float64Array.from(times)))).toBeNull();
    }
  });
});
