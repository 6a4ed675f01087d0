/** The venue's parts without its network: its markets, its clock, and an exchange through a restart. */
import { NO_COSTS, PLAIN_ORDER, type PlanCommand, resolveSettings } from "@plan-tester/core";
import { HISTORY_TO, instrumentNamed } from "@plan-tester/demo";
import { describe, expect, test } from "vitest";
import { VenueTime } from "./clock.ts";
import { Exchange, type ExchangeState, type Unnumbered } from "./exchange.ts";
import { Markets } from "./markets.ts";

const KELP = instrumentNamed("KELP")!;
const NINE = Date.UTC(2026, 2, 2, 9);
const MINUTE = 60_000;

describe("the markets", () => {
  test("one that is not traded is not there; nothing happens before one is open", () => {
    const markets = new Markets(HISTORY_TO, false);
    expect(markets.nextMs).toBe(Number.POSITIVE_INFINITY);
    expect(markets.open("GONE")).toBeUndefined();
  });

  test("minutes open and close in the order of time, of all markets at once, and one that starts later has the same", () => {
    const markets = new Markets(HISTORY_TO, false);
    for (const symbol of ["GANN", "PUFN"]) markets.open(symbol);
    const heard: [string, number][] = [];
    for (let i = 0; i < 20; i++) {
      const timeMs = markets.nextMs;
      for (const { symbol, bar } of markets.closeBy(timeMs)) {
        expect(bar.time + MINUTE).toBe(timeMs);
        heard.push([symbol, bar.close]);
      }
      for (const bar of markets.openAt(timeMs).values()) expect(bar.time).toBe(timeMs);
    }
    expect(new Set(heard.map(([symbol]) => symbol))).toEqual(new Set(["GANN", "PUFN"]));
    const alone = new Markets(HISTORY_TO, false).open("GANN")!;
    const closes = Array.from({ length: 5 }, () => alone.close().close);
    expect(heard.flatMap(([symbol, close]) => (symbol === "GANN" ? [close] : [])).slice(0, 5)).toEqual(closes);
    expect([...markets.open("GANN")!.finished(0).close].slice(0, 5)).toEqual(closes);
  });
});

describe("the clock", () => {
  const clock = (holds: boolean) => new VenueTime({ marketMs: 0, realMs: 0, speed: 60, holds });

  test("a minute of the market takes a second at 60x, and time without trading is skipped", () => {
    const time = clock(true);
    expect(time.dueAt(MINUTE, 0)).toBe(1000);
    expect(time.dueAt(60 * MINUTE, 0)).toBe(0);
    expect(time.at(0)).toBe(60 * MINUTE);
  });

  test.each([true, false])("what a moment took is made up for, by a minute of the market at most (a clock that holds: %s)", (holds) => {
    const time = clock(holds);
    time.passed(MINUTE, 1500);
    expect(time.dueAt(2 * MINUTE, 1500)).toBe(2000);
    time.passed(2 * MINUTE, 9000);
    expect(time.dueAt(3 * MINUTE, 9000)).toBe(10_000);
  });

  test("tells the pace that was reached, without what was skipped", () => {
    const time = clock(true);
    for (let i = 1; i <= 10; i++) time.passed(i * MINUTE, i * 2000);
    expect(time.pace).toBeCloseTo(30, 5);
    time.dueAt(1000 * MINUTE, 20_000);
    time.passed(1000 * MINUTE, 20_000);
    expect(time.pace).toBeLessThan(60);
  });
});

