/** What a column keeps since an event, where some of its values are no number. */
import { expect, test } from "vitest";
import { barsOf } from "../testing/bars.ts";
import { runBuild, words } from "../testing/run.ts";

/** Bars that open at 100 and close 0, 0, 3, 1, 0, 0, 2 above: over themselves, differences of 0 are no number. */
const bars = barsOf([0, 0, 3, 1, 0, 0, 2].map((up) => [100, 100 + Math.max(up, 1), 99, 100 + up] as const));

test.each([
  ["highestSince", [Number.NaN, Number.NaN, 9, 9, Number.NaN, Number.NaN, 4]],
  ["lowestSince", [Number.NaN, Number.NaN, 9, 1, Number.NaN, Number.NaN, 4]],
] as const)("%s passes over values that are no number, also on the bar of the event", (word, expected) => {
  const seen: number[] = [];
  runBuild(bars, ({ bars: own, on }) => {
    const rise = own.close.minus(own.open);
    // The square of the rise, and no number where there is none: 0 over 0.
    const squared = rise.times(rise).times(rise).over(rise);
    const kept = words[word](words.isAtOrBelow(rise, 0), squared);
    on.barClose(() => seen.push(kept.now));
  });
  expect(seen).toEqual(expected);
});
