/** The demo world: the same seed gives the same bytes, bars are valid, and injected edges have the size that is written down. */
import {
  type BarSeries,
  barProblem,
  DAY_MS,
  isOnGrid,
  layOutSessions,
  makeSeries,
  mean,
  resample,
  sampleDeviation,
} from "@plan-tester/core";
import { beforeAll, describe, expect, test } from "vitest";
import { BarBuilder, generateHistory, generateSession, sessionPlans, startCarry } from "./generator.ts";
import { HISTORY_FROM, HISTORY_TO, INSTRUMENTS, instrumentNamed } from "./instruments.ts";

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
    const carry = startCarry(symbol);
    const out = new BarBuilder(16, columns.spread !== undefined);
    const plans = sessionPlans(layOutSessions(instrument.calendar, HISTORY_FROM, TWO_MONTHS)).filter(
      ({ openMs }) => openMs >= HISTORY_FROM && openMs < TWO_MONTHS,
    );
    for (const plan of plans) generateSession(instrument, plan, carry, out);
    expect(out.finish().close).toEqual(columns.close);
  });
});

describe("injected edges", () => {
  const dailyOf = (symbol: string): { series: BarSeries; moves: number[] } => {
    const { columns } = generateHistory(symbol, HISTORY_TO);
    const series = makeSeries(columns, "1m", instrumentNamed(symbol)!.calendar);
    const { series: days } = resample(series, "1d");
    return { series, moves: Array.from({ length: days.length - 1 }, (_, d) => Math.log(days.close[d + 1]! / days.close[d]!)) };
  };
  const lagCorrelation = (values: readonly number[]): number => {
    const m = mean(values)!;
    const products = values.slice(1).reduce((sum, value, i) => sum + (value - m) * (values[i]! - m), 0);
    return products / values.reduce((sum, value) => sum + (value - m) ** 2, 0);
  };
  let gann: ReturnType<typeof dailyOf>;
  beforeAll(() => {
    gann = dailyOf("GANN");
  });

  test("GANN has none: days do not follow from days, and volatility is constant", () => {
    expect(Math.abs(lagCorrelation(gann.moves))).toBeLessThan(0.1);
    expect(Math.abs(lagCorrelation(gann.moves.map(Math.abs)))).toBeLessThan(0.1);
    const [half, other] = [gann.moves.slice(0, 380), gann.moves.slice(380)].map((part) => sampleDeviation(part)!);
    expect(half! / other!).toBeGreaterThan(0.85);
    expect(half! / other!).toBeLessThan(1.18);
  });

  test("volatility clusters elsewhere", () => {
    expect(lagCorrelation(dailyOf("BRIN").moves.map(Math.abs))).toBeGreaterThan(0.12);
  });

  test("TIDE leans by 0.16 % from 09:00 to 11:00 in the first nine months, and not at all in the last five", () => {
    const { series } = dailyOf("TIDE");
    const { series: hours, firstSource } = resample(series, "1h");
    const lean = (from: number, to: number): number => {
      const moves: number[] = [];
      for (let i = 0; i + 1 < hours.length; i++) {
        const minute =
          series.sessions.openMinute[hours.session[i]!]! + (hours.time[i]! - series.sessions.openMs[hours.session[i]!]!) / 60_000;
        if (minute === 540 && hours.time[i]! >= from && hours.time[i]! < to)
          moves.push(Math.log(hours.close[i + 1]! / series.open[firstSource[i]!]!));
      }
      expect(moves.length).toBeGreaterThan(80);
      return mean(moves)!;
    };
    // The mean of 190 sessions has a standard error near 0.03 %.
    expect(lean(HISTORY_FROM, HISTORY_FROM + 273 * DAY_MS)).toBeGreaterThan(0.0007);
    expect(Math.abs(lean(HISTORY_TO - 150 * DAY_MS, HISTORY_TO))).toBeLessThan(0.0012);
  });

  test("AUKL goes on after its first half hour", () => {
    const { series } = dailyOf("AUKL");
    let [products, squares] = [0, 0];
    for (let i = 0; i + 210 < series.length; i++) {
      if (i > 0 && series.session[i] === series.session[i - 1]) continue;
      if (series.session[i + 210] !== series.session[i]) continue;
      const first = Math.log(series.open[i + 30]! / series.open[i]!);
      products += first * Math.log(series.open[i + 210]! / series.open[i + 30]!);
      squares += first * first;
    }
    // The slope of the move to 12:30 on the first half hour's is 1 by design; its standard error is near 0.1.
    expect(products / squares).toBeGreaterThan(0.65);
    expect(products / squares).toBeLessThan(1.35);
  });
});
