/** Laws that hold for any bars and any script of orders. Seeds are printed by fast-check when one fails. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { StudyStore } from "../language/study-store.ts";
import { makeSeries } from "../market/bars.ts";
import { ALWAYS_OPEN } from "../market/calendar.ts";
import { NO_COSTS } from "../market/instrument.ts";
import { resample } from "../market/resample.ts";
import { Random } from "../random.ts";
import { Backtest } from "../run/backtest.ts";
import { checkLookAhead } from "../run/look-ahead.ts";
import { barsOf, INSTRUMENT, type Ohlc, walk } from "../testing/bars.ts";
import { type Build, declare, type RunOptions, runBuild, words } from "../testing/run.ts";
import { resolveSettings } from "./settings.ts";

const { ticks, units, points, R } = words;
/** The seed is fixed, so that a change is told by its own doing; SEED=… tries others. */
const SEED = Number(process.env.SEED ?? 20_260_301);
const RUNS = { numRuns: 60, seed: SEED };

/** A plan that does something at random at every third close; the same seed does the same. */
function script(seed: number, mirrored = false): Build {
  return ({ on, enter, exit, position, orders, bars }) => {
    const random = new Random(seed);
    const [up, down] = mirrored ? [enter.short, enter.long] : [enter.long, enter.short];
    const way = mirrored ? -1 : 1;
    on.barClose(() => {
      const what = random.next();
      const distance = 1 + Math.floor(random.next() * 12);
      const size = units(1 + Math.floor(random.next() * 3));
      const exits = { size, stopLoss: ticks(2 + Math.floor(random.next() * 20)), target: ticks(2 + Math.floor(random.next() * 30)) };
      const from = bars.close.now;
      const price = (side: 1 | -1): number => from + way * side * distance * 0.25;
      if (what < 0.08) up(exits);
      else if (what < 0.16) down({ ...exits, reverse: random.next() < 0.5 });
      else if (what < 0.22) up.stop(price(1), { ...exits, goodFor: 3 });
      else if (what < 0.28) down.stop(price(-1), { ...exits, group: "g" });
      else if (what < 0.34) up.limit(price(-1), { ...exits, group: "g" });
      else if (what < 0.4) down.limit(price(1), { ...exits, goodFor: "session" });
      else if (what < 0.45) position.close();
      else if (what < 0.48) position.reduce(1);
      else if (what < 0.52) orders.cancelAll();
      else if (what < 0.56 && !position.flat) position.tightenStop(from + (position.long ? -1 : 1) * distance * 0.25);
      else if (what < 0.6) up({ size, stopLoss: ticks(distance), trail: ticks(distance + 2), locks: [{ after: R(1), keep: points(0) }] });
      else if (what < 0.64)
        down({ size, trail: { distance: ticks(distance), after: ticks(4), step: ticks(2) }, timeLimit: { bars: distance } });
      else if (what < 0.68) up.stopLimit(price(1), price(1) + way * 0.5, { ...exits, breakEven: ticks(distance) });
      else if (what < 0.71) (mirrored ? exit.short : exit.long).limit(price(1), { part: 0.5, group: "out" });
      else if (what < 0.74) (mirrored ? exit.long : exit.short).stop(price(1), { group: "out", goodFor: 6 });
      else if (what < 0.76) position.goTo(units(way * distance));
    });
  };
}

const COSTS = { ...NO_COSTS, commissionPerUnit: 1.5, commissionMinimum: 2, spreadTicks: 1, slippageTicks: 0.5 };

/** Every kind of account that a law should hold on. */
const ACCOUNTS: readonly (readonly [string, RunOptions])[] = [
  ["without costs", {}],
  ["with costs", { settings: { costs: COSTS } }],
  ["on bid prices", { settings: { costs: COSTS, basis: "bid" } }],
  ["on adverse paths", { settings: { costs: COSTS, path: "adverse" } }],
  ["with independent lots", { settings: { costs: COSTS, positions: "independent" } }],
  [
    "with financing and slippage of all kinds",
    { settings: { costs: { ...COSTS, financingLong: 0.4, financingShort: -0.1, slippageRange: 0.1, slippageRandomTicks: 2 } } },
  ],
  ["on margin", { settings: { cash: 9000, costs: COSTS, margin: { by: "unit", value: 900, maintenancePercent: 60 } } }],
];

const seeds = fc.tuple(fc.integer({ min: 1, max: 1e6 }), fc.integer({ min: 1, max: 1e6 }));

