/** Long rules and the short ones they turn into; and the law behind it: bars turned upside down turn the rule round. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { makeSeries } from "../market/bars.ts";
import { ALWAYS_OPEN } from "../market/calendar.ts";
import { tradedWalk } from "../testing/bars.ts";
import { rowOf, sheetOf } from "../testing/sheet-rows.ts";
import { SlowSheet } from "../testing/slow-sheet.ts";
import { mirrorRow, mirrorValue } from "./mirror.ts";
import { readValue } from "./read-sentence.ts";
import type { SheetRow } from "./sheet.ts";
import { rulesOfSides } from "./sides.ts";
import { rowText, valueText } from "./words.ts";

const turn = (number: number, about: number): number => about - number;

describe("a long rule and its short one", () => {
  test.each([
    ["the RSI (14) of close crosses below 30", "the RSI (14) of close crosses above 70"],
    ["close is above the SMA (50) of close on 1d", "close is below the SMA (50) of close on 1d"],
    ["close crosses above the highest (20) of high 1 bar ago", "close crosses below the lowest (20) of low 1 bar ago"],
    ["close is above the Bollinger band upper (20, 2) of close", "close is below the Bollinger band lower (20, 2) of close"],
    ["the CCI (20) is at or below -100", "the CCI (20) is at or above 100"],
    [
      "the directional index plus (14) crosses above the directional index minus (14)",
      "the directional index minus (14) crosses above the directional index plus (14)",
    ],
    ["the directional index adx (14) is above 25", "the directional index adx (14) is above 25"],
    ["the ATR (14) is below 3", "the ATR (14) is below 3"],
    ["volume is above the SMA (20) of volume", "volume is above the SMA (20) of volume"],
    ["the RSI (14) of volume is above 60", "the RSI (14) of volume is above 60"],
    ["the RSI (14) of close is between 40 and below 60", "the RSI (14) of close is between above 40 and 60"],
    ["close is between the session low and the session high", "close is between the session low and the session high"],
    ["close is rising for 3 bars", "close is falling for 3 bars"],
    ["volume is rising for 3 bars", "volume is rising for 3 bars"],
    ["the bar is up", "the bar is down"],
    ["the bar on 1h closes down", "the bar on 1h closes up"],
    ["close is above the SMA (20) of close plus the ATR (14) times 2", "close is below the SMA (20) of close minus the ATR (14) times 2"],
    ["close minus open is above 2", "close minus open is below -2"],
    ["close is above open times 1.02", "close is below open times 0.98"],
    ["close over open is above 1.01", "close over open is below 0.99"],
    ["the size of (close minus open) is above 2", "the size of (close minus open) is above 2"],
    [
      "close is above the highest of high since (close crosses above open)",
      "close is below the lowest of low since (close crosses below open)",
    ],
    [
      "bars since (the RSI (14) of close crosses below 30) is at or below 5",
      "bars since (the RSI (14) of close crosses above 70) is at or below 5",
    ],
    ["close is above the larger of (open, the SMA (20) of close)", "close is below the smaller of (open, the SMA (20) of close)"],
    ["the larger of (the RSI (14) of close, 40) is rising for 2 bars", "the smaller of (the RSI (14) of close, 60) is falling for 2 bars"],
    ["the larger of (the ATR (14), 2) is above 3", "the larger of (the ATR (14), 2) is above 3"],
    [
      "the number of the last 10 bars with (close is above open) is at or above 7",
      "the number of the last 10 bars with (close is below open) is at or above 7",
    ],
    ["the correlation (20) of close and open is above 0.5", "the correlation (20) of close and open is above 0.5"],
    ["the correlation (20) of close and volume is above 0.5", "the correlation (20) of close and volume is below -0.5"],
    ["the previous session range is above 4", "the previous session range is above 4"],
    ["close crosses above the previous session high, held for 2 bars", "close crosses below the previous session low, held for 2 bars"],
    ["30 is above the RSI (14) of close", "70 is below the RSI (14) of close"],
    ["the time is from 09:30 to 11:00", "the time is from 09:30 to 11:00"],
  ])("%s", (long, short) => {
    const turned = mirrorRow(rowOf(long, "a"), turn);
    expect(rowText(turned)).toBe(short);
    expect(rowText(mirrorRow(turned, turn))).toBe(long);
  });
});

test("a level of an order is turned like a rule", () => {
  expect(valueText(mirrorValue(readValue("the highest (20) of high plus 2"), turn))).toBe("the lowest (20) of low minus 2");
});

test("rows of the short side's own stand in for those of the id, others are added", () => {
  const sheet = sheetOf(
    { longEntry: ["the RSI (14) of close crosses below 30", "close is above open"], shortEntry: ["close is below 400"] },
    { shortMirrorsLong: true },
  );
  const own = {
    ...sheet,
    shortEntry: {
      ...sheet.shortEntry,
      rules: [{ ...rowOf("the RSI (9) of close crosses above 80", ""), id: "short longEntry0" }, ...sheet.shortEntry.rules],
    },
  };
  const words = rulesOfSides(own).short.entry.rules.map((rule) => rowText(rule as SheetRow));
  expect(words).toEqual(["the RSI (9) of close crosses above 80", "close is below open", "close is below 400"]);
});

/** The same bars upside down: a price p becomes 800 - p, so that highs and lows change places. */
function upsideDown(bars: ReturnType<typeof tradedWalk>): ReturnType<typeof tradedWalk> {
  const turned = (column: Float64Array): Float64Array => column.map((price) => 800 - price);
  const { time, open, high, low, close, volume } = bars;
  return makeSeries(
    { time, open: turned(open), high: turned(low), low: turned(high), close: turned(close), volume },
    bars.timeframe,
    ALWAYS_OPEN,
  );
}

