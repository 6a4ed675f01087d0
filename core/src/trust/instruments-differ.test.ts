import { describe, expect, test } from "vitest";
import { Random } from "../random.ts";
import { instrumentsDiffer } from "./instruments-differ.ts";

/** Trades of three instruments, of which one earns more by so many deviations. */
function trades(seed: number, more: number, count = 40) {
  const random = new Random(seed);
  return Array.from({ length: 3 * count }, (_none, k) => {
    const r = random.normal() + (k % 3 === 0 ? more : 0);
    return { symbol: ["KELP", "BRIN", "TIDE"][k % 3]!, net: 100 * r, r: r as number | null };
  });
}

describe("results by instrument", () => {
  test("one that earns where the others do not is more than noise; each is told with its trades", () => {
    const { parts, p, unit } = instrumentsDiffer(trades(1, 1.5))!;
    expect([p, unit]).toEqual([0.001, "R"]);
    expect(parts.map(({ symbol, trades: own }) => [symbol, own])).toEqual([
      ["KELP", 40],
      ["BRIN", 40],
      ["TIDE", 40],
    ]);
    expect(parts[0]!.net).toBeCloseTo(100 * 40 * parts[0]!.average, 6);
    expect(parts[0]!.average).toBeGreaterThan(1);
  });

  test("instruments that mean nothing are called different as often as chance says", () => {
    const worlds = 200;
    let called = 0;
    for (let seed = 0; seed < worlds; seed++) if (instrumentsDiffer(trades(100 + seed, 0, 15), seed)!.p! <= 0.1) called++;
    expect(Math.abs(called / worlds - 0.1)).toBeLessThan(4 * Math.sqrt(0.09 / worlds));
  });

  test("without stops it is money; one instrument alone, or few trades of one, tell nothing", () => {
    const some = trades(3, 0);
    expect(instrumentsDiffer(some.map((trade, k) => (k === 7 ? { ...trade, r: null } : trade)))!.unit).toBe("money");
    expect(instrumentsDiffer(some.filter(({ symbol }) => symbol === "KELP"))).toBeNull();
    expect(instrumentsDiffer([])).toBeNull();
    const few = instrumentsDiffer([...some.filter(({ symbol }) => symbol !== "TIDE"), some[2]!])!;
    expect([few.p, few.problem]).toEqual([null, "TIDE has 1 trade; 10 of each are needed to tell anything."]);
  });
});