describe("an exchange", () => {
  const facts = { id: "a", instruments: [KELP], settings: resolveSettings({ costs: NO_COSTS }), timeframe: "15m" };
  const submit = (orderId: number, more: object): PlanCommand => ({
    ...{ kind: "submit", symbol: "KELP", orderId },
    ticket: {
      ...PLAIN_ORDER,
      ...({ side: 1, kind: "market", quantity: 1, intent: "enter", tag: "t", submittedBar: 0, submittedTime: 0 } as const),
      ...{ expiresBar: Number.POSITIVE_INFINITY, expiresTime: Number.POSITIVE_INFINITY },
      ...more,
    },
  });
  const none: ExchangeState = { nowMs: NINE - 1, legs: null, accounts: [], jumps: [] };

  function started(state: ExchangeState) {
    const said: Unnumbered[] = [];
    const exchange = new Exchange(state, (word) => said.push(word));
    const ask = (first: number, ...commands: PlanCommand[]) =>
      exchange.command({ type: "commands", account: "a", owner: "me", first, commands });
    const stepTo = (timeMs: number): void => {
      while (exchange.nextMs <= timeMs) exchange.step();
    };
    const events = () => said.flatMap((word) => (word.type === "report" ? [word.event.kind] : []));
    return { exchange, ask, stepTo, said, events };
  }

  test("fills at the next open, tells each thing in its order, and does nothing twice", () => {
    const { exchange, ask, stepTo, events } = started(none);
    exchange.openAccount(facts);
    exchange.follow({ type: "follow", account: "a", owner: "me", after: 0, prices: false });
    const commands = [
      submit(1, {}),
      submit(2, { side: -1, intent: "exit", quantity: Number.POSITIVE_INFINITY, kind: "limit", price: 9999 }),
    ];
    expect(ask(1, ...commands)).toBeNull();
    // Told again, as after a broken line: nothing is done twice.
    expect(ask(1, ...commands)).toBeNull();
    expect(ask(9, submit(3, {}))).toMatchObject({ type: "refused", awaited: 3 });
    stepTo(NINE + 2 * MINUTE);
    expect(events()).toEqual(["filled", "opened"]);
    exchange.flatten("a", "me");
    stepTo(NINE + 3 * MINUTE);
    expect(events()).toEqual(["filled", "opened", "ended", "accepted", "closed", "filled"]);
  });

  test("goes on after a restart with what it had: lots with their exits, orders, numbers, and the last reports", () => {
    const before = started(none);
    before.exchange.openAccount(facts);
    before.ask(1, submit(1, { stopLoss: { unit: "ticks", value: 400 } }), submit(2, { kind: "limit", price: 1 }));
    before.stepTo(NINE + 5 * MINUTE);
    const after = started(structuredClone(before.exchange.state()));
    const told = after.exchange.follow({ type: "follow", account: "a", owner: "me", after: 1, prices: false });
    expect(told).toMatchObject({ lastReport: 2, missed: [{ number: 2, event: { kind: "opened" } }] });
    const [book] = told.report.books;
    expect(book!.lots).toMatchObject([{ orderId: 1, quantity: 1, stop: expect.any(Number) }]);
    expect(book!.orders).toMatchObject([{ id: 2, kind: "limit", price: 1 }]);
    expect(told.report).toMatchObject({ commandsDone: 2, lastOrderId: 2 });
    expect(after.ask(3, { kind: "cancel", symbol: "KELP", orderId: 2, note: "no more", isExpiry: false })).toBeNull();
    after.stepTo(NINE + 6 * MINUTE);
    expect(after.exchange.holdings()[0]!.report.books[0]!.orders).toEqual([]);
  });

  test("a market that is first used in the middle of another's minute begins with the next", () => {
    const { exchange, ask, stepTo, said } = started(none);
    exchange.openAccount(facts);
    exchange.follow({ type: "follow", account: "a", owner: "me", after: 0, prices: false });
    stepTo(NINE + 5 * MINUTE);
    ask(1, submit(1, {}));
    exchange.openAccount({ ...facts, id: "b", instruments: [instrumentNamed("TIDE")!] });
    stepTo(NINE + 8 * MINUTE);
    const openings = said.flatMap((word) => (word.type === "opening" ? [word.timeMs] : []));
    expect(openings).toEqual([...new Set(openings)]);
    const tide = said.find((word) => word.type === "opening" && word.symbols.includes("TIDE"));
    expect(tide).toMatchObject({ timeMs: NINE + 6 * MINUTE });
    expect(exchange.bars("TIDE", NINE).time.length).toBe(8);
  });

  test("an account that is given further instruments later is as one that had them from the start", () => {
    const TIDE = instrumentNamed("TIDE")!;
    const both = { ...facts, instruments: [KELP, TIDE] };
    const told = (widensAt: number) => {
      const world = started(none);
      const { exchange, ask, said } = world;
      exchange.openAccount(widensAt === 0 ? both : facts);
      exchange.follow({ type: "follow", account: "a", owner: "me", after: 0, prices: true });
      ask(1, submit(1, { stopLoss: { unit: "ticks", value: 30 } }), submit(2, { kind: "limit", price: 1 }));
      // In the middle of a minute, where paths go in steps.
      for (let step = 0; step < 40; step++) {
        if (step === widensAt) exchange.openAccount({ ...both, instruments: [TIDE] });
        exchange.step();
      }
      exchange.command({
        ...({ type: "commands", account: "a", owner: "other", first: 1 } as const),
        commands: [{ ...submit(1, {}), symbol: "TIDE" } as PlanCommand],
      });
      for (let step = 0; step < 60; step++) exchange.step();
      expect(exchange.mustWait(both)).toBe(false);
      const reports = said.flatMap((word) => (word.type === "report" ? [{ to: word.to, event: word.event, number: word.number }] : []));
      return { reports, holdings: exchange.holdings(), prices: said.filter(({ type }) => type === "price").length };
    };
    const whole = told(0);
    expect(whole.reports.map(({ to, event }) => `${to.owner} ${event.kind}`)).toEqual(
      expect.arrayContaining(["me filled", "me opened", "other filled", "other opened"]),
    );
    for (const widensAt of [3, 17, 30]) {
      const { reports, holdings, prices } = told(widensAt);
      expect(reports).toEqual(whole.reports);
      expect(holdings).toEqual(whole.holdings);
      expect(prices).toBeGreaterThan(0);
    }
  });

  test("a fill is told when the path is there, not at the minute's end, and a restart in between changes nothing", () => {
    /** Reports of five minutes, each with the moment at which it was told; the exchange is written down and read back before every moment but the first. */
    function told(inSteps: boolean, restarts: boolean) {
      let world = started(none);
      world.exchange.openAccount(facts);
      world.ask(1, submit(1, { stopLoss: { unit: "ticks", value: 1 }, target: { unit: "ticks", value: 1 } }));
      const heard: { readonly atMs: number; readonly kind: string; readonly timeMs: number }[] = [];
      while (world.exchange.nextMs <= NINE + 5 * MINUTE) {
        if (restarts) world = started(structuredClone(world.exchange.state()));
        world.exchange.walksInSteps = inSteps;
        const atMs = world.exchange.nextMs;
        world.said.length = 0;
        world.exchange.step();
        for (const word of world.said) if (word.type === "report") heard.push({ atMs, kind: word.event.kind, timeMs: word.timeMs });
      }
      return heard;
    }
    const [whole, steps] = [told(false, false), told(true, false)];
    const plain = (list: typeof whole) => list.map(({ kind, timeMs }) => ({ kind, timeMs }));
    expect(plain(whole).map(({ kind }) => kind)).toEqual(["filled", "opened", "closed", "filled"]);
    expect(plain(steps)).toEqual(plain(whole));
    expect(told(true, true)).toEqual(steps);
    expect(whole[2]!.atMs % MINUTE).toBe(0);
    expect(steps[2]!.atMs % MINUTE).toBeGreaterThan(0);
    expect(steps[2]!.atMs).toBeLessThan(whole[2]!.atMs);
  });

  test("what is closed by hand inside a minute is closed at once, where price stands", () => {
    const { exchange, ask, stepTo, said, events } = started(none);
    exchange.openAccount(facts);
    ask(1, submit(1, {}));
    stepTo(NINE + MINUTE / 2);
    expect(exchange.nextMs).toBe(NINE + (2 * MINUTE) / 3);
    said.length = 0;
    exchange.flatten("a", "me");
    expect(events()).toEqual(["accepted", "closed", "filled"]);
    const price = exchange.holdings()[0]!.report.books[0]!.pathPrice;
    expect(said.flatMap((word) => (word.type === "report" && word.event.kind === "closed" ? [word.event.trade.exitPrice] : []))).toEqual([
      price,
    ]);
  });

  test("minutes that are open are shown as far as they have gone, and stand where what is open is marked", () => {
    const { exchange, ask } = started(none);
    exchange.openAccount(facts);
    ask(1, submit(1, {}));
    exchange.step();
    const seen: number[] = [];
    for (let leg = 0; leg <= 3; leg++) {
      const [{ bar }] = exchange.forming() as [ReturnType<typeof exchange.forming>[0]];
      expect(bar).toMatchObject(leg < 3 ? { time: NINE } : { time: NINE + MINUTE });
      if (leg < 3) expect(exchange.holdings()[0]!.report.books[0]!.pathPrice).toBe(bar.close);
      seen.push(bar.high - bar.low);
      exchange.step();
    }
    expect(seen[0]).toBe(0);
    expect(seen[1]).toBeLessThanOrEqual(seen[2]!);
    expect(seen[3]).toBe(0);
    const [high, low] = [exchange.bars("KELP", NINE).high[0]!, exchange.bars("KELP", NINE).low[0]!];
    expect(seen[2]).toBeCloseTo(high - low, 9);
  });

  test("while one account waits for an answer the others go on, each in its own order", () => {
    const names = ["a", "b", "c", "d"];
    /** What was said of each account, and how many answers were awaited at once at most. */
    function told(goesOn: boolean) {
      const said = new Map<string, string[]>();
      let [waiting, most] = [0, 0];
      const exchange = new Exchange(none, (word) => {
        if (word.type !== "report") return;
        const { account, owner } = word.to;
        said.set(account, [...(said.get(account) ?? []), `${word.event.kind} ${word.number} ${word.timeMs}`]);
        most = Math.max(most, ++waiting);
        while (goesOn && exchange.goOn());
        // What its fill is answered with works from there.
        if (word.event.kind === "opened")
          exchange.command({
            ...{ type: "commands", account, owner, first: 2 },
            commands: [submit(2, { side: -1, intent: "exit", quantity: Number.POSITIVE_INFINITY })],
          });
        waiting--;
      });
      for (const id of names) {
        exchange.openAccount({ ...facts, id });
        exchange.command({ type: "commands", account: id, owner: "me", first: 1, commands: [submit(1, {})] });
      }
      while (exchange.nextMs <= NINE + 2 * MINUTE) exchange.step();
      return { said, most };
    }
    const [inTurn, sideBySide] = [told(false), told(true)];
    expect(inTurn.most).toBe(1);
    expect(sideBySide.most).toBe(names.length);
    expect(sideBySide.said).toEqual(inTurn.said);
    for (const id of names) expect(sideBySide.said.get(id)!.length).toBeGreaterThan(3);
  });

  test("a price that jumps opens the next minute there and goes on, also after a restart, and a stop fills beyond its price", () => {
    const plain = started(none);
    plain.exchange.openAccount(facts);
    plain.stepTo(NINE + 9 * MINUTE);
    const before = started(none);
    before.exchange.openAccount(facts);
    before.ask(1, submit(1, { stopLoss: { unit: "percent", value: 1 } }));
    before.stepTo(NINE + 3 * MINUTE);
    before.exchange.jump({ symbol: "KELP", percent: -5 });
    expect(() => before.exchange.jump({ symbol: "GONE", percent: 1 })).toThrow(/does not trade GONE/);
    before.stepTo(NINE + 5 * MINUTE);
    const stop = before.said.flatMap((word) => (word.type === "report" && word.event.kind === "closed" ? [word.event.trade] : []))[0]!;
    const after = started(structuredClone(before.exchange.state()));
    after.stepTo(NINE + 9 * MINUTE);
    const [was, is] = [plain.exchange.bars("KELP", NINE), after.exchange.bars("KELP", NINE)];
    for (let i = 0; i < 9; i++) {
      const factor = i < 4 ? 1 : 0.95;
      for (const name of ["open", "high", "low", "close"] as const)
        expect(Math.abs(is[name][i]! - was[name][i]! * factor)).toBeLessThanOrEqual(KELP.tickSize / 2 + 1e-9);
      expect(is.volume[i]).toBe(was.volume[i]);
    }
    expect(stop).toMatchObject({ exitTime: NINE + 4 * MINUTE, exitPrice: is.open[4] });
    expect(stop.exitPrice).toBeLessThan(0.96 * stop.entryPrice);
    expect(before.exchange.state().jumps).toEqual(after.exchange.state().jumps);
  });
});