/** Words of studies whose mirror image is exact: what is relative to the price is not, nor what begins with a side of its own. */
const VALUES = [
  "close",
  "high",
  "low",
  "the SMA (5) of close",
  "the EMA (4) of high",
  "the Hull average (4) of low",
  "the median (5) of close",
  "the highest (6) of high",
  "the lowest (6) of low",
  "the Bollinger band upper (6, 1.5) of close",
  "the Keltner band lower (5, 1)",
  "the Donchian channel upper (7)",
  "the session high",
  "the swing high (2) of high",
  "the swing low (1) of close",
  "the cloud lines base (3, 5, 9)",
  "the cloud lines leadA (3, 5, 9)",
  "the weekly VWAP upper (1)",
  "the anchored VWAP lower (1) of bars since open",
  "the floor pivots r3",
  "the open pivots s1",
  "the close pivots r2",
  "the opening minutes high (60)",
  "the averaged bars close",
  "the averaged bars high",
  "the quantile (8, 0.25) of close",
  "the previous session low",
  "the pivots r1",
  "the pivots s2",
  "the regression value (6) of close",
  "the SMA (5) of close on 1h",
  "the highest of high since (the bar is up)",
  "the value of low when (the bar is down)",
  "the session VWAP",
  "the SMA (5) of close plus the ATR (5) times 0.5",
  "the highest (4) of high minus 1.13",
];
const CENTRED = [
  ["the percent range (6)", -27.3],
  ["the rise-fall momentum (5) of close", 13.7],
  ["the true strength line (4, 3, 2) of close", 11.3],
  ["the mid-price momentum (2, 6)", 1.37],
  ["the three-span oscillator (2, 4, 8)", 41.3],
  ["the Fisher transform (5) of close", 0.613],
  ["the detrended price (6) of close", 1.37],
  ["the skewness (8) of close", 0.137],
  ["the vortex plus (5)", 0.813],
  ["the choppiness (6)", 47.3],
  ["the bars since highest (6) of high", 2.5],
  ["the kurtosis (8) of close", 2.13],
  ["the cointegration score (8) of close and high", 0.713],
  ["the RSI (5) of close", 37.3],
  ["the stochastic k (6, 2, 2)", 31.7],
  ["the CCI (6)", -43.7],
  ["the momentum (4) of close", 1.13],
  ["the MACD histogram (3, 6, 3) of close", 0.11],
  ["the z-score (7) of close", 0.61],
  ["the place in range (7) of close", 61.3],
  ["the regression slope (6) of close", 0.13],
  ["the bar body", 0.63],
  ["close minus open 2 bars ago", 0.63],
  ["the RSI (5) of (the SMA (3) of close)", 55.1],
  ["the aroon gap (6)", 13.3],
] as const;
const RELATIONS = ["is above", "is below", "crosses above", "crosses below", "crosses", "is at or above"];

test("on bars turned upside down the mirrored rule holds where the rule did", () => {
  const bars = tradedWalk(400, 5);
  const turnedBars = upsideDown(bars);
  const relation = fc.constantFrom(...RELATIONS);
  const sentence = fc.oneof(
    fc.tuple(fc.constantFrom(...VALUES), relation, fc.constantFrom(...VALUES)).map((words) => words.join(" ")),
    fc.tuple(fc.constantFrom(...CENTRED), relation).map(([[value, level], word]) => `${value} ${word} ${level}`),
    fc.constantFrom(...VALUES).map((value) => `${value} is rising for 2 bars`),
    fc.constantFrom(...CENTRED).map(([value, level]) => `${value} is between ${-Math.abs(level)} and ${Math.abs(level)}`),
  );
  let both = 0;
  fc.assert(
    fc.property(sentence, fc.constantFrom("", ", held for 2 bars", ", at most 2 bars ago"), (text, more) => {
      const long = rowOf(text + more, "a");
      const [slow, turned] = [new SlowSheet(bars), new SlowSheet(turnedBars)];
      const holds = slow.bits(long);
      const mirrored = turned.bits(mirrorRow(long, turn));
      const differ = holds.filter((value, i) => value !== mirrored[i]).length;
      // Sums of mirrored prices are rounded otherwise: where both sides are equal either may come out on top.
      expect(differ, `${rowText(long)} / ${rowText(mirrorRow(long, turn))}`).toBeLessThanOrEqual(2);
      if (holds.some(Boolean) && !holds.every(Boolean)) both++;
    }),
    { numRuns: 400 },
  );
  expect(both).toBeGreaterThan(100);
}, 120_000);