describe("conservation of money", () => {
  test.each(ACCOUNTS)("%s: what trades made is what equity gained, and costs are told apart", (_name, options: RunOptions) => {
    fc.assert(
      fc.property(seeds, ([a, b]) => {
        const { trades, equity, figures, fills } = runBuild(walk(300, a), script(b), options);
        const net = trades.reduce((sum, trade) => sum + trade.net, 0);
        expect(equity.at(-1)! - (options.settings?.cash ?? 100_000)).toBeCloseTo(net, 6);
        expect(figures.netProfit).toBeCloseTo(net, 6);
        for (const trade of trades) {
          expect(trade.gross - trade.commission - trade.spread - trade.slippage - trade.financing).toBeCloseTo(trade.net, 6);
          expect(trade.mae).toBeGreaterThanOrEqual(0);
          expect(trade.mfe).toBeGreaterThanOrEqual(0);
          expect(trade.exitBar).toBeGreaterThanOrEqual(trade.entryBar);
        }
        const filled = fills.reduce((sum, fill) => sum + fill.side * fill.quantity, 0);
        const left = trades.filter(({ reason }) => reason === "end of data").reduce((sum, trade) => sum + trade.side * trade.quantity, 0);
        expect(filled).toBeCloseTo(left, 9);
      }),
      RUNS,
    );
  });
});

describe("R7.1 no look-ahead: a run on the first bars does the same as a run on all", () => {
  test.each(ACCOUNTS)("%s", (_name, options) => {
    fc.assert(
      fc.property(seeds, fc.integer({ min: 20, max: 280 }), ([a, b], cut) => {
        const plan = declare(script(b));
        const { difference } = checkLookAhead({
          makePlan: () => plan,
          inputs: {},
          feeds: [{ instrument: INSTRUMENT, store: new StudyStore(walk(300, a)), finer: null }],
          settings: resolveSettings(options.settings ?? {}),
          cuts: [cut],
        });
        expect(difference).toBeNull();
      }),
      { ...RUNS, numRuns: 25 },
    );
  });
});

test("R7.2 the same run gives the same result to the last bit", () => {
  fc.assert(
    fc.property(seeds, ([a, b]) => {
      const bars = walk(200, a);
      const [one, two] = [runBuild(bars, script(b)), runBuild(bars, script(b))];
      expect(two.trades).toEqual(one.trades);
      expect(two.equity).toEqual(one.equity);
      expect(two.figures).toEqual(one.figures);
    }),
    RUNS,
  );
});

test("mirrored prices and sides give the same money", () => {
  fc.assert(
    fc.property(seeds, ([a, b]) => {
      const bars = walk(200, a);
      const flip = (price: number): number => 1000 - price;
      const rows = Array.from(
        { length: bars.length },
        (_, i): Ohlc => [flip(bars.open[i]!), flip(bars.low[i]!), flip(bars.high[i]!), flip(bars.close[i]!)],
      );
      // Equal distances to high and low go by the colour of the bar, and a bar without colour has no mirror image.
      if (rows.some(([o, h, l, c]) => Math.abs(h - o) === Math.abs(o - l) && o === c && h !== l)) return;
      const one = runBuild(bars, script(b));
      const two = runBuild(barsOf(rows), script(b, true));
      // Adding 0 turns a minus zero into a zero.
      expect(two.trades.map(({ net, side }) => [net + 0, side])).toEqual(one.trades.map(({ net, side }) => [net + 0, -side]));
    }),
    RUNS,
  );
});

test("prices and ticks ten times as large, at a tenth of the money a point, give the same money", () => {
  fc.assert(
    fc.property(seeds, ([a, b]) => {
      const bars = walk(200, a);
      const tenfold = barsOf(
        Array.from({ length: 200 }, (_, i): Ohlc => [bars.open[i]! * 10, bars.high[i]! * 10, bars.low[i]! * 10, bars.close[i]! * 10]),
      );
      const sparse =
        (tick: number): Build =>
        ({ on, enter, position, bars: own }) => {
          const random = new Random(b);
          on.barClose(() => {
            const what = random.next();
            const reach = tick * (1 + Math.floor(random.next() * 8));
            const exits = {
              stopLoss: ticks(2 + Math.floor(random.next() * 20)),
              target: R(1 + Math.floor(random.next() * 3)),
              trail: ticks(12),
            };
            if (what < 0.15) enter.long.stop(own.close.now + reach, exits);
            else if (what < 0.3) enter.short.limit(own.close.now + reach, exits);
            else if (what < 0.35) position.close();
          });
        };
      const one = runBuild(bars, sparse(0.25), { settings: { costs: COSTS } });
      const instrument = { ...INSTRUMENT, tickSize: 2.5, pipSize: 2.5, pointValue: 1 };
      const two = runBuild(tenfold, sparse(2.5), { settings: { costs: COSTS }, instrument });
      expect(two.trades.map(({ net, reason }) => [net.toFixed(6), reason])).toEqual(
        one.trades.map(({ net, reason }) => [net.toFixed(6), reason]),
      );
    }),
    RUNS,
  );
});

