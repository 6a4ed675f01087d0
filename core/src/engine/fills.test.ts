/** Worked fills: each row a few bars, what a plan does at their closes, and the trades that must come of it. Rules cited by number. */
import { describe, expect, test } from "vitest";
import { BookBroker } from "../language/broker.ts";
import { NO_COSTS } from "../market/instrument.ts";
import { resample } from "../market/resample.ts";
import { barsOf, INSTRUMENT, type Ohlc } from "../testing/bars.ts";
import { type RunOptions, runBuild, words } from "../testing/run.ts";
import { Account } from "./account.ts";
import { Book } from "./book.ts";
import { PLAIN_ORDER } from "./orders.ts";
import { firstExtreme } from "./path.ts";
import { resolveSettings } from "./settings.ts";
import { walkBar } from "./walk-path.ts";

const { ticks, points, percent, money, price, units } = words;

/** What happens at the close of bar i. */
// biome-ignore lint/suspicious/noExplicitAny: a plan's context is typed by language.d.ts
type Act = (context: any) => void;

interface Case {
  readonly name: string;
  readonly bars: readonly Ohlc[];
  readonly acts: Readonly<Record<number, Act>>;
  readonly options?: RunOptions;
  /** side, entry bar, entry price, exit bar, exit price, reason */
  readonly trades: readonly (readonly ["long" | "short", number, number, number, number, string])[];
}

const flat: Ohlc = [100, 100, 100, 100];
const withCosts = (costs: Partial<typeof NO_COSTS>): RunOptions => ({ settings: { costs: { ...NO_COSTS, ...costs } } });

