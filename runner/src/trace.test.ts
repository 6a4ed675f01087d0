/** A run looked into: how often each statement ran, what its conditions were, and what happened on a stretch of bars. */

import { resolveSettings, STRIP } from "@plan-tester/core";
import { afterAll, beforeAll, describe, expect, test } from "vitest";
import { PlanProcess } from "./parent/plan-process.ts";
import { tracePlan } from "./run-plan.ts";
import { INSTRUMENT, run, walk } from "./testing.ts";

const worker = new PlanProcess();
beforeAll(() => worker.warm());
afterAll(() => worker.kill("done"));

const SOURCE = `export default plan({
  title: "Lines",
  build({ bars, on, enter, position }) {
    let n = 0;
    on.barClose(() => {
      n++;
      if (n % 100 === 0 && position.flat)
        enter.long({ timeLimit: { bars: 5 } });
      else if (n < 0)
        enter.short();
      if (n === 50) throwAway(n);
    });
    function throwAway(value: number) {
      return value * 2;
    }
  },
});
`;
const request = (bars: number) => ({
  source: SOURCE,
  inputs: {},
  settings: resolveSettings({}),
  feeds: [{ instrument: INSTRUMENT, data: { key: `walk${bars}`, series: walk(bars, 3), finer: null } }],
});

test("every statement has its count, and what never ran has none", async () => {
  const {
    places: { statements },
    counts,
  } = await tracePlan(worker, request(1000));
  const byLine: Record<number, number[]> = {};
  statements.forEach(({ line }, k) => {
    byLine[line] = [...(byLine[line] ?? []), counts[k]!].sort((a, b) => b - a);
  });
  expect(byLine).toEqual({
    1: [1],
    4: [1],
    5: [1],
    6: [1000],
    7: [1000],
    8: [10],
    9: [990],
    10: [0],
    // The condition, and the branch behind it.
    11: [1000, 1],
    14: [1],
  });
});

test("the traced pass trades as the run does: the same fills, in the same order", async () => {
  const { result } = await run(worker, SOURCE, 1000);
  // The tenth is sent at the last close.
  expect(result.trades.length).toBe(9);
  const { steps } = await tracePlan(worker, request(1000), { from: 0, to: 999 });
  const filled = steps!.events.filter(({ kind }) => kind === "filled").map(({ barIndex, text }) => `${barIndex} ${text}`);
  expect(filled).toEqual(
    result.fills
      .filter(({ source }) => source !== "end of data")
      .map(({ barIndex, orderId, source, side, quantity, price }) => {
        const what = source === "order" ? `order ${orderId}` : source;
        return `${barIndex} ${what}: ${side > 0 ? "bought" : "sold"} ${quantity} at ${price}`;
      }),
  );
});

const CROSSING = `export default plan({
  title: "Looked into",
  build({ bars, when, on, enter, position, log }) {
    const fast = ema(bars.close, 5);
    const slow = ema(bars.close, 20);
    const up = crossesAbove(fast, slow);
    let seen = 0;
    when(up, () => {
      const isFlat = position.flat;
      if (isFlat && fast.now > 0) enter.long({ stopLoss: percent(1), target: percent(2), tag: "up" });
      seen++;
    });
    on.closed(() => log("closed one"));
  },
});
`;
const crossing = (bars: number) => ({ ...request(bars), source: CROSSING });

describe("a run looked into", () => {
  test("has a strip for each condition and yes or no that it names", async () => {
    const { places, strips } = await tracePlan(worker, crossing(1000));
    const named = strips.map(({ name, kind, values }) => ({ name: places.names[name]!.name, kind, values }));
    expect(named.map(({ name, kind }) => [name, kind])).toEqual([
      ["up", "holds"],
      ["isFlat", "asked"],
    ]);
    const [up, isFlat] = named.map(({ values }) => values);
    expect(up!.filter((value) => value === STRIP.yes).length).toBeGreaterThan(10);
    // The handler asks on the bars on which the crossing happens, and on no other.
    up!.forEach((value, i) => {
      expect(isFlat![i] !== STRIP.unknown, `bar ${i}`).toBe(value === STRIP.yes);
    });
  });

  test("a stretch tells what happened one after the other, and how the account stood", async () => {
    const { result } = await run(worker, CROSSING, 1000);
    const trade = result.trades[2]!;
    const stretch = { from: trade.entryBar - 1, to: trade.exitBar };
    const { places, steps } = await tracePlan(worker, crossing(1000), stretch);
    const { events, states, closeStates, columns } = steps!;
    const atSignal = events.filter(({ barIndex }) => barIndex === stretch.from);
    expect(atSignal.map(({ kind, place, line }) => [kind, kind === "value" ? places.names[place]!.name : "", line])).toEqual([
      ["value", "isFlat", 9],
      ["test", "", 10],
      ["test", "", 10],
      ["accepted", "", 10],
      ["value", "seen", 11],
    ]);
    expect(places.tests.map(({ text }) => text)).toEqual(["isFlat", "fast.now > 0"]);
    // The order waits after the signal's bar, and is a lot with its exits after the next.
    expect(states[closeStates[0]!]!.orders.map(({ id }) => id)).toEqual([trade.orderId]);
    const [lot] = states[closeStates[1]!]!.lots;
    expect(lot).toMatchObject({
      side: 1,
      entryPrice: trade.entryPrice,
      stop: trade.rails[0]!.stop,
      target: trade.rails[0]!.target,
      tag: "up",
    });
    const kinds = events.filter(({ barIndex }) => barIndex === trade.exitBar).map(({ kind }) => kind);
    expect(kinds.slice(0, 3)).toEqual(["closed", "log", "filled"]);
    expect(states[closeStates.at(-1)!]!.lots).toEqual([]);
    closeStates.forEach((state, k) => {
      expect(states[state]!.equity).toBe(result.equity[stretch.from + k]);
    });
    expect(columns.map(({ name, values }) => [places.names[name]!.name, values.length])).toEqual([
      ["fast", stretch.to - stretch.from + 1],
      ["slow", stretch.to - stretch.from + 1],
    ]);
  });

  test("what a plan throws ends the trace where it was thrown", async () => {
    const source = CROSSING.replace("seen++;", "seen++; if (seen > 3) throw new Error('enough');");
    const { counts, strips } = await tracePlan(worker, { ...crossing(1000), source });
    expect(Math.max(...counts)).toBe(4);
    expect(strips.length).toBe(2);
  });
});
