/** Exit kits laid over plans: what they put on entries, what they refuse, and that they leave a plan's program alone. */
import { describe, expect, test } from "vitest";
import { EMPTY_KIT, type ExitKit, type KitExits, NO_EXITS } from "../engine/kit.ts";
import { barsOf, type Ohlc, tradedWalk, walk } from "../testing/bars.ts";
import { type Build, runBuild, words } from "../testing/run.ts";

const { ticks, units } = words;
const kitOf = (part: Partial<ExitKit>): ExitKit => ({ ...EMPTY_KIT, name: "Test", ...part });
const exitsOf = (part: Partial<KitExits>): KitExits => ({ ...NO_EXITS, ...part });
const run = (build: Build, kit: Partial<ExitKit>, bars = tradedWalk(300, 4)) => runBuild(bars, build, { settings: { kit: kitOf(kit) } });

/** Enters whenever it may, long and short in turn. */
const EAGER: Build = ({ on, enter }) => {
  let n = 0;
  on.barClose(() => (n++ % 2 === 0 ? enter.long : enter.short)({ reverse: true }));
};
const refusals = (result: ReturnType<typeof run>): string[] =>
  result.log.filter(({ text }) => text.includes("exit kit:")).map(({ text }) => text);

describe("exits", () => {
  const flat: Ohlc = [100, 100, 100, 100];
  const once: Build = ({ on, enter }) => {
    let sent = false;
    on.barClose(() => {
      if (!sent) enter.long({ stopLoss: ticks(40), target: ticks(40) });
      sent = true;
    });
  };

  test("a kit's exit takes the place of the plan's, the others stay", () => {
    const bars = barsOf([flat, flat, [100, 101, 98, 99], [99, 111, 99, 110]]);
    const { trades } = run(once, { long: exitsOf({ target: { unit: "points", value: 5 } }) }, bars);
    expect(trades.map(({ reason, exitPrice }) => [reason, exitPrice])).toEqual([["target", 105]]);
  });

  test("with the plan's exits off, its stops, closes and moves of a stop do nothing", () => {
    const bars = barsOf([flat, flat, [100, 100, 80, 85], [85, 90, 84, 88]]);
    const noisy: Build = (context) => {
      once(context);
      context.on.barClose(() => {
        context.position.close("out");
        context.position.setStop(99);
        context.exit.long({ tag: "out" });
      });
    };
    const { trades } = run(noisy, { plansExits: false }, bars);
    expect(trades.map(({ reason }) => reason)).toEqual(["end of data"]);
  });

  test("a multiple of a study is measured when the order is sent", () => {
    const bars = walk(800, 6);
    const build: Build = ({ bars: own, on, enter, position, log }) => {
      const range = words.atr(own, 14);
      on.barClose(() => {
        if (position.flat) {
          log(String(range.now));
          enter.long();
        }
      });
    };
    const { trades, log } = run(
      build,
      { long: exitsOf({ stopLoss: { unit: "points", value: 2, study: "atr(14)" }, timeLimit: { bars: 9 } }) },
      bars,
    );
    expect(trades.length).toBeGreaterThan(3);
    trades.forEach((trade, k) => {
      const wanted = trade.entryPrice - 2 * Number(log[k]!.text);
      expect(trade.rails[0]!.stop).toBe(Math.floor(wanted / 0.25 + 1e-9) * 0.25);
    });
  });

  test("each side has its own; the kit's size goes before the plan's", () => {
    const { trades } = run(EAGER, {
      long: exitsOf({ timeLimit: { bars: 2 } }),
      short: exitsOf({ stopLoss: { unit: "ticks", value: 8 } }),
      size: { by: "units", value: 3 },
      onePosition: true,
    });
    const reasons = (side: 1 | -1) => new Set(trades.filter((trade) => trade.side === side).map(({ reason }) => reason));
    expect([...reasons(1)].filter((reason) => reason !== "end of data")).toEqual(["time"]);
    expect([...reasons(-1)].filter((reason) => reason !== "end of data")).toEqual(["stop"]);
    expect(new Set(trades.map(({ quantity }) => quantity))).toEqual(new Set([3]));
  });
});

test("a largest size cuts what the kit or the plan sizes, says so, and leaves exits alone", () => {
  const build: Build = ({ on, enter, position, exit }) => {
    on.barClose(() => (position.flat ? enter.long({ size: units(7) }) : exit.long({ size: units(7) })));
  };
  const sizesOf = ({ trades }: ReturnType<typeof run>) => new Set(trades.map(({ quantity }) => quantity));
  expect(sizesOf(run(build, { maxQuantity: 4 }))).toEqual(new Set([4]));
  const cut = run(build, { maxQuantity: 3, size: { by: "units", value: 9 } });
  expect(sizesOf(cut)).toEqual(new Set([3]));
  expect(cut.log.some(({ text }) => text.includes("is cut to the maximum of 3"))).toBe(true);
  // The account's own maximum counts where it is lower.
  const both = runBuild(tradedWalk(300, 4), build, { settings: { kit: kitOf({ maxQuantity: 5 }), maxQuantity: 2 } });
  expect(sizesOf(both)).toEqual(new Set([2]));
  expect(sizesOf(run(build, { maxQuantity: null }))).toEqual(new Set([7]));
});

