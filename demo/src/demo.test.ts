/** The demo world: the same seed gives the same bytes, bars are valid, and injected edges have the size that is written down. */
import { type BarSeries, barProblem, DAY_MS, isOnGrid, layOutSessions, makeSeries, mean, resample } from "@plan-tester/core";
import { describe, expect, test } from "vitest";
import { annualSharpe, costPerSide, EDGE_RULES } from "./edges.ts";
import { BarBuilder, characterOf, generateHistory, generateSession, sessionPlans, startCarry } from "./generator.ts";
import { HISTORY_FROM, HISTORY_TO, INSTRUMENTS, instrumentNamed } from "./instruments.ts";
import { type StylisedFacts, stylisedFacts } from "./stylised-facts.ts";

const TWO_MONTHS = HISTORY_FROM + 60 * DAY_MS;

test("there are the seven instruments", () => {
  expect(INSTRUMENTS.map(({ symbol }) => symbol)).toEqual(["KELP", "BRIN", "TIDE", "AUKL", "PUFN", "GANN", "XSC/ORM"]);
});

describe.each(INSTRUMENTS.map((instrument) => [instrument.symbol, instrument] as const))("%s", (symbol, instrument) => {
  const { columns } = generateHistory(symbol, TWO_MONTHS);

  test("the same seed gives the same bytes, another seed others", () => {
    expect(generateHistory(symbol, TWO_MONTHS).columns).toEqual(columns);
    expect(generateHistory(symbol, TWO_MONTHS, 7).columns.close).not.toEqual(columns.close);
  });

  test("every bar is valid, on the grid, and inside a session", () => {
    const { openMs, closeMs } = layOutSessions(instrument.calendar, HISTORY_FROM, TWO_MONTHS);
    let s = 0;
    let wrong = 0;
    for (let i = 0; i < columns.time.length; i++) {
      while (s + 1 < openMs.length && openMs[s + 1]! <= columns.time[i]!) s++;
      const inside = columns.time[i]! >= openMs[s]! && columns.time[i]! < closeMs[s]!;
      const sound = barProblem(columns.open[i]!, columns.high[i]!, columns.low[i]!, columns.close[i]!, columns.volume[i]!) === null;
      if (!inside || !sound || !isOnGrid(columns.high[i]!, instrument.tickSize)) wrong++;
    }
    expect(columns.time.length).toBeGreaterThan(15_000);
    expect(wrong).toBe(0);
  });

  test("sessions made one by one are the history: the venue can go on where it ends", () => {
    const carry = startCarry(characterOf(symbol));
    const out = new BarBuilder(16, columns.spread !== undefined);
    const plans = sessionPlans(layOutSessions(instrument.calendar, HISTORY_FROM, TWO_MONTHS)).filter(
      ({ openMs }) => openMs >= HISTORY_FROM && openMs < TWO_MONTHS,
    );
    for (const plan of plans) generateSession(instrument, plan, carry, out);
    expect(out.finish().close).toEqual(columns.close);
  });
});

const histories = new Map<string, BarSeries>();

/** The shipped history of an instrument, made once. */
function shipped(symbol: string): BarSeries {
  const kept = histories.get(symbol) ?? makeSeries(generateHistory(symbol, HISTORY_TO).columns, "1m", instrumentNamed(symbol)!.calendar);
  histories.set(symbol, kept);
  return kept;
}