const CASES: readonly Case[] = [
  {
    name: "R2.3 a market order sent at a close fills at the next open",
    bars: [flat, [101, 103, 100, 102], [103, 103, 103, 103]],
    acts: { 0: ({ enter }) => enter.long(), 1: ({ position }) => position.close() },
    trades: [["long", 1, 101, 2, 103, "signal"]],
  },
  {
    name: "R3 market orders pay half the spread and slippage on each side",
    bars: [flat, [101, 103, 100, 102], [103, 103, 103, 103]],
    acts: { 0: ({ enter }) => enter.long(), 1: ({ position }) => position.close() },
    options: withCosts({ spreadTicks: 2, slippageTicks: 1 }),
    trades: [["long", 1, 101.5, 2, 102.5, "signal"]],
  },
  {
    name: "R1.4 with bid prices a buy pays the whole spread and a sale none",
    bars: [flat, [101, 103, 100, 102], [103, 103, 103, 103]],
    acts: { 0: ({ enter }) => enter.long(), 1: ({ position }) => position.close() },
    options: { settings: { basis: "bid", costs: { ...NO_COSTS, spreadTicks: 2 } } },
    trades: [["long", 1, 101.5, 2, 103, "signal"]],
  },
  {
    name: "R3 a stop buy fills at its price when price rises through it",
    bars: [flat, [100, 104, 99, 103], [103, 103, 103, 103]],
    acts: { 0: ({ enter }) => enter.long.stop(102), 1: ({ position }) => position.close() },
    trades: [["long", 1, 102, 2, 103, "signal"]],
  },
  {
    name: "R3 a stop buy fills at the open of a gap above it",
    bars: [flat, [105, 106, 104, 105], [103, 103, 103, 103]],
    acts: { 0: ({ enter }) => enter.long.stop(102), 1: ({ position }) => position.close() },
    trades: [["long", 1, 105, 2, 103, "signal"]],
  },
  {
    name: "R3 a stop buy is triggered by the ask: with a spread it fills while the path price is still below it",
    bars: [flat, [100, 101.75, 99, 100], [100, 100, 100, 100]],
    acts: { 0: ({ enter }) => enter.long.stop(102), 1: ({ position }) => position.close() },
    options: withCosts({ spreadTicks: 2 }),
    trades: [["long", 1, 102, 2, 99.75, "signal"]],
  },
  {
    name: "R3 a stop sell fills at its price, less slippage",
    bars: [flat, [100, 101, 97, 98], [96, 96, 96, 96]],
    acts: { 0: ({ enter }) => enter.short.stop(98), 1: ({ position }) => position.close() },
    options: withCosts({ slippageTicks: 1 }),
    trades: [["short", 1, 97.75, 2, 96.25, "signal"]],
  },
  {
    name: "R3 a limit buy fills at its price without slippage",
    bars: [flat, [100, 101, 97, 98], [99, 99, 99, 99]],
    acts: { 0: ({ enter }) => enter.long.limit(98), 1: ({ position }) => position.close() },
    options: withCosts({ slippageTicks: 1 }),
    trades: [["long", 1, 98, 2, 98.75, "signal"]],
  },
  {
    name: "R3 a gap in favour fills a limit buy at the better open",
    bars: [flat, [96, 97, 95, 96], [99, 99, 99, 99]],
    acts: { 0: ({ enter }) => enter.long.limit(98), 1: ({ position }) => position.close() },
    trades: [["long", 1, 96, 2, 99, "signal"]],
  },
  {
    name: "R3 a limit sell above the high does not fill",
    bars: [flat, [100, 101.75, 99, 100], flat],
    acts: { 0: ({ enter }) => enter.short.limit(102) },
    trades: [],
  },
  {
    name: "R3.1 through-ticks: a touch does not fill, trading through does, at the limit and no better",
    bars: [flat, [100, 101, 98, 99], [99, 100, 97.5, 98], [99, 99, 99, 99]],
    acts: { 0: ({ enter }) => enter.long.limit(98), 2: ({ position }) => position.close() },
    options: { settings: { throughTicks: 1 } },
    trades: [["long", 2, 98, 3, 99, "signal"]],
  },
  {
    name: "R3.1 a target is worth the same with through-ticks, only rarer",
    bars: [flat, [100, 102, 100, 101], [101, 103, 101, 102], flat],
    acts: { 0: ({ enter }) => enter.long({ target: ticks(8) }) },
    options: { settings: { throughTicks: 4 } },
    trades: [["long", 1, 100, 2, 102, "target"]],
  },
  {
    name: "R3.1 with through-ticks a gap past the limit still fills at the better open",
    bars: [flat, [97, 99, 97, 98], flat],
    acts: { 0: ({ enter }) => enter.long.limit(98, { target: ticks(6) }) },
    options: { settings: { throughTicks: 1 } },
    trades: [["long", 1, 97, 1, 98.5, "target"]],
  },
  {
    name: "R3.4 an order that is good until a time does not fill at the open of that time",
    bars: [flat, flat, [104, 105, 103, 104], flat],
    acts: { 0: ({ enter }) => enter.long.stop(102, { goodFor: { until: "00:02" } }) },
    trades: [],
  },
  {
    name: "R3.4 and fills at the open before it",
    bars: [flat, [104, 105, 103, 104], [106, 106, 106, 106]],
    acts: { 0: ({ enter }) => enter.long.stop(102, { goodFor: { until: "00:02" } }) },
    trades: [["long", 1, 104, 2, 106, "end of data"]],
  },
  {
    name: "R3.5 a bracket sent by hand ends with its lot and never closes the next one",
    bars: [flat, flat, [100, 100, 97, 98], flat, [100, 104, 100, 103], flat],
    acts: {
      0: ({ enter }) => enter.long({ stopLoss: points(2) }),
      1: ({ exit }) => {
        exit.long.limit(103, { group: "x" });
        exit.long.stop(95, { group: "x" });
      },
      3: ({ enter }) => enter.long({ target: points(20) }),
    },
    trades: [
      ["long", 1, 100, 2, 98, "stop"],
      ["long", 4, 100, 5, 100, "end of data"],
    ],
  },
  {
    name: "R3.6 stop loss and target work from the fill on the entry's own bar: the high comes first",
    bars: [flat, [100, 101.5, 97, 98], flat],
    acts: { 0: ({ enter }) => enter.long({ stopLoss: ticks(8), target: ticks(6) }) },
    trades: [["long", 1, 100, 1, 101.5, "target"]],
  },
  {
    name: "R4.1 the nearer extreme comes first: here the low, so the stop",
    bars: [flat, [100, 104, 98, 103], flat],
    acts: { 0: ({ enter }) => enter.long({ stopLoss: ticks(8), target: ticks(6) }) },
    trades: [["long", 1, 100, 1, 98, "stop"]],
  },
  {
    name: "R3.6 stop in percent of the entry fill, put on the grid outwards",
    bars: [flat, [100, 100, 100, 100], [100, 100, 98, 98.5], flat],
    acts: { 0: ({ enter }) => enter.long({ stopLoss: percent(1.1) }) },
    trades: [["long", 1, 100, 2, 98.75, "stop"]],
  },
  {
    name: "R3.6 target in money for the whole position",
    bars: [flat, [100, 100, 100, 100], [100, 103, 100, 102], flat],
    acts: { 0: ({ enter }) => enter.long({ size: units(2), target: money(50) }) },
    trades: [["long", 1, 100, 2, 102.5, "target"]],
  },
  {
    name: "R3.6 a short's stop and target are mirrored",
    bars: [flat, flat, [100, 100, 97, 98], flat],
    acts: { 0: ({ enter }) => enter.short({ stopLoss: price(102), target: price(98) }) },
    trades: [["short", 1, 100, 2, 98, "target"]],
  },
  {
    name: "R3 a gap through a stop fills at the open",
    bars: [flat, flat, [95, 96, 94, 95], flat],
    acts: { 0: ({ enter }) => enter.long({ stopLoss: ticks(8) }) },
    trades: [["long", 1, 100, 2, 95, "stop"]],
  },
  {
    name: "R3.2 a target already passed at the fill is taken at once, at the price of that point",
    bars: [flat, [100, 101, 99, 100], flat],
    acts: { 0: ({ enter }) => enter.long({ target: price(99) }) },
    trades: [["long", 1, 100, 1, 100, "target"]],
  },
  {
    name: "R3.5 the first fill of a group cancels the rest",
    bars: [flat, [100, 102, 97, 98], [98, 104, 96, 98], flat],
    acts: {
      0: ({ enter }) => {
        enter.long.stop(102, { group: "pair" });
        enter.short.stop(98, { group: "pair" });
      },
      2: ({ position }) => position.close(),
    },
    trades: [["long", 1, 102, 3, 100, "signal"]],
  },
  {
    name: "R3.4 an order good for one bar is gone at the next open",
    bars: [flat, flat, [100, 105, 100, 104], flat],
    acts: { 0: ({ enter }) => enter.long.stop(103, { goodFor: 1 }) },
    trades: [],
  },
  {
    name: "R3.4 an order good for two bars still works on the second",
    bars: [flat, flat, [100, 105, 100, 104], flat],
    acts: { 0: ({ enter }) => enter.long.stop(103, { goodFor: 2 }), 2: ({ position }) => position.close() },
    trades: [["long", 2, 103, 3, 100, "signal"]],
  },
  {
    name: "R5.1 an opposite order of the same size closes, it does not reverse",
    bars: [flat, flat, [101, 101, 101, 101], flat],
    acts: { 0: ({ enter }) => enter.long(), 1: ({ enter }) => enter.short() },
    trades: [["long", 1, 100, 2, 101, "signal"]],
  },
  {
    name: "R5.1 past flat an opposite order reverses",
    bars: [flat, flat, [101, 101, 101, 101], [100, 100, 100, 100]],
    acts: { 0: ({ enter }) => enter.long(), 1: ({ enter }) => enter.short({ size: units(3) }), 2: ({ position }) => position.close() },
    trades: [
      ["long", 1, 100, 2, 101, "reverse"],
      ["short", 2, 101, 3, 100, "signal"],
    ],
  },
  {
    name: "R5.1 reverse: true closes what is opposite and opens its own size",
    bars: [flat, flat, [101, 101, 101, 101], [100, 100, 100, 100]],
    acts: {
      0: ({ enter }) => enter.long({ size: units(2) }),
      1: ({ enter }) => enter.short({ reverse: true }),
      2: ({ position }) => position.close(),
    },
    trades: [
      ["long", 1, 100, 2, 101, "reverse"],
      ["short", 2, 101, 3, 100, "signal"],
    ],
  },
  {
    name: "R5.1 a reducing order closes lots first in, first out",
    bars: [flat, flat, [102, 102, 102, 102], [104, 104, 104, 104], flat],
    acts: {
      0: ({ enter }) => enter.long(),
      1: ({ enter }) => enter.long(),
      2: ({ position }) => position.reduce(1),
      3: ({ position }) => position.close(),
    },
    trades: [
      ["long", 1, 100, 3, 104, "signal"],
      ["long", 2, 102, 4, 100, "signal"],
    ],
  },
  {
    name: "R5.1 an attached exit closes the lot of its own order",
    bars: [flat, flat, [102, 102, 102, 102], [102, 102, 99, 99], flat],
    acts: {
      0: ({ enter }) => enter.long({ target: price(105) }),
      1: ({ enter }) => enter.long({ stopLoss: price(100) }),
      3: ({ position }) => position.close(),
    },
    trades: [
      ["long", 2, 102, 3, 100, "stop"],
      ["long", 1, 100, 4, 100, "signal"],
    ],
  },
  {
    name: "R5.6 an open position is marked out at the last close",
    bars: [flat, flat, [100, 103, 100, 103]],
    acts: { 0: ({ enter }) => enter.long() },
    options: withCosts({ spreadTicks: 0, commissionPerUnit: 1 }),
    trades: [["long", 1, 100, 2, 103, "end of data"]],
  },
  {
    name: "R3.7 a stop tightens and never loosens by tightenStop",
    bars: [flat, [100, 104, 100, 104], [104, 104, 103, 104], [104, 104, 101, 101], flat],
    acts: {
      0: ({ enter }) => enter.long({ stopLoss: price(98) }),
      1: ({ position }) => expect(position.tightenStop(102)).toBe(true),
      2: ({ position }) => expect(position.tightenStop(101)).toBe(false),
    },
    trades: [["long", 1, 100, 3, 102, "stop"]],
  },
];