describe("entries at a limit", () => {
  const long: Build = ({ on, enter, position }) => {
    on.barClose(() => {
      if (position.flat) enter.long();
    });
  };

  test("fill at the limit or better, one at a time, and are given up after their bars", () => {
    const bars = tradedWalk(300, 4);
    const { orders, trades, log } = run(long, { entryLimit: { ticks: 3, bars: 2 }, long: exitsOf({ timeLimit: { bars: 4 } }) }, bars);
    const entries = orders.filter(({ intent }) => intent === "enter");
    expect(entries.length).toBeGreaterThan(20);
    for (const { kind, price, fillPrice, state, submittedBar } of entries) {
      expect(kind).toBe("limit");
      expect(price).toBe(bars.close[submittedBar]! - 3 * 0.25);
      if (state === "filled") expect(fillPrice).toBeLessThanOrEqual(price);
    }
    // The last may work still.
    expect(new Set(entries.slice(0, -1).map(({ state }) => state))).toEqual(new Set(["filled", "expired"]));
    expect(trades.length).toBeGreaterThan(5);
    expect(log.some(({ text }) => text.includes("waits at its limit already"))).toBe(true);
  });

  test("what reverses stays at market", () => {
    const flip: Build = ({ on, enter }) => {
      let n = 0;
      on.barClose(() => {
        n++;
        if (n % 20 === 0) enter.long({ reverse: true });
        if (n % 20 === 10) enter.short({ reverse: true });
      });
    };
    const { orders } = run(flip, { entryLimit: { ticks: 3, bars: 2 } });
    expect(orders.length).toBeGreaterThan(10);
    expect(new Set(orders.map(({ kind }) => kind))).toEqual(new Set(["market"]));
  });
});

