/** Every figure of a sweep's table against the same figure of a whole run, and tables of older sweeps. */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { resolveSettings } from "../engine/settings.ts";
import { StudyStore } from "../language/study-store.ts";
import { makeSeries } from "../market/bars.ts";
import { ALWAYS_OPEN } from "../market/calendar.ts";
import { INSTRUMENT, START, walk } from "../testing/bars.ts";
import { type Build, declare, words } from "../testing/run.ts";
import { Backtest } from "./backtest.ts";
import { runVariant, SWEEP_FIGURES, sweepFigures, widened } from "./variant.ts";

const { crossesAbove, crossesBelow, sma, ticks, units } = words;
const hours = (seed: number) => {
  const { time, ...columns } = walk(1500, seed);
  return makeSeries({ ...columns, time: time.map((_t, i) => START + i * 3_600_000) }, "1h", ALWAYS_OPEN);
};

/** Crossings, some with a stop, of one to three units, one way or both. */
const planOf =
  (span: number, stops: number, isBothWays: boolean): Build =>
  ({ bars, when, enter, exit, random }) => {
    const mean = sma(bars.close, span);
    const exits = () => ({
      size: units(1 + Math.floor(random() * 3)),
      ...(random() < stops ? { stopLoss: ticks(14), target: ticks(25) } : {}),
    });
    when(crossesAbove(bars.close, mean), () => enter.long({ ...exits(), reverse: true }));
    when(crossesBelow(bars.close, mean), () => (isBothWays ? enter.short({ ...exits(), reverse: true }) : exit.all()));
  };

test("a variant of a sweep has all figures of the run", () => {
  const seen = new Set<string>();
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 1e6 }),
      fc.integer({ min: 3, max: 60 }),
      fc.constantFrom(0, 0.7, 1),
      fc.boolean(),
      fc.constantFrom(900, 100_000),
      (seed, span, stops, isBothWays, cash) => {
        const bars = hours(seed);
        const build = planOf(span, stops, isBothWays);
        const costs = { ...INSTRUMENT.costs, commissionPerUnit: 0.5, spreadTicks: 1 };
        const options = () => ({
          plan: declare(build),
          freshPlan: () => declare(build),
          inputs: {},
          feeds: [{ instrument: INSTRUMENT, store: new StudyStore(bars), finer: null }],
          settings: resolveSettings({ costs, cash, riskFree: 0.02 }),
        });
        const whole = new Backtest(options());
        whole.advance(bars.length);
        const wanted = sweepFigures(whole.result());
        const got = new Float64Array(SWEEP_FIGURES.length);
        runVariant(options(), got, 0);
        SWEEP_FIGURES.forEach((figure, i) => {
          if (!Number.isNaN(wanted[i]!)) seen.add(figure);
          if (Number.isNaN(wanted[i]!)) expect(got[i], figure).toBeNaN();
          else expect(Math.abs(got[i]! - wanted[i]!), figure).toBeLessThan(1e-9 * Math.max(1, Math.abs(wanted[i]!)));
        });
      },
    ),
    { seed: 20_260_301, numRuns: 60 },
  );
  expect([...seen].sort()).toEqual([...SWEEP_FIGURES].sort());
});

test("steps of any length give the same figures", () => {
  const build = planOf(20, 1, true);
  const bars = hours(5);
  const run = (pace?: () => number) => {
    const out = new Float64Array(SWEEP_FIGURES.length);
    const feeds = [{ instrument: INSTRUMENT, store: new StudyStore(bars), finer: null }];
    const plan = () => declare(build);
    runVariant({ plan: plan(), freshPlan: plan, inputs: {}, feeds, settings: resolveSettings({}) }, out, 0, pace);
    return out;
  };
  let step = 0;
  expect(run(() => 1 + (step++ % 37))).toEqual(run());
  expect(step).toBeGreaterThan(50);
});

describe("figures that were kept when there were fewer", () => {
  const before = Float64Array.from({ length: 3 * 11 }, (_, i) => i);

  test("get their places in the wider table, and what was not worked out is none", () => {
    const wide = widened(before, 3);
    const width = SWEEP_FIGURES.length;
    expect(wide.length).toBe(3 * width);
    expect(Array.from(wide.subarray(width, width + 11))).toEqual(Array.from(before.subarray(11, 22)));
    expect(wide.subarray(width + 11, 2 * width).every(Number.isNaN)).toBe(true);
  });

  test("rows of a search that ended early are told by its count", () => {
    expect(widened(before, 2, 3).length).toBe(3 * SWEEP_FIGURES.length);
  });

  test("tables of today stay as they are", () => {
    const now = new Float64Array(3 * SWEEP_FIGURES.length);
    expect(widened(now, 3)).toBe(now);
    expect(widened(new Float64Array(0), 0).length).toBe(0);
  });
});
