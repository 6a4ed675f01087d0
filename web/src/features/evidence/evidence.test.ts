import type { RunEvidence } from "@plan-tester/contract";
import { ALWAYS_OPEN, type BarSeries, DAY_MS, type Instrument, makeSeries, NO_COSTS, resample, type Trade } from "@plan-tester/core";
import { describe, expect, test } from "vitest";
import { seriesOf } from "../../data/bars.ts";
import { barsOf, stretchOfBars, stretchOfDates } from "../run-view/view.ts";
import { daysBehind, tradesBehind } from "./behind.ts";
import { contradictions } from "./contradictions.ts";
import { reportHtml } from "./report.ts";
import { standing } from "./standing.ts";
import { viewBars, viewColumn, viewStrip, viewTrades } from "./view-bars.ts";

const trade = (id: number, net: number, change: Partial<Trade> = {}): Trade =>
  ({ id, net, r: null, reason: "signal", pathDependent: false, ...change }) as Trade;
const START = Date.UTC(2025, 2, 3);

function minutes(count: number): BarSeries {
  const column = (of: (i: number) => number): Float64Array => Float64Array.from({ length: count }, (_none, i) => of(i));
  return makeSeries(
    {
      time: column((i) => START + i * 60_000),
      open: column(() => 10),
      high: column(() => 11),
      low: column(() => 9),
      close: column(() => 10),
      volume: column(() => 1),
    },
    "1m",
    ALWAYS_OPEN,
  );
}

describe("what stands behind a figure", () => {
  const trades = [
    trade(1, 5),
    trade(2, -3),
    trade(3, -9),
    trade(4, 0),
    trade(5, -1),
    trade(6, 8, { pathDependent: true }),
    trade(7, 2, { reason: "end of data" }),
  ];
  const ids = (name: Parameters<typeof tradesBehind>[0]): number[] | null => tradesBehind(name, trades)?.map(({ id }) => id) ?? null;
  test.each([
    ["netProfit", [1, 2, 3, 4, 5, 6, 7]],
    ["grossProfit", [1, 6, 7]],
    ["averageLoss", [2, 3, 5]],
    ["largestWin", [6]],
    ["largestLoss", [3]],
    ["longestLosingStreak", [2, 3]],
    ["longestWinningStreak", [6, 7]],
    ["worstLosingStreak", [2, 3]],
    ["even", [4]],
    ["pathAtStake", [6]],
    ["openAtEnd", [7]],
    ["averageTradeR", []],
    ["exposure", null],
  ] as const)("%s", (name, expected) => {
    expect(ids(name)).toEqual(expected);
  });

  test("of days the worst and the best", () => {
    const daily = { dates: ["d1", "d2", "d3"], equity: [100, 110, 88, 88] };
    expect(daysBehind("sharpe", { daily })).toMatchObject({ count: 3, worst: [{ date: "d2", net: -22 }, { date: "d3" }, { date: "d1" }] });
    expect(daysBehind("trades", { daily })).toBeNull();
  });
});

describe("what seems to contradict", () => {
  const facts = (trades: Trade[], figures: object) => ({ trades, figures: figures as RunEvidence["figures"] });
  const sized = (id: number, net: number, quantity: number, r: number, symbol = "KELP") => trade(id, net, { quantity, r, symbol });

  test("ticks against money, by sizes or by instruments", () => {
    const figures = { netProfit: 500, averageTradeTicks: -1.58, averageTradeR: 0.1, sqn: 0.2, profitFactor: 1.1 };
    expect(contradictions(facts([sized(1, 700, 9, 1), sized(2, -200, 1, -0.8)], figures))[0]).toMatch(
      /−1\.58 ticks beside a net of \+500: .*larger trades/,
    );
    expect(contradictions(facts([sized(1, 700, 1, 1), sized(2, -200, 1, -0.8, "BRIN")], figures))[0]).toMatch(
      /one instrument is worth more money/,
    );
  });

  test("R and SQN against money", () => {
    const figures = { netProfit: 500, averageTradeTicks: 2, averageTradeR: -0.05, sqn: -0.34, profitFactor: 1.12 };
    expect(contradictions(facts([sized(1, 700, 1, 0.4), sized(2, -200, 1, -0.5)], figures))).toEqual([
      expect.stringMatching(/−0\.05 R \(and the SQN −0\.34\) beside a profit factor of 1\.12: R counts each trade by what it risked/),
    ]);
  });

  test("nothing is said where nothing does", () => {
    const figures = { netProfit: 500, averageTradeTicks: 2, averageTradeR: 0.1, sqn: 1, profitFactor: 1.12 };
    expect(contradictions(facts([sized(1, 700, 1, 1), sized(2, -200, 1, -0.8)], figures))).toEqual([]);
    expect(contradictions(facts([], { ...figures, netProfit: 0, averageTradeTicks: null, averageTradeR: null }))).toEqual([]);
  });
});