function run({ bars, acts, options }: Case) {
  let bar = -1;
  return runBuild(
    barsOf(bars),
    (context) => {
      context.on.barClose(() => acts[++bar]?.(context));
    },
    options,
  );
}

describe("worked fills", () => {
  test.each(CASES.map((row) => [row.name, row] as const))("%s", (_name, row) => {
    const { trades } = run(row);
    expect(trades.map((t) => [t.side > 0 ? "long" : "short", t.entryBar, t.entryPrice, t.exitBar, t.exitPrice, t.reason])).toEqual(
      row.trades,
    );
  });
});

test.each([
  [100, 101, 98, 99, "high"],
  [100, 103, 99, 99, "low"],
  [100, 101, 99, 100, "low"],
  [100, 101, 99, 99.5, "high"],
] as const)("R4.1 open %f high %f low %f close %f: the %s comes first", (open, high, low, close, first) => {
  // Equal distances: a bar that closes at or above its open goes to the low first, O-L-H-C.
  expect(firstExtreme(open, high, low, close)).toBe(first);
});

test("R4.2 finer bars decide what the assumed path gets wrong, and R4.4 counts what they could not", () => {
  // The high comes first by R4.1; inside, price falls to the stop before it rises to the target.
  const fine = barsOf([
    flat,
    flat,
    flat,
    flat,
    flat,
    [100, 100.25, 98, 98.5],
    [98.5, 99, 98.5, 99],
    [99, 101.5, 99, 101.5],
    [101.5, 101.5, 97, 97],
    [97, 97, 97, 97],
  ]);
  const { series, firstSource } = resample(fine, "5m");
  const build = ({ on, enter }: { on: { barClose(act: () => void): void }; enter: { long(options: unknown): void } }): void => {
    let sent = false;
    on.barClose(() => {
      if (!sent) enter.long({ stopLoss: ticks(8), target: ticks(6) });
      sent = true;
    });
  };
  const assumed = runBuild(series, build);
  expect(assumed.trades[0]).toMatchObject({ reason: "target", pathDependent: true, atStake: 35 });
  expect(assumed.figures.pathDependentTrades).toBe(1);
  expect(assumed.warnings.map(({ code }) => code)).toContain("path-dependent");
  const finer = runBuild(series, build, { finer: { series: fine, first: firstSource } });
  expect(finer.trades[0]).toMatchObject({ reason: "stop", exitPrice: 98, pathDependent: false });
});

