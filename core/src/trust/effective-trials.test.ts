import { describe, expect, test } from "vitest";
import { Random } from "../random.ts";
import { effectiveTrials } from "./effective-trials.ts";

const random = new Random(7);
const noise = (days: number): number[] => Array.from({ length: days }, () => random.normal());
const flat = (rows: readonly (readonly number[])[]): number[] => rows.flatMap((row) => [...row]);

describe("the number of independent settings", () => {
  const [a, b] = [noise(4000), noise(4000)];

  test("copies, turned and scaled ones too, are one", () => {
    expect(effectiveTrials(flat([a, a, a]), 3)).toBeCloseTo(1, 9);
    expect(effectiveTrials(flat([a, a.map((value) => 3 - 2 * value), a]), 3)).toBeCloseTo(1, 9);
  });

  test("what has nothing in common counts as many", () => {
    const rows = Array.from({ length: 12 }, () => noise(4000));
    expect(effectiveTrials(flat(rows), 12)).toBeGreaterThan(11.8);
    expect(effectiveTrials(flat([a, a, a, b, b, b]), 6)).toBeCloseTo(2, 1);
  });

  test("of two with correlation c it is 2 / (1 + c^2)", () => {
    const c = 0.6;
    const mixed = a.map((value, t) => c * value + Math.sqrt(1 - c * c) * b[t]!);
    expect(effectiveTrials(flat([a, mixed]), 2)).toBeCloseTo(2 / (1 + c * c), 1);
  });

  test("more settings than days and fewer come to the same by either matrix", () => {
    const common = noise(30);
    const rows = Array.from({ length: 40 }, () => noise(30).map((value, t) => value + common[t]!));
    const slow = (() => {
      const scaled = rows.map((row) => {
        const m = row.reduce((sum, value) => sum + value, 0) / row.length;
        const size = Math.sqrt(row.reduce((sum, value) => sum + (value - m) ** 2, 0));
        return row.map((value) => (value - m) / size);
      });
      let squares = 0;
      for (const x of scaled) for (const y of scaled) squares += x.reduce((sum, value, t) => sum + value * y[t]!, 0) ** 2;
      return rows.length ** 2 / squares;
    })();
    expect(effectiveTrials(flat(rows), 40)).toBeCloseTo(slow, 9);
    expect(slow).toBeLessThan(20);
  });

  test("settings that never traded are none", () => {
    expect(effectiveTrials(flat([a, a.map(() => 0), a.map(() => 100.1)]), 3)).toBeCloseTo(1, 9);
    expect(effectiveTrials([0, 0, 0, 0], 2)).toBe(0);
    expect(() => effectiveTrials([1, 2, 3], 2)).toThrow(/3 returns are not as many for each of 2 settings/);
  });
});
