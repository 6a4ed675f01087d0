import { describe, expect, test } from "vitest";
import { Random } from "../random.ts";
import { compareMarks, type Mark, type MarkedTrade } from "./marks.ts";

const TIME = Float64Array.from({ length: 100 }, (_none, i) => i * 60_000);
const at = (bar: number): number => bar * 60_000;

const mark = (id: string, entry: number, side: 1 | -1 = 1, exit: number | null = null): Mark => ({
  ...{ id, side, entryMs: at(entry), entryPrice: 100, exitMs: exit === null ? null : at(exit), exitPrice: exit === null ? null : 101 },
  ...{ stop: null, target: null, note: "", planId: "" },
});
const trade = (id: number, entry: number, side: 1 | -1 = 1, exit = entry + 5): MarkedTrade => ({
  id,
  side,
  entryMs: at(entry),
  exitMs: at(exit),
});

describe("marks against trades", () => {
  test.each<[string, Mark[], MarkedTrade[], string[], string[], number[]]>([
    ["a trade on the mark's bar meets it", [mark("a", 10)], [trade(1, 10)], ["a 1 0"], [], []],
    [
      "one as far away as allowed does, ahead or behind",
      [mark("a", 10), mark("b", 30)],
      [trade(1, 8), trade(2, 32)],
      ["a 1 -2", "b 2 2"],
      [],
      [],
    ],
    ["one farther away does not", [mark("a", 10)], [trade(1, 13)], [], ["a"], [1]],
    ["one of the other side does not", [mark("a", 10)], [trade(1, 10, -1)], [], ["a"], [1]],
    ["the nearer of two trades meets it, the other is unmarked", [mark("a", 10)], [trade(1, 9), trade(2, 10)], ["a 2 0"], [], [1]],
    ["the nearer of two marks is met", [mark("a", 10), mark("b", 12)], [trade(1, 12)], ["b 1 0"], ["a"], []],
    ["without trades all are missed", [mark("a", 10)], [], [], ["a"], []],
    ["without marks no trade is marked", [], [trade(1, 3)], [], [], [1]],
  ])("%s", (_what, marks, trades, met, missed, unmarked) => {
    const found = compareMarks(marks, trades, TIME, 2);
    expect(found.met.map(({ mark: { id }, tradeId, entryBars }) => `${id} ${tradeId} ${entryBars}`)).toEqual(met);
    expect(found.missed.map(({ id }) => id)).toEqual(missed);
    expect(found.unmarked).toEqual(unmarked);
  });

  test("how far exits lie apart is told where the mark has one; a moment inside a bar is of that bar", () => {
    const [one] = compareMarks([mark("a", 10, 1, 20)], [{ ...trade(1, 10), entryMs: at(10) + 30_000, exitMs: at(23) + 1 }], TIME, 0).met;
    expect([one!.entryBars, one!.exitBars]).toEqual([0, 3]);
    expect(compareMarks([mark("a", 10)], [trade(1, 10)], TIME, 0).met[0]!.exitBars).toBeNull();
  });

  test("of random marks and trades each is counted once, and no pair that could still meet is left", () => {
    const random = new Random(Date.now() % 1e9);
    const whole = (below: number): number => Math.floor(random.next() * below);
    for (let round = 0; round < 300; round++) {
      const side = (): 1 | -1 => (whole(2) ? 1 : -1);
      const marks = Array.from({ length: whole(12) }, (_none, k) => mark(`m${k}`, whole(60), side()));
      const trades = Array.from({ length: whole(12) }, (_none, k) => trade(k, whole(60), side()));
      const { met, missed, unmarked } = compareMarks(marks, trades, TIME, 3);
      expect(met.length + missed.length).toBe(marks.length);
      expect(new Set([...met.map(({ tradeId }) => tradeId), ...unmarked]).size).toBe(trades.length);
      for (const one of missed)
        for (const id of unmarked) {
          const other = trades.find((candidate) => candidate.id === id)!;
          expect(one.side === other.side && Math.abs(one.entryMs - other.entryMs) <= at(3)).toBe(false);
        }
    }
  });
});