describe("still trading? at a peak?", () => {
  const at = (id: number, day: number, reason = "signal"): Trade =>
    trade(id, 1, { entryTime: day * DAY_MS, exitTime: (day + 0.5) * DAY_MS, reason: reason as Trade["reason"] });
  const dateOf = (day: number): string => new Date(day * DAY_MS).toISOString().slice(0, 10);
  /** Sessions up to a day. */
  const daily = (equity: number[], until: number) => ({
    dates: equity.slice(1).map((_, index) => dateOf(until - equity.length + 2 + index)),
    equity,
  });
  test.each([
    [[at(1, 1), at(2, 3), at(3, 5)], 6, [1, 2, 3, 4], /^Still trading.*Equity ends at its peak\.$/],
    [
      [at(1, 1), at(2, 3), at(3, 5)],
      60,
      [1, 9, 3, 4],
      /stopped trading: nothing for 55 days.*5 \(55\.6\s%\) below its peak, under water for 2 sessions/,
    ],
    [[at(1, 1), at(2, 3, "end of data")], 4, [1, 2, 3, 4], /^Still in a position at the end; 2 trades in all/],
    [[at(1, 1), at(2, 3)], 400, [1, 2, 3, 4], /^Only 2 trades: the last one closed 397 days before the end/],
    [[], 4, [1, 1, 1, 1], /^Equity ends at its peak\.$/],
  ])("%#", (trades, endDay, equity, words) => {
    expect(standing({ trades, daily: daily(equity, endDay) }, endDay * DAY_MS).join(" ")).toMatch(words);
  });

  test("a run that ended early has not fallen silent in what it never saw", () => {
    const trades = [at(1, 1), at(2, 3), at(3, 5)];
    expect(standing({ trades, daily: daily([1, 2, 3, 4], 6) }, 900 * DAY_MS).join(" ")).toMatch(/^Still trading/);
  });
});

describe("a stretch", () => {
  const bars = minutes(3000);
  const data = { bars, equity: new Float64Array(2500), zone: "UTC" };
  test("goes from bars to times and back, and ends with the equity", () => {
    expect(barsOf(stretchOfBars(10, 20, data), data)).toEqual({ from: 10, to: 20 });
    expect(barsOf(stretchOfBars(2400, 2900, data), data)).toEqual({ from: 2400, to: 2499 });
    expect(barsOf({ fromMs: 0, toMs: 5, label: "" }, data)).toBeNull();
  });

  test("of a date is that session; of a date that is not there nothing", () => {
    const stretch = stretchOfDates("2025-03-04", "Tuesday", data)!;
    expect(barsOf(stretch, data)).toEqual({ from: 1440, to: 2499 });
    expect(stretchOfDates("2024", "2024", data)).toBeNull();
  });
});