test("R2.4 orders sent in a fill handler work at once, and a market order there fills at that point", () => {
  const { trades } = runBuild(barsOf([flat, [100, 104, 99, 103], [103, 103, 103, 103]]), ({ on, enter, position }) => {
    let sent = false;
    on.barClose(() => {
      if (!sent) enter.long.stop(102);
      sent = true;
    });
    on.filled((fill: { source: string; side: number }) => {
      if (fill.side > 0) position.close("at once");
    });
  });
  expect(trades.map((t) => [t.entryPrice, t.exitPrice, t.exitBar, t.exitTag])).toEqual([[102, 102, 1, "at once"]]);
});

test("R3.9 impossible orders are refused with field, value and rule, and the plan hears of it", () => {
  const heard: string[] = [];
  const { orders, log } = runBuild(barsOf([flat, flat]), ({ on, enter }) => {
    on.barClose(() => {
      enter.long.stop(-5);
      enter.long({ stopLoss: ticks(-3) });
      enter.long({ size: units(0.4) });
    });
    on.refused(({ reason }: { reason: string }) => heard.push(reason));
  });
  expect(orders.map(({ state, note }) => [state, note])).toEqual(
    [0, 1].flatMap(() => [
      ["refused", "price -5 is not a number above 0 (R3.9)"],
      ["refused", "stopLoss of -3 ticks is not above 0 (R3.6)"],
    ]),
  );
  expect(heard.length).toBe(4);
  expect(log.filter(({ text }) => text.includes("below the minimum of 1 (R3.10)")).length).toBe(2);
});

