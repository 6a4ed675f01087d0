/** Rules that are written once for both sides: on bars turned upside down, shorts do what longs did. */
import { describe, expect, test } from "vitest";
import { makeSeries } from "../market/bars.ts";
import { ALWAYS_OPEN } from "../market/calendar.ts";
import { tradedWalk } from "../testing/bars.ts";
import { type Build, runBuild, words } from "../testing/run.ts";

const { bollinger, ema, rsi, ticks, units } = words;
const bars = tradedWalk(3000, 11);
/** About 400, on the same grid. */
const turn = (column: Float64Array): Float64Array => column.map((price) => 800 - price);
const turned = makeSeries(
  { ...bars, open: turn(bars.open), high: turn(bars.low), low: turn(bars.high), close: turn(bars.close) },
  bars.timeframe,
  ALWAYS_OPEN,
);

// biome-ignore lint/suspicious/noExplicitAny: typed by language.d.ts, which plans alone see
type Side = any;
const PLANS: readonly (readonly [string, Build])[] = [
  [
    "a break of the channel",
    ({ bars: own, mirrored, when, position }) =>
      mirrored((side: Side) =>
        when(side.crossesAbove(own.close, side.highest(own, 20).earlier(1)), () => {
          if (position.flat) side.enter({ stopLoss: ticks(30), target: ticks(45), size: units(2) });
        }),
      ),
  ],
  [
    "a stretch beyond a band, back towards the middle",
    ({ bars: own, mirrored, when, during, position }) =>
      mirrored((side: Side) => {
        const bands = bollinger(own.close, 20, 2);
        when(side.crossesBelow(side.low(own), side.lower(bands)), () => position.flat && side.enter());
        during(side.isAbove(own.close, bands.middle), () => side.isOpen && side.exit());
      }),
  ],
  [
    "a dip of an oscillator in a trend, by a limit order beyond the close",
    ({ bars: own, mirrored, when, orders }) =>
      mirrored((side: Side) => {
        const trend = side.isRising(ema(own.close, 40), 3).and(side.isAtOrAbove(own.close, ema(own.close, 60)));
        const dip = side.crossesBelow(rsi(own.close, 6), side.threshold(35, 50));
        when(dip.and(trend), () => {
          orders.cancelAll();
          side.enter.limit(side.beyond(own.close.now, -0.5), { goodFor: 5, stopLoss: ticks(40), target: ticks(40) });
        });
      }),
  ],
];

test.each(PLANS)("%s", (_name, build) => {
  const [up, down] = [runBuild(bars, build).trades, runBuild(turned, build).trades];
  expect(new Set(up.map(({ side }) => side))).toEqual(new Set([1, -1]));
  expect(up.length).toBeGreaterThan(15);
  const facts = ({ side, entryBar, exitBar, entryPrice, exitPrice, reason }: (typeof up)[number]) => [
    side,
    entryBar,
    exitBar,
    entryPrice,
    exitPrice,
    reason,
  ];
  expect(down.map(facts)).toEqual(
    up.map((trade) =>
      facts({ ...trade, side: trade.side > 0 ? -1 : 1, entryPrice: 800 - trade.entryPrice, exitPrice: 800 - trade.exitPrice }),
    ),
  );
});

test("each word is that of a long, and turned for a short", () => {
  const seen: unknown[] = [];
  runBuild(bars, ({ bars: own, mirrored }) => {
    const bands = bollinger(own.close, 20, 2);
    mirrored((side: Side) =>
      seen.push([
        ...[side.name, side.sign, side.threshold(30, 50), side.beyond(100, 2.5)],
        ...[side.high(own), side.low(own), side.highest(own, 5), side.lowest(own, 5), side.upper(bands), side.lower(bands)].map(String),
        ...[side.isBelow(own.close, 1), side.isAtOrBelow(own.close, 1), side.isFalling(own.close, 2), side.beyond(own.close, 2)].map(
          String,
        ),
      ]),
    );
  });
  const [long, short] = seen as [unknown[], unknown[]];
  expect(long.slice(0, 4)).toEqual(["long", 1, 30, 102.5]);
  expect(short.slice(0, 4)).toEqual(["short", -1, 70, 97.5]);
  expect(long[4]).toBe(short[5]);
  expect(long[5]).toBe(short[4]);
  expect(short.slice(6, 8)).toEqual(["lowest(low, 5)", "highest(high, 5)"]);
  expect(long[8]).toBe(short[9]);
  expect(short.slice(10)).toEqual(["isAbove(close, 1)", "isAtOrAbove(close, 1)", "isRising(close, 2)", "(close - 2)"]);
});

describe("what is wrong is said", () => {
  test.each<[string, Build, string]>([
    ["no function", ({ mirrored }) => mirrored("long"), 'mirrored() takes a function to run; it got the text "long"'],
    ["in a handler", ({ mirrored, on }) => on.barClose(() => mirrored(() => undefined)), "mirrored() in a handler"],
    ["no middle", ({ mirrored }) => mirrored((side: Side) => side.threshold(30)), "takes a threshold and the middle"],
    ["no bands", ({ mirrored, bars: own }) => mirrored((side: Side) => side.upper(own.close)), "side.upper() takes a column"],
    ["no distance", ({ mirrored }) => mirrored((side: Side) => side.beyond(100, "far")), 'how far beyond it; it got the text "far"'],
  ])("%s", (_what, build, words_) => {
    let message = "";
    try {
      message = runBuild(bars, build).failure?.message ?? "";
    } catch (error) {
      message = String(error);
    }
    expect(message).toContain(words_);
  });
});
