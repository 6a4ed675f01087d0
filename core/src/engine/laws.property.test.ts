/** Laws that hold for any bars and any script of orders. Seeds are printed by fast-check when one fails. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { type BarSeries, sliceSeries } from "../market/bars.ts";
import { NO_COSTS } from "../market/instrument.ts";
import { resample } from "../market/resample.ts";
import { Random } from "../random.ts";
import { barsOf, type Ohlc, walk } from "../testing/bars.ts";
import { type Build, type RunOptions, runBuild, words } from "../testing/run.ts";

const { ticks, units } = words;
/** The seed is fixed, so that a change is told by its own doing; SEED=… tries others. */
const SEED = Number(process.env.SEED ?? 20_260_301);
const RUNS = { numRuns: 60, seed: SEED };

/** A plan that does something at random at every third close; the same seed does the same. */
function script(seed: number, mirrored = false): Build {
  return ({ on, enter, position, orders, bars }) => {
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
    });
  };
}

const COSTS = { ...NO_COSTS, commissionPerUnit: 1.5, commissionMinimum: 2, spreadTicks: 1, slippageTicks: 0.5 };
const seeds = fc.tuple(fc.integer({ min: 1, max: 1e6 }), fc.integer({ min: 1, max: 1e6 }));

describe("conservation of money", () => {
  test.each([
    ["without costs", {}],
    ["with costs", { settings: { costs: COSTS } }],
    ["on bid prices", { settings: { costs: COSTS, basis: "bid" as const } }],
  ])("%s: what trades made is what equity gained, and costs are told apart", (_name, options: RunOptions) => {
    fc.assert(
      fc.property(seeds, ([a, b]) => {
        const { trades, equity, figures, fills } = runBuild(walk(300, a), script(b), options);
        const net = trades.reduce((sum, trade) => sum + trade.net, 0);
        expect(equity.at(-1)! - 100_000).toBeCloseTo(net, 6);
        expect(figures.netProfit).toBeCloseTo(net, 6);
        for (const trade of trades) {
          expect(trade.gross - trade.commission - trade.spread - trade.slippage).toBeCloseTo(trade.net, 6);
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

/** Everything that a run did up to a bar, but for the marking out at its end (R5.6). */
function upTo(bars: BarSeries, seed: number, length: number, options: RunOptions) {
  const { fills, trades } = runBuild(sliceSeries(bars, 0, length), script(seed), options);
  return {
    fills: fills.filter(({ barIndex }) => barIndex < length - 1),
    trades: trades.filter(({ exitBar, reason }) => exitBar < length - 1 && reason !== "end of data"),
  };
}

test("R7.1 no look-ahead: a run on the first bars does the same as a run on all", () => {
  fc.assert(
    fc.property(seeds, fc.integer({ min: 20, max: 250 }), ([a, b], length) => {
      const bars = walk(300, a);
      const whole = runBuild(bars, script(b), { settings: { costs: COSTS } });
      const part = upTo(bars, b, length, { settings: { costs: COSTS } });
      expect(part.fills).toEqual(whole.fills.filter(({ barIndex }) => barIndex < length - 1));
      expect(part.trades).toEqual(whole.trades.filter(({ exitBar, reason }) => exitBar < length - 1 && reason !== "end of data"));
    }),
    RUNS,
  );
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
