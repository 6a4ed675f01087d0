import { expect, test } from "vitest";
import type { BarColumns } from "../market/bars.ts";
import { Random } from "../random.ts";
import { readerOf } from "./file-reader.ts";
import { guessLayout } from "./guess-layout.ts";
import { barsAsText } from "./write-bars.ts";

/** Prices with every digit that a number has. */
function rough(length: number, hasSpread: boolean): BarColumns {
  const random = new Random(11);
  const column = (value: (i: number) => number): Float64Array => Float64Array.from({ length }, (_none, i) => value(i));
  const close = column(() => 100 + random.normal());
  return {
    time: column((i) => Date.UTC(2025, 2, 3) + i * 60_000),
    open: close.map((price) => price - 0.1),
    high: close.map((price) => price + random.next() * 1e-7 + 0.2),
    low: close.map((price) => price - 0.3),
    close,
    volume: column((i) => (i % 3 === 0 ? 0 : 1e9 * random.next())),
    ...(hasSpread && { spread: column(() => random.next() / 3) }),
  };
}

test.each([false, true])("read back from CSV bars are the same, to the last bit (with a spread: %s)", (hasSpread) => {
  const bars = rough(45_000, hasSpread);
  const text = [...barsAsText(bars, "csv")].join("");
  const reader = readerOf(guessLayout(text.slice(0, 4000), "UTC").layout, "1m");
  reader.feed(new TextEncoder().encode(text));
  const { columns, rejected } = reader.finish();
  expect(rejected).toBe(0);
  for (const name of ["time", "open", "high", "low", "close", "volume"] as const) expect(columns[name]).toEqual(bars[name]);
  expect(columns.spread).toEqual(bars.spread);
});

test("and from JSON lines", () => {
  const bars = rough(100, true);
  const rows = [...barsAsText(bars, "jsonl")]
    .join("")
    .trimEnd()
    .split("\n")
    .map((line) => JSON.parse(line) as Record<string, number | string>);
  expect(rows.map(({ time }) => Date.parse(String(time)))).toEqual([...bars.time]);
  for (const name of ["open", "high", "low", "close", "volume", "spread"] as const)
    expect(rows.map((row) => row[name])).toEqual([...bars[name]!]);
});