test("an order that breeds orders on one bar is stopped and said", () => {
  const { log, status } = runBuild(barsOf([flat, flat, flat]), ({ on, enter }) => {
    let sent = false;
    on.barClose(() => {
      if (!sent) enter.long();
      sent = true;
    });
    on.filled(() => enter.long());
  });
  expect(status).toBe("complete");
  expect(log.some(({ text }) => text.includes("no guard against repeated entries"))).toBe(true);
});

test("R1.4 an off-grid price is put on the grid and said once a run", () => {
  const { orders, log } = runBuild(barsOf([flat, flat, flat]), ({ on, enter }) => {
    on.barClose(() => {
      enter.long.stop(110.1);
      enter.long.limit(90.1);
    });
  });
  expect(orders.slice(0, 2).map((order) => order.price)).toEqual([110.25, 90]);
  expect(log.filter(({ text }) => text.includes("off the grid")).length).toBe(1);
});

test("R5.2 a trade carries its costs apart, its excursions and its R", () => {
  const costs = { ...NO_COSTS, commissionPerUnit: 1, commissionPerOrder: 0.5, spreadTicks: 2, slippageTicks: 1 };
  const { trades } = runBuild(
    barsOf([flat, [100, 102, 99, 101], [101, 101, 101, 101]], "1m"),
    ({ on, enter, position }) => {
      on.barClose(() => {
        if (position.flat) enter.long({ size: units(2), stopLoss: ticks(10), tag: "in" });
        else position.close("out");
      });
    },
    { settings: { costs }, instrument: { ...INSTRUMENT, costs } },
  );
  // Entry 100 + 0.25 + 0.25 = 100.5; exit 101 - 0.25 - 0.25 = 100.5: nothing but commission is lost on the fills.
  expect(trades[0]).toMatchObject({
    entryPrice: 100.5,
    exitPrice: 100.5,
    commission: 5,
    spread: 10,
    slippage: 10,
    net: -5,
    gross: 20,
    mae: 30,
    mfe: 30,
    risk: 50,
    r: -0.1,
    entryTag: "in",
    exitTag: "out",
    barsHeld: 1,
  });
});

