/** The spread of the data as a column: of the bar, of longer bars, of the one that forms, and of data that have none. */
import { expect, test } from "vitest";
import { barsOf } from "../testing/bars.ts";
import { runBuild } from "../testing/run.ts";
import { evaluateStudy } from "./expression.ts";

const plain = barsOf(Array.from({ length: 120 }, (_none, i) => [100 + i, 101 + i, 99 + i, 100 + i] as const));
const spreads = Float64Array.from({ length: 120 }, (_none, i) => 0.25 * (i % 7));
const withSpread = { ...plain, spread: spreads };

test("is that of each bar, and 0 where the data have none", () => {
  expect(evaluateStudy("spread", withSpread).values).toEqual(spreads);
  expect(evaluateStudy("sma(spread, 3)", withSpread).values[5]).toBeCloseTo(1, 12);
  expect(evaluateStudy("spread", plain).values).toEqual(new Float64Array(120));
});

test("a plan reads it, on longer bars the widest, and forming that of the bar before", () => {
  const seen: number[][] = [];
  runBuild(withSpread, ({ bars, on }) => {
    const [own, longer] = [bars.spread, bars.at("30m").spread];
    on.barClose(() => seen.push([own.now, longer.now]));
  });
  expect(seen.map(([now]) => now)).toEqual([...spreads].slice(120 - seen.length));
  expect(seen.at(-1)![1]).toBe(1.5);
});