describe("stylised facts of the shipped histories", () => {
  type Bounds = Readonly<Record<keyof StylisedFacts, readonly [number, number]>>;
  const common: Bounds = {
    deviation: [0.004, 0.03],
    excessKurtosis: [1.8, 8],
    skewness: [-0.5, 0.5],
    memory: [-0.1, 0.1],
    clustering: [0.08, 0.3],
    lastingClustering: [0.02, 0.2],
    volatilityOfVolatility: [0.3, 0.47],
    volumeWithVolatility: [0.8, 1],
    gapShare: [0.05, 0.7],
    leverage: [-0.1, 0.1],
    varianceRatio: [0.75, 1.3],
    sessions: [740, 790],
  };
  const share: Bounds = { ...common, skewness: [-1, -0.1], leverage: [-0.4, -0.1], gapShare: [0.4, 0.7] };
  /** Its own face: what differs from the others. */
  const TABLE: readonly (readonly [string, Bounds])[] = [
    ["KELP", { ...common, deviation: [0.012, 0.019], memory: [-0.14, -0.02], varianceRatio: [0.4, 0.75] }],
    ["BRIN", { ...common, deviation: [0.015, 0.025], varianceRatio: [1.02, 1.5], lastingClustering: [0.05, 0.2] }],
    ["TIDE", { ...common, deviation: [0.012, 0.02], gapShare: [0.08, 0.2] }],
    ["AUKL", { ...share, deviation: [0.017, 0.027] }],
    ["PUFN", { ...share, deviation: [0.009, 0.015], varianceRatio: [0.75, 1.4] }],
    ["GANN", { ...share, deviation: [0.015, 0.025], memory: [-0.07, 0.07], varianceRatio: [0.8, 1.2] }],
    ["XSC/ORM", { ...common, deviation: [0.004, 0.0065], gapShare: [0.05, 0.15] }],
  ];

  test("every instrument has its bounds", () => {
    expect(TABLE.map(([symbol]) => symbol)).toEqual(INSTRUMENTS.map(({ symbol }) => symbol));
  });

  test.each(TABLE)(
    "%s",
    (symbol, bounds) => {
      const facts = stylisedFacts(shipped(symbol));
      const outside = (Object.keys(bounds) as (keyof StylisedFacts)[]).filter((fact) => {
        const [least, most] = bounds[fact];
        return !(facts[fact] >= least && facts[fact] <= most);
      });
      expect(outside.map((fact) => `${fact} is ${facts[fact]}`)).toEqual([]);
    },
    30_000,
  );

  test("no month is a ruled line: in every 40 sessions some go against the others", () => {
    for (const { symbol } of INSTRUMENTS) {
      const { series: days } = resample(shipped(symbol), "1d");
      for (let d = 40; d < days.length; d++) {
        let [rises, falls] = [0, 0];
        for (let k = d - 39; k <= d; k++) {
          if (days.close[k]! > days.close[k - 1]!) rises++;
          else if (days.close[k]! < days.close[k - 1]!) falls++;
        }
        expect(Math.min(rises, falls), `${symbol} at session ${d}`).toBeGreaterThanOrEqual(6);
      }
    }
  }, 60_000);
});

describe("injected edges", () => {
  const netOf = (symbol: string, part: readonly [number, number] = [0, 1]): number => {
    const instrument = instrumentNamed(symbol)!;
    const bars = shipped(symbol);
    const rule = EDGE_RULES.find((one) => one.symbol === symbol)!;
    const returns = rule.returns(bars, costPerSide(instrument, mean(bars.close)!));
    return annualSharpe(returns.slice(part[0] * returns.length, part[1] * returns.length), instrument.calendar.sessionsPerYear!);
  };

  // Three years have a standard error near 0.6: histories were chosen to show each edge near its mean (README).
  test.each<[string, number, number]>([
    ["KELP", 1.2, 2.8],
    ["BRIN", 0.6, 1.8],
    ["AUKL", 0.5, 1.7],
    ["XSC/ORM", 0.3, 1.4],
    ["GANN", -1.5, 0.4],
  ])("a sensible rule on %s has an annual Sharpe ratio between %d and %d, net of costs", (symbol, least, most) => {
    expect(netOf(symbol)).toBeGreaterThan(least);
    expect(netOf(symbol)).toBeLessThan(most);
  });

  test("TIDE's edge is there in the first year and gone in the last", () => {
    expect(netOf("TIDE", [0, 1 / 3])).toBeGreaterThan(0.8);
    expect(netOf("TIDE", [2 / 3, 1])).toBeLessThan(0.3);
  });

  test("drifts are buried: none is above 0.15 of its session's deviation, whatever the volatility", () => {
    for (const symbol of ["BRIN", "TIDE", "XSC/ORM"])
      for (const sessionSigma of [0.003, 0.03])
        for (const trend of [-9, 0.5, 9]) {
          const minutes = Array.from({ length: 1440 }, (_, minute) => minute);
          const [logPrice, years, length] = [5, 0, 1440];
          const carry = { ...startCarry(characterOf(symbol)), trend, logPrice, anchor: logPrice };
          const known = { years, length, carry, logPrice, logOpen: logPrice, logHalfHour: logPrice, sessionSigma };
          const sum = minutes.reduce(
            (total, minute) => total + Math.abs(characterOf(symbol).drift({ ...known, minute, wallMinute: minute })),
            0,
          );
          expect(sum / sessionSigma).toBeLessThanOrEqual(0.150001);
        }
  });

  test("AUKL goes on after its first half hour", () => {
    const series = shipped("AUKL");
    let [products, squares] = [0, 0];
    for (let i = 0; i + 210 < series.length; i++) {
      if (i > 0 && series.session[i] === series.session[i - 1]) continue;
      if (series.session[i + 210] !== series.session[i]) continue;
      const first = Math.log(series.open[i + 30]! / series.open[i]!);
      products += first * Math.log(series.open[i + 210]! / series.open[i + 30]!);
      squares += first * first;
    }
    // The slope of the move to 12:30 on the first half hour's is 0.3 by design; its standard error is near 0.1.
    expect(products / squares).toBeGreaterThan(0.1);
    expect(products / squares).toBeLessThan(0.5);
  });
});
