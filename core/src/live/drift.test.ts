/** What differs between a watch and the backtest of its bars, and why. */
import { expect, test } from "vitest";
import { type DriftLeg, type DriftMark, driftOf } from "./drift.ts";

const BAR = 60;
const leg = (part: Partial<DriftLeg> = {}): DriftLeg => ({
  ...{
    symbol: "KELP",
    side: 1,
    quantity: 2,
    entryTime: 1000,
    entryPrice: 412,
    entryTag: "in",
    exitTime: 2000,
    exitPrice: 415,
    reason: "target",
  },
  net: 30,
  ...part,
});
const mark = (cause: DriftMark["cause"], timeMs: number): DriftMark => ({ cause, timeMs });

interface Row {
  readonly watch: readonly DriftLeg[];
  readonly backtest: readonly DriftLeg[];
  readonly marks?: readonly DriftMark[];
  /** Cause, words and money of each difference. */
  readonly expected: readonly (readonly [string, string, number])[];
}

const rows: [string, Row][] = [
  ["the same trades", { watch: [leg()], backtest: [leg()], expected: [] }],
  [
    "a worse entry",
    { watch: [leg({ entryPrice: 413, net: 20 })], backtest: [leg()], expected: [["fill price", "entry at 413 for 412", -10]] },
  ],
  [
    "an exit of another price",
    { watch: [leg({ exitPrice: 414, net: 20 })], backtest: [leg()], expected: [["fill price", "exit at 414 for 415", -10]] },
  ],
  [
    "a prompt that was declined",
    { watch: [], backtest: [leg()], marks: [mark("prompt", 1000)], expected: [["prompt", "only in the backtest", -30]] },
  ],
  [
    "a bar that was too old, the mark nearest to it of several",
    { watch: [], backtest: [leg()], marks: [mark("prompt", 900), mark("lag", 990)], expected: [["lag", "only in the backtest", -30]] },
  ],
  [
    "closed by hand ahead of the target",
    {
      watch: [leg({ exitTime: 1500, exitPrice: 413, reason: "signal", net: 10 })],
      backtest: [leg()],
      marks: [mark("by hand", 1490)],
      expected: [["by hand", "closed by signal for target, at another time", -20]],
    },
  ],
  [
    "closed by hand, and what the plan did since it was flat again",
    {
      watch: [
        leg({ exitTime: 1500, exitPrice: 413, reason: "signal", net: 10 }),
        leg({ entryTime: 1700, exitTime: 1800, reason: "stop", net: -8 }),
      ],
      backtest: [leg()],
      marks: [mark("by hand", 1490)],
      expected: [
        ["by hand", "closed by signal for target, at another time", -20],
        ["earlier difference", "only on the watch", -8],
      ],
    },
  ],
  [
    "trades of the version before",
    {
      watch: [leg({ entryTag: "old" })],
      backtest: [leg()],
      marks: [mark("other version", 5000)],
      expected: [
        ["other version", "only on the watch", 30],
        ["other version", "only in the backtest", -30],
      ],
    },
  ],
  [
    "what a plan does that has lost its memory",
    { watch: [leg()], backtest: [], marks: [mark("restart", 500)], expected: [["restart", "only on the watch", 30]] },
  ],
  [
    "a report that was missed when the next came",
    {
      watch: [leg({ entryTime: 1060, entryPrice: 413, net: 20 })],
      backtest: [leg()],
      marks: [mark("connection", 1990)],
      expected: [["connection", "entry at 413 for 412", -10]],
    },
  ],
  [
    "entered a bar later at the same price, after a mark",
    {
      watch: [leg({ entryTime: 1060, exitTime: 2060, exitPrice: 414, net: 20 })],
      backtest: [leg()],
      marks: [mark("connection", 1000)],
      expected: [["connection", "entered at another time; closed by target at another time", -10]],
    },
  ],
  ["a difference that nothing explains", { watch: [leg()], backtest: [], expected: [["not explained", "only on the watch", 30]] }],
  [
    "open on both sides, whatever the last price is",
    { watch: [leg({ exitTime: null, exitPrice: 416 })], backtest: [leg({ exitTime: null })], expected: [] },
  ],
  [
    "open here, closed there",
    {
      watch: [leg({ exitTime: null, exitPrice: 414, reason: "", net: 20 })],
      backtest: [leg()],
      marks: [mark("connection", 1990)],
      expected: [["connection", "still open; the backtest closed by target", -10]],
    },
  ],
  [
    "parts of one lot, in the order of their exits",
    {
      watch: [leg({ quantity: 1, net: 10 }), leg({ quantity: 1, exitTime: 3000, net: 15 })],
      backtest: [leg({ quantity: 1, net: 10 }), leg({ quantity: 1, exitTime: 3000, net: 15 })],
      expected: [],
    },
  ],
  [
    "neighbours within a bar of one another stay apart",
    {
      watch: [leg({ entryTime: 1030, net: 5 })],
      backtest: [leg({ entryTime: 1000, net: 7 }), leg({ entryTime: 1030, net: 5 })],
      expected: [["not explained", "only in the backtest", -7]],
    },
  ],
  [
    "an entry a little later does not take the next one's place",
    {
      watch: [leg({ entryTime: 1000, net: 5 }), leg({ entryTime: 1050, net: 7 })],
      backtest: [leg({ entryTime: 1050, net: 7 })],
      expected: [["not explained", "only on the watch", 5]],
    },
  ],
  [
    "the same prices at other costs",
    { watch: [leg({ net: 28 })], backtest: [leg()], expected: [["fill price", "net 28.00 for 30.00", -2]] },
  ],
  ["another instrument at the same time", { watch: [leg({ symbol: "BRIN" })], backtest: [leg({ symbol: "BRIN" })], expected: [] }],
];

test.each(rows)("%s", (_name, { watch, backtest, marks = [], expected }) => {
  const { items, money, causes, matched } = driftOf({ watch, backtest, marks, barMs: BAR });
  expect(items.map(({ cause, what, money: each }) => [cause, what, each])).toEqual(expected);
  const total = expected.reduce((sum, [, , each]) => sum + each, 0);
  expect(money).toBe(total);
  expect(causes.reduce((sum, cause) => sum + cause.money, 0)).toBe(total);
  // Every trade is either matched or told of, once.
  const told = (side: "watch" | "backtest") => items.filter((item) => item[side] !== null).length + matched;
  expect([told("watch"), told("backtest")]).toEqual([watch.length, backtest.length]);
});