describe("R5.1 two owners on one account touch only their own", () => {
  const settings = resolveSettings({ cash: 100_000 });
  const market = (side: 1 | -1, quantity: number, intent: "enter" | "exit", owner: string) => ({
    ...PLAIN_ORDER,
    side,
    kind: "market" as const,
    quantity,
    intent,
    owner,
  });
  const bookWithBoth = () => {
    const closed: { owner: string; quantity: number }[] = [];
    const book = new Book(INSTRUMENT, new Account(settings), {
      filled() {},
      closed: (trade) => closed.push({ owner: trade.entryTag, quantity: trade.quantity }),
      opened() {},
      ended() {},
      log() {},
    });
    for (const owner of ["one", "two"]) book.submit({ ...market(1, 2, "enter", owner), tag: owner }, Infinity, Infinity);
    walkBar(book, 100, 101, 99, 100);
    return { book, closed };
  };

  test("an exit closes its owner's lots alone, whatever is open beside", () => {
    const { book, closed } = bookWithBoth();
    book.submit(market(-1, Number.POSITIVE_INFINITY, "exit", "two"), Infinity, Infinity);
    walkBar(book, 101, 102, 100, 101);
    expect(closed).toEqual([{ owner: "two", quantity: 2 }]);
    expect(book.units).toBe(2);
  });

  test("an opposite entry reduces its owner's lots and then stands against the other's", () => {
    const { book, closed } = bookWithBoth();
    book.submit(market(-1, 3, "enter", "one"), Infinity, Infinity);
    walkBar(book, 101, 102, 100, 101);
    expect(closed).toEqual([{ owner: "one", quantity: 2 }]);
    expect(book.lots.map(({ side, quantity, order }) => [side, quantity, order.owner])).toEqual([
      [1, 2, "two"],
      [-1, 1, "one"],
    ]);
  });

  test("each broker sees and moves only what is its owner's", () => {
    const { book } = bookWithBoth();
    const [one, two] = [new BookBroker(book, "one"), new BookBroker(book, "two")];
    one.setExits("stop", 95, true);
    expect(one.lots.map(({ stop }) => stop?.price)).toEqual([95]);
    expect(two.lots.map(({ stop }) => stop)).toEqual([null]);
    expect([one.units, two.units]).toEqual([2, 2]);
  });
});

test.each([
  ["00:01", "refused", "its time in force is over already (R3.4)"],
  ["00:00", "refused", "its time in force is over already (R3.4)"],
  ["00:02", "expired", "its time in force is over"],
])("R3.4 a stop order sent at 00:01 and good until %s is %s", (until, state, note) => {
  const { orders } = runBuild(barsOf([flat, flat, flat]), ({ on, enter, clock }) => {
    on.barClose(() => {
      if (clock.minutes === 1) enter.long.stop(500, { goodFor: { until } });
    });
  });
  expect(orders.map((order) => [order.state, order.note])).toEqual([[state, note]]);
});