describe("limits on entries, each said in the log", () => {
  const EXITS = { long: exitsOf({ timeLimit: { bars: 2 } }), short: exitsOf({ timeLimit: { bars: 2 } }) };

  test("one side only", () => {
    const result = run(EAGER, { ...EXITS, sides: "short" });
    expect(new Set(result.trades.map(({ side }) => side))).toEqual(new Set([-1]));
    expect(refusals(result)[0]).toContain("only short entries");
  });

  test("one position at a time, working entries included", () => {
    const bracket: Build = ({ on, enter, bars }) => {
      on.barClose(() => {
        enter.long.stop(bars.high.now + 0.25, { goodFor: 3 });
        enter.short.stop(bars.low.now - 0.25, { goodFor: 3 });
      });
    };
    const { trades } = run(bracket, { ...EXITS, onePosition: true });
    expect(trades.length).toBeGreaterThan(10);
    // No trade begins while another is open.
    for (const [k, trade] of trades.entries()) if (k > 0) expect(trade.entryTime).toBeGreaterThanOrEqual(trades[k - 1]!.exitTime);
  });

  test("entries a session count fills, not orders", () => {
    const bars = tradedWalk(300, 4);
    const restless: Build = ({ on, enter, orders, bars: own }) => {
      on.barClose(() => {
        orders.cancelAll();
        enter.long.stop(own.high.now + 0.5);
      });
    };
    const result = run(restless, { ...EXITS, entriesPerSession: 2 }, bars);
    const bySession = new Map<number, number>();
    for (const { entryBar } of result.trades) bySession.set(bars.session[entryBar]!, (bySession.get(bars.session[entryBar]!) ?? 0) + 1);
    expect(Math.max(...bySession.values())).toBe(2);
    expect(refusals(result)[0]).toContain("2 entries in this session already");
  });

  test("a rest after a loss", () => {
    const { trades } = run(EAGER, { ...EXITS, coolDownBars: 5, onePosition: true });
    for (const [k, trade] of trades.entries()) {
      const before = trades[k - 1];
      if (before && before.net < 0) expect(trade.entryBar - before.exitBar).toBeGreaterThan(5);
    }
    expect(trades.some(({ net }) => net < 0)).toBe(true);
  });

  test("a daily loss ends the session's entries", () => {
    const bars = tradedWalk(300, 4);
    const { trades } = run(EAGER, { ...EXITS, dailyLoss: 30, onePosition: true }, bars);
    const lost = new Map<number, number>();
    for (const { entryBar, exitBar, net } of trades) {
      const session = bars.session[entryBar]!;
      expect(lost.get(session) ?? 0).toBeLessThan(30);
      if (net < 0) lost.set(bars.session[exitBar]!, (lost.get(bars.session[exitBar]!) ?? 0) - net);
    }
    expect([...lost.values()].some((sum) => sum >= 30)).toBe(true);
  });

  const WAITING: Build = ({ on, enter, orders, bars: own }) => {
    on.barClose(() => {
      orders.cancelAll();
      enter.long.stop(own.high.now + 0.5);
      enter.short();
    });
  };

  test("a daily loss cancels what waits, and with flatten closes what is open", () => {
    const bars = tradedWalk(300, 4);
    for (const atLimit of ["no entries", "flatten"] as const) {
      const { trades } = run(WAITING, { ...EXITS, dailyLoss: 30, atLimit }, bars);
      const byExit = [...trades].sort((a, b) => a.exitTime - b.exitTime || a.exitBar - b.exitBar);
      const [lost, overAt] = [new Map<number, number>(), new Map<number, number>()];
      for (const { exitBar, exitTime, net } of byExit) {
        const session = bars.session[exitBar]!;
        if (net < 0) lost.set(session, (lost.get(session) ?? 0) - net);
        if (lost.get(session)! >= 30 && !overAt.has(session)) overAt.set(session, exitTime);
      }
      expect(overAt.size).toBeGreaterThan(2);
      for (const { entryBar, entryTime } of trades) expect(entryTime).toBeLessThanOrEqual(overAt.get(bars.session[entryBar]!) ?? entryTime);
      expect(trades.some(({ exitTag }) => exitTag === "loss limit of the session")).toBe(atLimit === "flatten");
    }
  });

  test("a drawdown ends the run's entries, as money and as percent of the highest close, and with flatten all of it", () => {
    const bars = tradedWalk(300, 4);
    for (const unit of ["money", "percent"] as const)
      for (const atLimit of [undefined, "flatten"] as const) {
        const drawdown = { unit, value: unit === "money" ? 150 : 0.2 };
        const { trades, equity, log } = run(WAITING, { ...EXITS, drawdown, ...(atLimit && { atLimit }) }, bars);
        let highest = Number.NEGATIVE_INFINITY;
        const hitAt = equity.findIndex((value) => {
          highest = Math.max(highest, value);
          return highest - value >= (unit === "money" ? 150 : 0.002 * highest);
        });
        expect(hitAt).toBeGreaterThan(10);
        expect(hitAt).toBeLessThan(bars.length - 20);
        expect(trades.filter(({ entryBar }) => entryBar > hitAt)).toEqual([]);
        const isOpenThen = trades.filter(({ exitBar }) => exitBar > hitAt);
        expect(isOpenThen.length).toBeGreaterThan(0);
        // The plan cancels all of its orders at each close; the kit's exit is none of them.
        if (atLimit) expect(isOpenThen.every(({ exitTag, exitBar }) => exitTag === "drawdown limit" && exitBar === hitAt + 1)).toBe(true);
        expect(log.filter(({ text }) => text.includes("no entries for the rest of the run"))).toHaveLength(1);
      }
    expect(run(WAITING, { ...EXITS, drawdown: { unit: "money", value: 1e9 } }, bars).trades).toEqual(run(WAITING, EXITS, bars).trades);
  });

  test("windows by clock and by bars since the open, a side each", () => {
    const bars = tradedWalk(300, 4);
    const { trades } = run(
      EAGER,
      { ...EXITS, longWindow: { by: "clock", from: "06:00", to: "09:00" }, shortWindow: { by: "bars", from: 30, to: 36 } },
      bars,
    );
    const entryMinutes = (side: 1 | -1) =>
      trades
        .filter((trade) => trade.side === side)
        .map(({ entryTime }) => new Date(entryTime).getUTCHours() * 60 + new Date(entryTime).getUTCMinutes());
    expect(Math.min(...entryMinutes(1))).toBeGreaterThanOrEqual(6 * 60);
    expect(Math.max(...entryMinutes(1))).toBeLessThanOrEqual(9 * 60);
    // Sent at the close of bars 30 to 36 of half an hour each, filled at the next open.
    expect(Math.min(...entryMinutes(-1))).toBeGreaterThanOrEqual(15 * 60);
    expect(Math.max(...entryMinutes(-1))).toBeLessThanOrEqual(18 * 60 + 30);
  });

  test("a filter in words; one that can't be read ends the run before it starts", () => {
    const result = run(EAGER, { ...EXITS, filter: "close > sma(close, 20)" });
    const all = run(EAGER, EXITS);
    expect(result.trades.length).toBeGreaterThan(5);
    expect(result.trades.length).toBeLessThan(all.trades.length);
    expect(() => run(EAGER, { filter: "close >" })).toThrow(/Exit kit "Test": Can't read "close >"/);
    // Switched off it is kept for later.
    expect(run(EAGER, { ...EXITS, filter: "close > sma(close, 20)", isFilterOff: true }).trades).toEqual(all.trades);
  });

  test("exits never wait for a window or a filter", () => {
    const leaving: Build = ({ on, enter, position }) => {
      on.barClose(() => (position.flat ? enter.long({ size: units(1) }) : position.close("out")));
    };
    const { trades } = run(leaving, { longWindow: { by: "bars", from: 2, to: 2 } });
    expect(trades.length).toBeGreaterThan(3);
    expect(new Set(trades.map(({ barsHeld }) => barsHeld))).toEqual(new Set([1]));
  });
});