test("R3.7 the stop of a lot never loosens", () => {
  fc.assert(
    fc.property(seeds, ([a, b]) => {
      for (const { rails, side } of runBuild(walk(300, a), script(b)).trades)
        rails.forEach(({ stop }, k) => {
          const before = rails[k - 1]?.stop;
          if (typeof before !== "number") return;
          expect(stop === null ? Number.NEGATIVE_INFINITY : (stop - before) * side).toBeGreaterThanOrEqual(0);
        });
    }),
    RUNS,
  );
});

test("an instrument beside another that does nothing does the same as alone, but for the clock of equity", () => {
  fc.assert(
    fc.property(seeds, ([a, b]) => {
      const bars = walk(250, a);
      const feeds = [INSTRUMENT, { ...INSTRUMENT, symbol: "IDLE" }].map((instrument, k) => ({
        instrument,
        store: new StudyStore(k === 0 ? bars : walk(250, a + 1)),
        finer: null,
      }));
      const backtest = new Backtest({ plan: declare(script(b)), inputs: {}, feeds, settings: resolveSettings({ costs: COSTS }) });
      backtest.advance(bars.length);
      const [joint, alone] = [backtest.result(), runBuild(bars, script(b), { settings: { costs: COSTS } })];
      expect(joint.trades).toEqual(alone.trades);
      expect(joint.fills).toEqual(alone.fills);
      expect(Array.from(joint.equity, (value) => value.toFixed(6))).toEqual(Array.from(alone.equity, (value) => value.toFixed(6)));
      expect(joint.figures.exposure).toBe(alone.figures.exposure);
    }),
    RUNS,
  );
});

test("several instruments with gaps in their bars share one account: what trades made is what equity gained, at every close", () => {
  fc.assert(
    fc.property(seeds, ([a, b]) => {
      const random = new Random(a);
      const stores = [0, 1, 2].map((k) => {
        const { time, open, high, low, close, volume } = walk(260, a + k);
        // The second and third lack bars, so that one opens while another is at rest.
        const kept = Array.from({ length: 260 }, (_, i) => i).filter(() => k === 0 || random.next() < 0.8);
        const pick = (column: Float64Array): Float64Array => Float64Array.from(kept, (i) => column[i]!);
        const columns = { time: pick(time), open: pick(open), high: pick(high), low: pick(low), close: pick(close), volume: pick(volume) };
        return new StudyStore(makeSeries(columns, "1m", ALWAYS_OPEN));
      });
      const instruments = ["TEST", "NEXT", "LAST"].map((symbol) => ({ ...INSTRUMENT, symbol }));
      const build: Build = (context) => {
        const draws = new Random(b);
        const { markets } = context;
        for (const market of markets) {
          const { enter, position, orders, bars } = market;
          const tag = String(markets.indexOf(market));
          market.onBarClose(() => {
            const what = draws.next();
            const exits = {
              stopLoss: ticks(4 + Math.floor(draws.next() * 12)),
              trail: ticks(9),
              size: units(1 + Math.floor(draws.next() * 3)),
              tag,
            };
            if (what < 0.1) enter.long(exits);
            else if (what < 0.2) enter.short.stop(bars.close.now - 0.5, exits);
            else if (what < 0.25) position.close(tag);
            else if (what < 0.3) orders.cancelAll();
          });
        }
      };
      const feeds = instruments.map((instrument, k) => ({ instrument, store: stores[k]!, finer: null }));
      const backtest = new Backtest({ plan: declare(build), inputs: {}, feeds, settings: resolveSettings({ costs: COSTS }) });
      backtest.advance(260);
      const { trades, equity, fills } = backtest.result();
      expect(equity.at(-1)! - 100_000).toBeCloseTo(
        trades.reduce((sum, { net }) => sum + net, 0),
        6,
      );
      // Each close once more, from the fills alone. A fill knows its order, and the order of which market it is by its tag.
      const market = new Map(backtest.host.orders.map(({ id, tag }) => [id, Number(tag)]));
      const { closeTime } = stores[0]!.bars;
      for (let i = 0; i < 260; i++) {
        let cash = 100_000;
        const held = [0, 0, 0];
        for (const fill of fills) {
          const k = market.get(fill.orderId)!;
          if (fill.timeMs >= closeTime[i]!) continue;
          cash -= fill.side * fill.quantity * fill.price * 10 + fill.commission;
          held[k]! += fill.side * fill.quantity;
        }
        held.forEach((quantity, k) => {
          const { bars } = stores[k]!;
          let j = -1;
          while (j + 1 < bars.length && bars.closeTime[j + 1]! <= closeTime[i]!) j++;
          if (quantity !== 0) cash += quantity * bars.close[j]! * 10;
        });
        expect(equity[i]!, `at ${i}`).toBeCloseTo(cash, 5);
      }
    }),
    { ...RUNS, numRuns: 25 },
  );
});

