import { expect, test } from "vitest";
import { LEGS } from "../engine/path-walker.ts";
import { minuteSoFar } from "./minute-so-far.ts";

const BAR = { time: 0, open: 10, high: 12, low: 9, close: 11, volume: 40, spread: 0.1 };

test.each([
  // Low first: it is nearer to the open (R4.1).
  [BAR, 0, { high: 10, low: 10, close: 10 }],
  [BAR, 1, { high: 10, low: 9, close: 9 }],
  [BAR, 2, { high: 12, low: 9, close: 12 }],
  [BAR, 3, { high: 12, low: 9, close: 11 }],
  [{ ...BAR, high: 10.5 }, 1, { high: 10.5, low: 10, close: 10.5 }],
])("a minute as far as it has gone: %o after %i legs", (bar, legs, prices) => {
  expect(minuteSoFar(bar, legs)).toEqual({ ...bar, ...prices, volume: 0 });
});

test("after all legs it has the prices of the whole minute", () => {
  expect(minuteSoFar(BAR, LEGS)).toEqual({ ...BAR, volume: 0 });
});
