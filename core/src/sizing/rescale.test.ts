/** A run at another size: what is called exact is what a real run at that size does. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { EMPTY_KIT, NO_EXITS } from "../engine/kit.ts";
import { resolveSettings } from "../engine/settings.ts";
import { NO_COSTS } from "../market/instrument.ts";
import { walk } from "../testing/bars.ts";
import { type Build, runBuild, words } from "../testing/run.ts";
import { type RescaledRun, rescaleProblem, toDrawdown } from "./rescale.ts";

const bars = walk(1500, 11);
/** Enters by chance of the bars, with stops, targets and limits, always so many units. */
const trader =
  (units: number, every: number): Build =>
  ({ on, enter, bars: seen, position }) => {
    const { ticks } = words;
    let n = 0;
    on.barClose(() => {
      n++;
      if (n % every !== 0) return;
      const size = words.units(units);
      if (n % (3 * every) === 0) enter.long({ size, stopLoss: ticks(9), target: ticks(14) });
      else if (n % (2 * every) === 0) enter.short.limit(seen.close.now + 1, { size, trail: ticks(8), goodFor: 4 });
      else if (!position.flat) position.close();
    });
  };

test("money is in proportion to size, to the last bit, where every cost is", () => {
  const costs = fc.record({
    spreadTicks: fc.constantFrom(0, 1, 2),
    slippageTicks: fc.constantFrom(0, 1),
    commissionPerUnit: fc.constantFrom(0, 0.5),
  });
  fc.assert(
    fc.property(costs, fc.integer({ min: 2, max: 9 }), fc.constantFrom(1, 2, 4, 8), (part, every, factor) => {
      const settings = {
        cash: 1_000_000,
        costs: { ...NO_COSTS, ...part },
        path: every % 2 === 0 ? ("adverse" as const) : ("assumed" as const),
      };
      const [one, other] = [runBuild(bars, trader(1, every), { settings }), runBuild(bars, trader(factor, every), { settings })];
      expect(one.trades.length).toBeGreaterThan(10);
      expect(other.trades.map(({ net, quantity }) => [net, quantity])).toEqual(
        one.trades.map(({ net, quantity }) => [factor * net, factor * quantity]),
      );
      expect([...other.equity]).toEqual(Array.from(one.equity, (equity) => 1_000_000 + factor * (equity - 1_000_000)));
      const { netProfit, maxDrawdown } = one.figures;
      const instrument = { minQuantity: 1, quantityStep: 1 };
      const rescaled = toDrawdown({ base: 1, netProfit, maxDrawdown: maxDrawdown! }, instrument, factor * maxDrawdown!)!;
      expect(rescaled).toMatchObject({ units: factor, netProfit: other.figures.netProfit, maxDrawdown: other.figures.maxDrawdown });
    }),
    { numRuns: 60 },
  );
});

const { margin } = resolveSettings({});
const plain: RescaledRun = {
  ...{ trades: [{ orderId: 1, quantity: 2 }], source: "enter.long()", kit: null, costs: NO_COSTS, margin, limits: null },
  ...{ cash: 1000, leastEquity: 900, instruments: 1 },
};

describe("what is not exact says why", () => {
  test.each([
    ["nothing stands in its way", {}, 2, ""],
    ["limits of the account", { limits: { drawdown: null, dailyLoss: { unit: "money", value: 5, act: "stop" } } }, 2, "limits on losses"],
    [
      "several sizes",
      {
        trades: [
          { orderId: 1, quantity: 2 },
          { orderId: 2, quantity: 3 },
        ],
      },
      2,
      "several sizes",
    ],
    ["several instruments", { instruments: 2 }, 2, "several instruments"],
    ["a commission per order", { costs: { ...NO_COSTS, commissionPerOrder: 1 } }, 2, "per order"],
    ["a least commission", { costs: { ...NO_COSTS, commissionMinimum: 1 } }, 2, "per order"],
    ["commission per unit", { costs: { ...NO_COSTS, commissionPerUnit: 1, commissionPercent: 1, spreadTicks: 3 } }, 2, ""],
    ["margin", { margin: { by: "unit", value: 100, maintenancePercent: 0 } }, 2, "margin"],
    ["a limit of the kit", { kit: { ...EMPTY_KIT, dailyLoss: 100 } }, 2, "limits in money"],
    [
      "a distance of the kit in money",
      { kit: { ...EMPTY_KIT, long: { ...NO_EXITS, stopLoss: { unit: "money", value: 100 } } } },
      2,
      "distances in money",
    ],
    ["a distance of the kit in ticks", { kit: { ...EMPTY_KIT, long: { ...NO_EXITS, stopLoss: { unit: "ticks", value: 100 } } } }, 2, ""],
    ["a program that reads equity", { source: "if (account.equity > 5) enter.long()" }, 2, "reads money"],
    ["a stop in money", { source: "enter.long({ stopLoss: money(500) })" }, 2, "reads money"],
    ["a size in percent of equity", { source: "enter.long({ size: riskPercent(1) })" }, 2, "reads money"],
    ["a word in a comment", { source: "// the account\nenter.long() /* money( */" }, 2, ""],
    ["an account that would be lost", {}, 11, "wiped out"],
  ] as const)("%s", (_what, part, factor, wanted) => {
    const found = rescaleProblem({ ...plain, ...part } as RescaledRun, factor);
    if (wanted === "") expect(found).toBe("");
    else expect(found).toContain(wanted);
  });
});

test.each([
  ["twice as deep", 2000, 1, 1, { units: 2, off: 0 }],
  ["a crown less", 1999, 1, 1, { units: 1 }],
  ["steps of a tenth", 1999, 0.1, 0.1, { units: 1.9 }],
  ["below the least size", 900, 1, 1, { units: 0, netProfit: 0, off: -1 }],
])("to a common drawdown, rounded down: %s", (_what, wanted, minQuantity, quantityStep, found) => {
  expect(toDrawdown({ base: 1, netProfit: 500, maxDrawdown: 1000 }, { minQuantity, quantityStep }, wanted)).toMatchObject(found);
});

test("what never fell has no size", () => {
  expect(toDrawdown({ base: 1, netProfit: 500, maxDrawdown: 0 }, { minQuantity: 1, quantityStep: 1 }, 100)).toBeNull();
});
