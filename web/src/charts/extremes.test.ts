import { Random } from "@plan-tester/core";
import { expect, test } from "vitest";
import { columnRange } from "./extremes.ts";

function slowRange(values: Float64Array, from: number, to: number): readonly [number, number] | null {
  const seen = [...values.slice(Math.max(0, from), to + 1)].filter((value) => !Number.isNaN(value));
  return seen.length > 0 ? [Math.min(...seen), Math.max(...seen)] : null;
}

test("random stretches of random columns have the lowest and highest value of a plain look", () => {
  const random = new Random(Date.now() % 1e9);
  for (const length of [1, 60, 64, 65, 500, 5000]) {
    const values = Float64Array.from({ length }, () => (random.next() < 0.2 ? Number.NaN : random.next() * 100));
    values.fill(Number.NaN, 0, Math.min(length, 130));
    for (let round = 0; round < 200; round++) {
      const from = Math.floor(random.next() * length) - 3;
      const to = from + Math.floor(random.next() * length);
      expect(columnRange(values, from, to), `${from} to ${to} of ${length}`).toEqual(slowRange(values, from, to));
    }
  }
});
