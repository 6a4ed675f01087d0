import { describe, expect, test } from "vitest";
import {
  clockAt,
  count,
  dateWords,
  dayAt,
  decimalsOf,
  duration,
  money,
  number,
  percent,
  priceDecimals,
  priceText,
  rangeDecimals,
  signed,
  signedMoney,
  timeAt,
  units,
} from "./format.ts";

describe("numbers", () => {
  test.each([
    [1234567.891, 0, "1,234,568"],
    [-6310, 0, "−6,310"],
    [-0.4, 0, "0"],
    [0.125, 2, "0.13"],
    [null, 2, "–"],
    [Number.NaN, 0, "–"],
    [Number.POSITIVE_INFINITY, 0, "–"],
  ])("%f with %i decimals is %s", (value, decimals, text) => {
    expect(number(value, decimals)).toBe(text);
  });

  test("signs, shares and counts", () => {
    expect([signed(5), signed(-5), signed(0), signed(null)]).toEqual(["+5", "−5", "0", "–"]);
    expect([percent(0.185), percent(-0.06, 0), percent(null)]).toEqual(["18.5\u00a0%", "−6\u00a0%", "–"]);
    expect([count(1, "trade"), count(2000, "trade"), count(2, "loss", "losses")]).toEqual(["1 trade", "2,000 trades", "2 losses"]);
  });
});

test("times are the exchange's own, through daylight saving", () => {
  const winter = Date.UTC(2025, 0, 31, 7, 15);
  const summer = Date.UTC(2025, 6, 31, 7, 15);
  expect(timeAt(winter, "Atlantic/Faroe")).toBe("31 Jan 2025, 07:15");
  expect(timeAt(summer, "Atlantic/Faroe")).toBe("31 Jul 2025, 08:15");
  expect(clockAt(summer, "Atlantic/Faroe")).toBe("08:15");
  expect([dayAt(null, "UTC"), dateWords("2025-03-03")]).toEqual(["–", "3 Mar 2025"]);
});

test.each([
  [312, "312 ms"],
  [4210, "4.2 s"],
  [42_100, "42 s"],
  [125_000, "2 min 5 s"],
  [7_500_000, "2 h 5 min"],
])("%i ms is %s", (ms, text) => {
  expect(duration(ms)).toBe(text);
});

test.each([
  [3, "3"],
  [0.05, "0.05"],
  [12_500, "12,500"],
  [0.1 + 0.2, "0.3"],
  [1e-7, "0.0000001"],
  [-2.5, "−2.5"],
  [100, "100"],
  [null, "–"],
])("a size of %d is %s", (value, text) => {
  expect(units(value)).toBe(text);
});

test.each<[readonly number[] | undefined, number]>([
  [[0.0003, -0.0002, Number.NaN, 0.0004], 6],
  [[0.12, 0.5, 0.9], 3],
  [[1, 1, 1], 2],
  [[55, 40, 60], 1],
  [[1500, 1600, 0], 0],
  [[Number.NaN, 0], 2],
  [undefined, 2],
])("values such as %s have %i decimals", (values, decimals) => {
  expect(decimalsOf(values)).toBe(decimals);
});

test.each([
  [-0.34, "−0.34", "−0.34"],
  [23.5, "23.50", "+23.50"],
  [45, "45", "+45"],
  [1234.56, "1,235", "+1,235"],
  [0.00042, "0.00042", "+0.00042"],
  [0, "0", "0"],
  [null, "–", "–"],
])("money of %d shows what it needs", (value, plain, withSign) => {
  expect([money(value), signedMoney(value)]).toEqual([plain, withSign]);
});

test.each([
  [1.23456, 5, "1.23456"],
  // Half a tick of spread: cut to the instrument's decimals, entry and exit would not add up to the trade's pips.
  [1.234565, 5, "1.234565"],
  [412.125, 2, "412.125"],
  [0.1 + 0.2, 1, "0.3"],
  [101.987_654_321, 2, "101.98765"],
  [undefined, 2, "–"],
])("a price of %d with %i decimals", (value, decimals, text) => {
  expect(priceText(value, decimals)).toBe(text);
});

test.each([
  [[100_000, 104_000], 0],
  [[99.5, 100, 99.9], 2],
  [[5, 5], 0],
  [[Number.NaN, 1, 9], 1],
])("an axis over %j has %i decimals", (values, decimals) => {
  expect(rangeDecimals(values)).toBe(decimals);
});

test("prices of one column have as many decimals as the one that needs most", () => {
  expect(priceDecimals([130.15, 130.375, 131], 2)).toBe(3);
  expect(priceDecimals([130.15, 131], 2)).toBe(2);
  expect(priceDecimals([], 4)).toBe(4);
  expect(priceDecimals([1 / 3, 1], 2)).toBe(5);
});
