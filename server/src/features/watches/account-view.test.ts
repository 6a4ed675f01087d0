/** What becomes of what is open when a watch ends, and how it is shown. */
import type { AccountReport, BookReport, LotReport } from "@plan-tester/core";
import { instrumentNamed } from "@plan-tester/demo";
import { describe, expect, test } from "vitest";
import { leaving, positionsOf } from "./account-view.ts";

const LOT: LotReport = {
  ...{ orderId: 1, side: 1, quantity: 2, entryPrice: 400, entryTime: 0, tag: "", line: 3, high: 401, low: 399 },
  ...{ riskPerUnit: 5, stop: 395, stopReason: "stop", target: null, timeLimit: null },
};
const order = (id: number, intent: "enter" | "exit") => ({ id, intent, side: -1, kind: "limit" }) as unknown as BookReport["orders"][0];
const account = (lots: readonly LotReport[], orders: BookReport["orders"] = []): AccountReport => ({
  ...{ cash: 1000, commandsDone: 0, lastOrderId: 9 },
  books: [{ symbol: "KELP", isAsleep: false, isInBar: false, pathPrice: 400, fillsFromMs: 0, lots, orders, asleep: [] }],
});

describe("a watch that ends", () => {
  const orders = [order(4, "enter"), order(5, "exit"), order(-1, "exit")];

  test("with its protection: entries go, exits and stops stay, and that is said", () => {
    const { commands, left } = leaving(account([LOT], orders), false);
    expect(commands).toMatchObject([{ kind: "cancel", orderId: 4 }]);
    expect(left).toEqual([{ text: "what is open of KELP stays at the venue with its stop", isBare: false }]);
  });

  test("bare: every order, stop and target goes; the account's own orders are not its to cancel", () => {
    const { commands, left } = leaving(account([LOT], orders), true);
    expect(commands).toMatchObject([
      { kind: "cancel", orderId: 4 },
      { kind: "cancel", orderId: 5 },
      { kind: "exits", which: "stop", price: null },
      { kind: "exits", which: "target", price: null },
    ]);
    expect(left).toEqual([{ text: "2 KELP are left open without a stop", isBare: true }]);
  });

  test("a lot that has no stop is named, whichever way it is left", () => {
    const { left } = leaving(account([LOT, { ...LOT, quantity: 3, stop: null }]), false);
    expect(left).toEqual([{ text: "3 KELP are left open without a stop", isBare: true }]);
  });

  test("flat it leaves nothing and says nothing", () => {
    expect(leaving(account([]), true)).toEqual({ commands: [], left: [] });
  });
});

describe("a position", () => {
  const shown = (lots: readonly LotReport[], price?: number) =>
    positionsOf(
      account(lots),
      () => instrumentNamed("KELP")!.pointValue,
      () => price,
    );

  test("of several lots: units, mean entry, profit at the last price, and in multiples of the risk", () => {
    const { pointValue } = instrumentNamed("KELP")!;
    const [position] = shown([LOT, { ...LOT, quantity: 1, entryPrice: 403 }], 410);
    expect(position).toMatchObject({
      units: 3,
      entryPrice: 401,
      stop: 395,
      profit: (2 * 10 + 7) * pointValue,
      value: 3 * 410 * pointValue,
    });
    expect(position!.r).toBeCloseTo(27 / 15, 12);
  });

  test("a short one gains as price falls; before there is a price it has made nothing; without a stop there is no R", () => {
    const short = { ...LOT, side: -1 as const, riskPerUnit: null };
    expect(shown([short], 398)[0]!.profit).toBeGreaterThan(0);
    expect(shown([short])[0]).toMatchObject({ units: -2, profit: 0, r: null });
  });
});