describe("bars of another timeframe to look at", () => {
  const run = resample(minutes(240), "15m").series;
  test("coarser: each trade at the bar that holds it, values as last completed, a yes outweighs a no", () => {
    const place = viewBars(run, resample(minutes(240), "1h").series);
    const [shown] = viewTrades(
      [trade(1, 1, { entryTime: START + 16 * 60_000, exitTime: START + 130 * 60_000, rails: [{ barIndex: 5, stop: 1, target: null }] })],
      place,
    );
    expect([shown!.entryBar, shown!.exitBar, shown!.rails[0]!.barIndex]).toEqual([0, 2, 1]);
    expect(
      Array.from(
        viewColumn(
          Float64Array.from({ length: 16 }, (_none, i) => i),
          place,
        ),
      ),
    ).toEqual([3, 7, 11, 15]);
    const values = new Uint8Array(16).fill(1);
    values[5] = 2;
    expect(Array.from(viewStrip(values, place))).toEqual([1, 2, 1, 1]);
  });

  test("finer: values hold until the next bar of the run is completed", () => {
    const place = viewBars(run, resample(minutes(240), "5m").series);
    expect(
      Array.from(
        viewColumn(
          Float64Array.from({ length: 16 }, (_none, i) => i),
          place,
        ).slice(0, 7),
      ),
    ).toEqual([Number.NaN, Number.NaN, 0, 0, 0, 1, 1]);
    expect(place.toView(0)).toBe(2);
  });
});

test("bars from the server are the series that the core computes on", () => {
  const bars = minutes(30);
  const { time, closeTime, open, high, low, close, volume } = bars;
  const session = Float64Array.from(bars.session);
  const meta = { symbol: "X", timeframe: "1m", zone: "UTC", dates: ["2025-03-03"] };
  const back = seriesOf({ meta, columns: { time, closeTime, open, high, low, close, volume, session }, singles: {}, bytes: {} });
  expect([back.length, back.session[29], back.sessions.dates[0], back.sessions.openMs[0]]).toEqual([30, 0, "2025-03-03", START]);
});

test("a report is one page that holds its doubts, figures and trades, and lets no text through as marks", () => {
  const figures = new Proxy({}, { get: () => 1 });
  const run = {
    title: "A <b>bold</b> plan",
    ...{
      kept: null,
      fingerprint: "f",
      dataHash: "d".repeat(20),
      createdMs: START,
      lastMs: START,
      source: "if (a < b && c) {}",
      inputs: {},
      inputSpecs: [],
      months: [],
      years: [],
    },
    settings: {
      symbol: "KELP",
      timeframe: "15m",
      from: "2025-03-03",
      to: "2025-03-04",
      cash: 1000,
      costs: "market",
      path: "assumed",
      alsoOn: [],
      kit: null,
    },
    ...{
      figures,
      long: {},
      short: {},
      benchmarkFigures: { totalReturn: 0.1 },
      slips: [],
      daily: { dates: ["2025-03-03", "2025-03-04"], equity: [1000, 1010, 990] },
    },
    warnings: [{ code: "few trades", text: "Only 1 trade", advice: "Test longer" }],
    trades: [trade(1, 5, { side: 1, quantity: 2, entryTime: START, entryPrice: 10, exitTime: START, exitPrice: 11, entryTag: "" })],
  } as unknown as RunEvidence;
  const instrument = (symbol: string, commissionPerUnit: number): Instrument =>
    ({ symbol, currency: "XSC", costs: { ...NO_COSTS, commissionPerUnit, spreadTicks: 1 } }) as unknown as Instrument;
  const page = new DOMParser().parseFromString(reportHtml(run, "UTC", 2, [instrument("KELP", 2.4), instrument("BRIN", 2.8)]), "text/html");
  const costs = [...page.querySelectorAll("h2")].find(({ textContent }) => textContent === "Costs")!.nextElementSibling!;
  expect([...costs.querySelectorAll("tr")].map(({ textContent }) => textContent)).toEqual([
    "InstrumentPays",
    expect.stringMatching(/^KELPcommission 2\.40 XSC per unit and side, spread 1\.0/),
    expect.stringMatching(/^BRINcommission 2\.80 XSC per unit and side/),
  ]);
  expect(page.querySelector("h1")!.textContent).toBe("A <b>bold</b> plan");
  expect(page.querySelector(".w")!.textContent).toBe("Only 1 trade. Test longer");
  expect(page.querySelector("pre")!.textContent).toBe("if (a < b && c) {}");
  expect([...page.querySelectorAll("h2")].map(({ textContent }) => textContent)).toContain("Before you believe it");
  expect(page.querySelectorAll("script, link, img").length).toBe(0);
});