test("a lean run, which leaves extremes until somebody asks, trades the same and answers the same", () => {
  fc.assert(
    fc.property(seeds, ([a, b]) => {
      const bars = walk(400, a);
      const told = [[], []] as [string[], string[]];
      const plan =
        (answers: string[]): Build =>
        ({ on, enter, position, when, bars: own }) => {
          const random = new Random(b);
          const turn = words.becomes(words.isAbove(own.close, words.sma(own.close, 12)));
          when(turn, () => {
            answers.push(`${position.highest} ${position.lowest}`);
            if (random.next() < 0.7) enter.long({ stopLoss: ticks(20), size: units(1 + Math.floor(random.next() * 3)) });
            else enter.short({ target: ticks(16) });
          });
          on.clock("04:00", () => answers.push(`${position.highest}`));
        };
      const runs = [false, true].map((isLean, k) => {
        const feeds = [{ instrument: INSTRUMENT, store: new StudyStore(bars), finer: null }];
        const backtest = new Backtest({
          plan: declare(plan(told[k]!)),
          inputs: {},
          feeds,
          settings: resolveSettings({ costs: COSTS }),
          isLean,
        });
        backtest.advance(bars.length);
        return backtest;
      });
      expect(told[1]).toEqual(told[0]);
      const { trades } = runs[0]!.host;
      const sum = (field: "net" | "commission" | "slippage"): number => trades.reduce((all, trade) => all + trade[field], 0);
      expect(runs[1]!.totals).toMatchObject({
        trades: trades.length,
        net: sum("net"),
        commission: sum("commission"),
        slippage: sum("slippage"),
        wins: trades.filter(({ net }) => net > 0).length,
        losses: trades.filter(({ net }) => net < 0).length,
        pathDependent: trades.filter(({ pathDependent }) => pathDependent).length,
      });
      expect(runs[1]!.equity).toEqual(runs[0]!.equity);
    }),
    RUNS,
  );
});

test("crossing quiet stretches at once is the same as walking every bar", () => {
  fc.assert(
    fc.property(seeds, ([a, b]) => {
      const bars = walk(400, a);
      // A spread column makes the engine walk bar by bar; a constant one must change nothing else.
      const column = { ...bars, spread: new Float64Array(bars.length).fill(0.25) };
      const settings = { costs: { ...COSTS } };
      const sparse: Build = (context) => {
        const rare = words.becomes(words.isAbove(context.bars.close, words.sma(context.bars.close, 30)));
        const random = new Random(b);
        context.when(rare, () => {
          const exits = { stopLoss: ticks(8 + Math.floor(random.next() * 30)), target: ticks(8 + Math.floor(random.next() * 30)) };
          (random.next() < 0.5 ? context.enter.long : context.enter.short)(exits);
        });
      };
      const [quick, slow] = [runBuild(bars, sparse, { settings }), runBuild(column, sparse, { settings })];
      expect(quick.trades).toEqual(slow.trades);
      expect(Array.from(quick.equity, (value) => value.toFixed(6))).toEqual(Array.from(slow.equity, (value) => value.toFixed(6)));
      expect(quick.figures.exposure).toBe(slow.figures.exposure);
      expect(quick.figures.averagePositionValue).toBeCloseTo(slow.figures.averagePositionValue!, 6);
    }),
    RUNS,
  );
});

