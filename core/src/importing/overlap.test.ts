import { describe, expect, test } from "vitest";
import type { BarColumns } from "../market/bars.ts";
import { Random } from "../random.ts";
import { compareBars, mergeBars } from "./overlap.ts";

/** Bars that open at some minutes, each at a price. */
function barsAt(rows: readonly (readonly [minute: number, price: number])[], spread?: number): BarColumns {
  const column = (): Float64Array => Float64Array.from(rows, ([, price]) => price);
  return {
    ...{ time: Float64Array.from(rows, ([minute]) => minute), open: column(), high: column(), low: column(), close: column() },
    ...{ volume: new Float64Array(rows.length), ...(spread !== undefined && { spread: new Float64Array(rows.length).fill(spread) }) },
  };
}
const rowsOf = ({ time, close }: BarColumns): number[][] => Array.from(time, (at, i) => [at, close[i]!]);

const THERE = barsAt([
  [1, 10],
  [2, 11],
  [4, 12],
]);

describe("bars that come to others", () => {
  test.each<[string, [number, number][], [same: number, differs: number, fresh: number], string, string]>([
    ["behind them", [[5, 13]], [0, 0, 1], "1:10 2:11 4:12 5:13", "1:10 2:11 4:12 5:13"],
    ["ahead of them", [[0, 9]], [0, 0, 1], "0:9 1:10 2:11 4:12", "0:9 1:10 2:11 4:12"],
    ["into a hole", [[3, 11]], [0, 0, 1], "1:10 2:11 3:11 4:12", "1:10 2:11 3:11 4:12"],
    [
      "the same once more",
      [
        [1, 10],
        [2, 11],
        [4, 12],
      ],
      [3, 0, 0],
      "1:10 2:11 4:12",
      "1:10 2:11 4:12",
    ],
    [
      "one with another price, one behind",
      [
        [2, 99],
        [4, 12],
        [6, 1],
      ],
      [1, 1, 1],
      "1:10 2:99 4:12 6:1",
      "1:10 2:11 4:12 6:1",
    ],
  ])("%s", (_what, given, [same, differs, fresh], replaced, kept) => {
    const bars = barsAt(given);
    expect(compareBars(THERE, bars)).toMatchObject({ same, differs, fresh });
    const text = (columns: BarColumns): string =>
      rowsOf(columns)
        .map((row) => row.join(":"))
        .join(" ");
    expect([text(mergeBars(THERE, bars, "replace")), text(mergeBars(THERE, bars, "keep"))]).toEqual([replaced, kept]);
  });

  test("what differs is shown, the first twenty of it; a spread counts", () => {
    const rows = Array.from({ length: 30 }, (_, k) => [k, 10] as const);
    const { differs, examples } = compareBars(barsAt(rows, 1), barsAt(rows, 2));
    expect([differs, examples.length, examples[1]!.timeMs]).toEqual([30, 20, 1]);
  });

  test("of random histories every time is there once, in order, with the value of the one that was chosen", () => {
    const seed = Date.now() % 1e9;
    const random = new Random(seed);
    for (let round = 0; round < 200; round++) {
      const some = (): [number, number][] =>
        Array.from({ length: 40 }, (_, minute) => [minute, Math.floor(random.next() * 3)] as [number, number]).filter(
          () => random.next() < 0.5,
        );
      const [there, given] = [some(), some()];
      for (const choice of ["replace", "keep"] as const) {
        const expected = new Map(choice === "replace" ? [...there, ...given] : [...given, ...there]);
        const sorted = [...expected].sort((a, b) => a[0] - b[0]);
        expect(rowsOf(mergeBars(barsAt(there), barsAt(given), choice)), `seed ${seed}`).toEqual(sorted);
      }
      const { same, differs, fresh } = compareBars(barsAt(there), barsAt(given));
      expect(same + differs + fresh).toBe(given.length);
      expect(compareBars(mergeBars(barsAt(there), barsAt(given), "replace"), barsAt(given))).toMatchObject({ differs: 0, fresh: 0 });
    }
  });
});
