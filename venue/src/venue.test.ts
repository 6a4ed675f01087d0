/** The venue's parts without its network: the feed's clock, and an account through a restart. */
import { NO_COSTS, type OrderTicket, PLAIN_ORDER, resolveSettings } from "@plan-tester/core";
import { HISTORY_TO, instrumentNamed } from "@plan-tester/demo";
import { describe, expect, test } from "vitest";
import { Account } from "./account.ts";
import { Feed } from "./feed.ts";
import type { VenueBar } from "./protocol.ts";

const KELP = instrumentNamed("KELP")!;
const MONDAY = Date.UTC(2026, 2, 2, 7);

describe("the feed", () => {
  const heard: { symbol: string; bar: VenueBar }[] = [];
  const feed = new Feed(HISTORY_TO, 60, (symbol, bar) => heard.push({ symbol, bar }));

  test("knows only its own instruments", () => {
    expect(feed.market("GONE")).toBeUndefined();
    expect(feed.market("GANN")).toBeDefined();
  });

  test("skips the time in which nobody trades, and then gives a minute a second at 60x", () => {
    feed.advance(1000);
    expect(heard).toEqual([]);
    expect(new Date(feed.nowMs).toISOString()).toBe("2026-03-02T09:00:00.000Z");
    for (let i = 0; i < 5; i++) feed.advance(1000);
    expect(heard.map(({ bar }) => new Date(bar.time).toISOString().slice(11, 16))).toEqual(["09:00", "09:01", "09:02", "09:03", "09:04"]);
  });

  test("several markets come in the order of time", () => {
    heard.length = 0;
    feed.market("PUFN");
    for (let i = 0; i < 3; i++) feed.advance(1000);
    const times = heard.map(({ bar }) => bar.time);
    expect(times).toEqual([...times].sort((a, b) => a - b));
    expect(new Set(heard.map(({ symbol }) => symbol))).toEqual(new Set(["GANN", "PUFN"]));
  });

  test("a feed that starts later gives the same bars", () => {
    const later = new Feed(feed.nowMs, 60, () => undefined);
    expect(later.market("GANN")!.finished().close).toEqual(feed.market("GANN")!.finished().close);
  });
});

describe("an account", () => {
  const settings = resolveSettings({ costs: NO_COSTS });
  const ticket = (more: Partial<OrderTicket>): OrderTicket => ({
    ...PLAIN_ORDER,
    side: 1,
    kind: "market",
    quantity: 1,
    intent: "enter",
    tag: "t",
    submittedBar: 0,
    submittedTime: 0,
    expiresBar: Number.POSITIVE_INFINITY,
    expiresTime: Number.POSITIVE_INFINITY,
    ...more,
  });
  const bar = (minute: number, open: number, high: number, low: number, close: number): VenueBar => ({
    time: MONDAY + minute * 60_000,
    open,
    high,
    low,
    close,
    volume: 1,
    spread: 0,
  });

  test("fills by the engine's rules and reports what happened once", () => {
    const account = new Account("a", KELP, settings);
    account.submit(41, ticket({ stopLoss: { unit: "ticks", value: 8 }, target: { unit: "ticks", value: 8 } }), MONDAY);
    account.submit(42, ticket({ kind: "stop", price: 104 }), MONDAY);
    expect(account.report().orders.map(({ id }) => id)).toEqual([41, 42]);
    account.bar(bar(0, 100, 101, 99, 100));
    const report = account.takeReport()!;
    expect(report.fills).toMatchObject([{ price: 100, quantity: 1, source: "order" }]);
    expect(report.account.lots).toMatchObject([{ orderId: 41, entryPrice: 100, stop: 98, target: 102 }]);
    expect(account.takeReport()).toBeNull();
    account.bar(bar(1, 100, 100, 97, 98));
    expect(account.takeReport()!.trades).toMatchObject([{ reason: "stop", exitPrice: 98, net: -80 }]);
  });

  test("goes on after a restart with its lots, exits and orders", () => {
    const before = new Account("a", KELP, settings);
    before.submit(1, ticket({ quantity: 3, target: { unit: "price", value: 110 } }), MONDAY);
    before.bar(bar(0, 100, 101, 99, 100));
    before.submit(2, ticket({ kind: "limit", price: 95 }), MONDAY);
    before.setExits("stop", 96.1);
    const after = new Account("a", KELP, settings, structuredClone(before.snapshot()));
    expect(after.report()).toEqual({ ...before.report(), lastPrice: null, equity: after.report().cash });
    expect(after.cancel(2)).toBe(true);
    after.bar(bar(1, 100, 111, 100, 110));
    expect(after.takeReport()!.trades).toMatchObject([{ reason: "target", quantity: 3, net: 1200 }]);
  });

  test("commands reach orders by the plan's own numbers, and flatten ends all", () => {
    const account = new Account("a", KELP, settings);
    account.submit(7, ticket({ kind: "stop", price: 104 }), MONDAY);
    expect([account.modify(7, { price: 103 }), account.modify(8, { price: 103 }), account.cancel(9)]).toEqual([true, false, false]);
    expect(account.report().orders[0]?.price).toBe(103);
    account.submit(8, ticket({ side: -1, quantity: 2 }), MONDAY);
    account.bar(bar(0, 100, 100, 100, 100));
    account.flatten(MONDAY + 60_000);
    account.bar(bar(1, 99, 99, 99, 99));
    const { account: state, trades } = account.takeReport()!;
    expect(state).toMatchObject({ lots: [], orders: [], cash: 100_080 });
    expect(trades).toMatchObject([{ side: -1, exitTag: "flattened by hand", net: 80 }]);
  });
});