test("several instruments: crossing quiet stretches at once is the same as walking every bar, whoever acts on whom", () => {
  fc.assert(
    fc.property(seeds, ([a, b]) => {
      const random = new Random(a);
      const { time, open, high, low, close, volume } = walk(600, a + 1);
      const kept = Array.from({ length: 600 }, (_, i) => i).filter(() => random.next() < 0.7);
      const pick = (column: Float64Array): Float64Array => Float64Array.from(kept, (i) => column[i]!);
      const gappy = { time: pick(time), open: pick(open), high: pick(high), low: pick(low), close: pick(close), volume: pick(volume) };
      const all = [walk(600, a), makeSeries(gappy, "1m", ALWAYS_OPEN), resample(walk(600, a + 2), "5m").series];
      const run = (walksAll: boolean) => {
        const draws = new Random(b);
        const plan: Build = ({ markets, on, when }) => {
          // Who asks for every price has every bar walked.
          if (walksAll) on.price(() => {});
          for (let k = 0; k < 3; k++) {
            const market = markets[k];
            const other = markets[(k + 1 + Math.floor(draws.next() * 2)) % 3]!;
            const rare = words.becomes(words.isAbove(market.bars.close, words.sma(market.bars.close, 9)));
            when(rare, () => {
              const exits = { stopLoss: ticks(8 + Math.floor(draws.next() * 20)), target: ticks(8 + Math.floor(draws.next() * 20)) };
              const what = draws.next();
              if (what < 0.4) (draws.next() < 0.5 ? market.enter.long : market.enter.short)(exits);
              else if (what < 0.7) other.enter.long.stop(other.bars.close.now + 1, { ...exits, goodFor: 4 });
              else other.position.close("done");
            });
          }
        };
        const feeds = all.map((bars, k) => ({
          instrument: { ...INSTRUMENT, symbol: ["TEST", "NEXT", "LAST"][k]! },
          store: new StudyStore(bars),
          finer: null,
        }));
        const backtest = new Backtest({ plan: declare(plan), inputs: {}, feeds, settings: resolveSettings({ costs: COSTS }) });
        backtest.advance(250);
        backtest.advance(600);
        return backtest.result();
      };
      const [quick, slow] = [run(false), run(true)];
      expect(quick.trades).toEqual(slow.trades);
      expect(quick.orders).toEqual(slow.orders);
      expect(quick.fills).toEqual(slow.fills);
      expect(Array.from(quick.equity, (value) => value.toFixed(6))).toEqual(Array.from(slow.equity, (value) => value.toFixed(6)));
      expect(quick.figures.exposure).toBe(slow.figures.exposure);
      expect(quick.figures.averagePositionValue).toBeCloseTo(slow.figures.averagePositionValue!, 6);
    }),
    { ...RUNS, numRuns: 25 },
  );
});

test("R4.2 bars whose finer bars are the bars themselves give the same fills", () => {
  fc.assert(
    fc.property(seeds, ([a, b]) => {
      const bars = walk(200, a);
      const { firstSource } = resample(bars, "1m");
      expect(runBuild(bars, script(b), { finer: { series: bars, first: firstSource } }).trades).toEqual(runBuild(bars, script(b)).trades);
    }),
    { ...RUNS, numRuns: 30 },
  );
});

test("R3.5 at most one order of a group fills", () => {
  fc.assert(
    fc.property(seeds, ([a, b]) => {
      const random = new Random(b);
      const { orders } = runBuild(walk(200, a), ({ on, enter, bars, orders: own }) => {
        let round = 0;
        on.barClose(() => {
          if (own.working.length > 0) return;
          const group = `g${++round}`;
          for (let k = 1; k <= 3; k++) {
            enter.long.stop(bars.close.now + k * 0.25 * (1 + Math.floor(random.next() * 4)), { group });
            enter.short.stop(bars.close.now - k * 0.25 * (1 + Math.floor(random.next() * 4)), { group });
          }
        });
      });
      const filled = new Map<string, number>();
      for (const order of orders) if (order.state === "filled") filled.set(order.group, (filled.get(order.group) ?? 0) + 1);
      expect(Math.max(0, ...filled.values())).toBeLessThanOrEqual(1);
    }),
    RUNS,
  );
});
