/**
 * Several plans on one account: without limits that are shared and with sizes that don't follow equity each does to the last
 * bit what it does alone, in its own clock, with its own luck in fills. And what is shared is shared: equity, margin, ruin.
 */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { EMPTY_KIT, type ExitKit, NO_EXITS } from "../engine/kit.ts";
import { type EngineSettings, resolveSettings } from "../engine/settings.ts";
import { resolveInputs } from "../language/inputs.ts";
import { StudyStore } from "../language/study-store.ts";
import type { DeclaredPlan } from "../language/vocabulary.ts";
import type { BarSeries } from "../market/bars.ts";
import { type Instrument, NO_COSTS } from "../market/instrument.ts";
import { resample } from "../market/resample.ts";
import { barsOf, INSTRUMENT, type Ohlc, walk } from "../testing/bars.ts";
import { type Erratic, erratic } from "../testing/erratic.ts";
import { CALENDARS, minutesOf } from "../testing/minutes.ts";
import { type Build, declare, words } from "../testing/run.ts";
import { Backtest, type BacktestOptions } from "./backtest.ts";
import { BlendRun, MemberFailure } from "./blend-run.ts";
import type { RunResult } from "./result.ts";

interface Member extends Erratic {
  readonly days: number;
  /** On which of the calendars its first instrument trades. */
  readonly calendar: number;
  readonly settings: Partial<EngineSettings>;
}

const DAYS = 6;

function optionsOf(member: Member): BacktestOptions {
  const { seed, instruments, timeframe, days, calendar, settings } = member;
  const feeds = Array.from({ length: instruments }, (_none, k) => {
    const own = CALENDARS[(calendar + k) % CALENDARS.length]!;
    const instrument: Instrument = { ...INSTRUMENT, symbol: `T${k}`, calendar: own };
    const minutes = minutesOf(seed + k, days, own, seed % 3 === 0);
    const { series, firstSource } = resample(minutes, timeframe);
    const isFiner = settings.path === "finer" && timeframe !== "1m";
    return { instrument, store: new StudyStore(series), finer: isFiner ? { series: minutes, first: firstSource } : null };
  });
  return {
    plan: erratic(member, false),
    inputs: resolveInputs([], {}),
    feeds,
    settings: resolveSettings({ ...settings, seed, ruin: "continue" }),
  };
}

const plain = ({ elapsedMs: _elapsed, ...result }: RunResult & { elapsedMs?: number }): object => ({
  ...result,
  equity: [...result.equity],
});

function alone(options: BacktestOptions): RunResult {
  const backtest = new Backtest(options);
  backtest.advance(Number.POSITIVE_INFINITY);
  return backtest.result();
}

/** @param stops times up to which it goes in between */
function together(members: readonly BacktestOptions[], stops: readonly number[] = []): RunResult[] {
  const run = new BlendRun({ cash: 1e9, ruin: "stop", members });
  for (const stop of stops) run.advance(stop);
  run.advance(Number.POSITIVE_INFINITY);
  expect(run.isOver).toBe(true);
  return run.results();
}

/** Limits of its own, none of which looks at the account. */
const KIT: ExitKit = {
  ...{ ...EMPTY_KIT, name: "Kit", entriesPerSession: 3, coolDownBars: 2, entryLimit: { ticks: 2, bars: 3 } },
  long: { ...NO_EXITS, stopLoss: { unit: "ticks", value: 9 }, flat: { minutes: 10, of: "session" } },
  short: { ...NO_EXITS, target: { unit: "ticks", value: 7 }, flat: { minutes: 0, of: "session" } },
};

const member: fc.Arbitrary<Member> = fc.record({
  seed: fc.nat({ max: 1_000_000_000 }),
  days: fc.integer({ min: 2, max: DAYS }),
  calendar: fc.nat({ max: 2 }),
  timeframe: fc.constantFrom("1m", "7m", "30m"),
  instruments: fc.constantFrom(1, 1, 1, 2),
  actsOnPrice: fc.boolean(),
  zeal: fc.constantFrom(10, 25),
  settings: fc.record({
    kit: fc.constantFrom(null, KIT),
    positions: fc.constantFrom("netting" as const, "independent" as const),
    path: fc.constantFrom("assumed" as const, "adverse" as const, "finer" as const),
    basis: fc.constantFrom("last" as const, "bid" as const),
    costs: fc
      .record({
        spreadTicks: fc.constantFrom(0, 2),
        slippageTicks: fc.constantFrom(0, 1),
        slippageRandomTicks: fc.constantFrom(0, 3),
        commissionPerUnit: fc.constantFrom(0, 0.7),
        financingLong: fc.constantFrom(0, 0.3),
      })
      .map((part) => ({ ...NO_COSTS, ...part })),
  }),
});

let fills = 0;

function hold(members: readonly Member[], inParts: boolean): void {
  const solo = members.map((one) => alone(optionsOf(one)));
  const { fromMs, toMs } = new BlendRun({ cash: 1, ruin: "stop", members: members.map(optionsOf) }).span;
  const stops = inParts ? [0.1, 0.35, 0.8].map((share) => fromMs + share * (toMs - fromMs)) : [];
  const joint = together(members.map(optionsOf), stops);
  joint.forEach((result, m) => {
    fills += result.fills.length;
    expect(plain(result)).toEqual(plain(solo[m]!));
  });
}

test("random plans do on one account what each does alone, to the last bit", () => {
  fc.assert(fc.property(fc.array(member, { minLength: 1, maxLength: 3 }), fc.boolean(), hold), {
    numRuns: Number(process.env.BLENDS ?? 120),
  });
  expect(fills).toBeGreaterThan(2000);
}, 180_000);

/** The first close at which nothing is left of the account; NaN where there is none. All have the same closes. */
function ruinOf(cash: number, { members }: BlendRun, results: readonly RunResult[]): number {
  const closes = members[0]!.closeTime;
  const own = members.reduce((sum, { account }) => sum + account.settings.cash, 0);
  const at = closes.findIndex((_ms, i) => results.reduce((sum, { equity }) => sum + equity[i]!, cash - own) <= 0);
  return at < 0 ? Number.NaN : closes[at]!;
}

let ruins = 0;

test("the account is ruined at the very close at which nothing is left of all, however quiet the bars are", () => {
  const shape = fc.record({
    days: fc.integer({ min: 2, max: DAYS }),
    calendar: fc.nat({ max: 2 }),
    timeframe: fc.constantFrom("1m", "7m"),
  });
  fc.assert(
    fc.property(fc.array(member, { minLength: 2, maxLength: 4 }), shape, fc.constantFrom(60, 150, 400, 1500), (given, same, cash) => {
      // Bars without holes, so that all close together; finer paths would have every bar looked at.
      const members = given.map(({ seed, settings, ...one }) => ({
        ...{ ...one, ...same, seed: 3 * (seed % 1_000_000) + 1, instruments: 1, actsOnPrice: false },
        settings: { ...settings, path: "assumed" as const },
      }));
      const run = new BlendRun({ cash, ruin: "continue", members: members.map(optionsOf) });
      run.advance(Number.POSITIVE_INFINITY);
      const wanted = ruinOf(cash, run, run.results());
      if (!Number.isNaN(wanted)) ruins++;
      expect(run.pool.ruinMs).toBe(wanted);
    }),
    { numRuns: Number(process.env.BLENDS ?? 120) },
  );
  expect(ruins).toBeGreaterThan(30);
}, 120_000);

test("bars of any lengths and paths: ruin is found where it is when equity is added up at every close", () => {
  let found = 0;
  fc.assert(
    fc.property(fc.array(member, { minLength: 2, maxLength: 4 }), fc.constantFrom(60, 150, 400, 1500), (members, cash) => {
      const ruinMs = [false, true].map((addsUpAll) => {
        const run = new BlendRun({ cash, ruin: "continue", members: members.map(optionsOf) });
        // Then all bars may be under way for ever.
        if (addsUpAll) run.pool.longestBarMs = Number.POSITIVE_INFINITY;
        run.advance(Number.POSITIVE_INFINITY);
        return run.pool.ruinMs;
      });
      if (!Number.isNaN(ruinMs[1])) found++;
      expect(ruinMs[0]).toBe(ruinMs[1]);
    }),
    { numRuns: Number(process.env.BLENDS ?? 120) },
  );
  expect(found).toBeGreaterThan(30);
}, 120_000);

test("an order sent to another instrument as the last positions are marked out has the time of the end, whoever else there was", () => {
  const costs = { ...NO_COSTS, spreadTicks: 2, slippageTicks: 1, slippageRandomTicks: 3 };
  const both = { seed: 987_210_372, days: 4, calendar: 1, timeframe: "30m", instruments: 2, actsOnPrice: true, zeal: 25 };
  hold(
    [
      { ...both, settings: { positions: "independent", path: "finer", basis: "last", costs } },
      { ...both, seed: 0, days: 2, calendar: 0, timeframe: "1m", instruments: 1, actsOnPrice: false, zeal: 10, settings: {} },
    ],
    false,
  );
});

/** Plans as plain functions on one-minute bars. */
function planOn(bars: BarSeries, build: Build, settings: Partial<EngineSettings> = {}): BacktestOptions {
  const plan: DeclaredPlan = declare(build);
  return {
    ...{ plan, inputs: {}, settings: resolveSettings({ cash: 1000, ...settings }) },
    feeds: [{ instrument: INSTRUMENT, store: new StudyStore(bars), finer: null }],
  };
}

const bars = walk(600, 5);
/** Enters once with so many units and holds. */
const holds =
  (units: number, at = 2): Build =>
  ({ on, enter }) => {
    let n = 0;
    on.barClose(() => {
      if (n++ === at) enter.long({ size: words.units(units) });
    });
  };

describe("what is shared", () => {
  test("each sees the equity of all, as it was known by then", () => {
    const seen: number[][] = [[], []];
    const watching =
      (m: number, units: number): Build =>
      ({ on, enter, account }) => {
        let n = 0;
        on.barClose(() => {
          seen[m]!.push(account.equity);
          if (n++ === 2) enter.long({ size: words.units(units) });
        });
      };
    const run = new BlendRun({ cash: 5000, ruin: "continue", members: [planOn(bars, watching(0, 1)), planOn(bars, watching(1, 3))] });
    run.advance(Number.POSITIVE_INFINITY);
    const [one, three] = run.results() as [RunResult, RunResult];
    expect(seen[0]).toEqual(seen[1]);
    expect(seen[0]).toEqual(Array.from(one.equity, (own, i) => 5000 + (own - 1000) + (three.equity[i]! - 1000)));
  });

  test("sizes that follow equity follow that of all", () => {
    const percent: Build = ({ on, enter }) => {
      let n = 0;
      on.barClose(() => {
        if (n++ === 2) enter.long({ size: words.equityPercent(100) });
      });
    };
    const run = new BlendRun({ cash: 50_000, ruin: "continue", members: [planOn(bars, percent)] });
    run.advance(Number.POSITIVE_INFINITY);
    const [{ trades }] = run.results() as [RunResult];
    expect(trades[0]!.quantity).toBe(Math.floor(50_000 / (bars.close[2]! * INSTRUMENT.pointValue)));
  });

  test("a ledger abroad counts at its rate, and sizes by equity in its own money", () => {
    const percent: Build = ({ on, enter }) => {
      let n = 0;
      on.barClose(() => {
        if (n++ === 2) enter.long({ size: words.equityPercent(100) });
      });
    };
    const run = new BlendRun({ cash: 50_000, ruin: "continue", members: [{ ...planOn(bars, percent), rate: 0.5 }] });
    run.advance(Number.POSITIVE_INFINITY);
    const [{ trades, equity }] = run.results() as [RunResult];
    expect(trades[0]!.quantity).toBe(Math.floor(100_000 / (bars.close[2]! * INSTRUMENT.pointValue)));
    expect(run.pool.equity).toBe(50_000 + (equity.at(-1)! - 1000) * 0.5);
  });

  test("margin that one has taken is not there for another, and the refusal says so", () => {
    const margin = { by: "unit", value: 600, maintenancePercent: 0 } as const;
    const run = new BlendRun({
      ...{ cash: 1000, ruin: "continue" },
      members: [planOn(bars, holds(1), { margin }), planOn(bars, holds(1, 20), { margin })],
    });
    run.advance(Number.POSITIVE_INFINITY);
    const [first, second] = run.results() as [RunResult, RunResult];
    expect([first.trades.length, second.trades.length]).toEqual([1, 0]);
    expect(second.orders[0]!.note).toMatch(/margin 1\d{3}\.\d\d is more than equity/);
    expect(alone(planOn(bars, holds(1, 20), { margin })).trades.length).toBe(1);
  });

  test("the limit of positions is that of the account", () => {
    const run = new BlendRun({
      ...{ cash: 1e6, ruin: "continue" },
      members: [planOn(bars, holds(1), { maxPositions: 1 }), planOn(bars, holds(1, 20), { maxPositions: 1 })],
    });
    run.advance(Number.POSITIVE_INFINITY);
    expect(run.results().map(({ trades }) => trades.length)).toEqual([1, 0]);
  });

  test("two plans on one instrument hold each their own: one's close leaves the other's alone", () => {
    const closes: Build = ({ on, enter, position }) => {
      let n = 0;
      on.barClose(() => {
        n++;
        if (n === 3) enter.short();
        if (n === 30) position.close();
      });
    };
    const [held, closed] = together([planOn(bars, holds(2)), planOn(bars, closes)]);
    expect(held!.trades.map(({ quantity, reason }) => [quantity, reason])).toEqual([[2, "end of data"]]);
    expect(closed!.trades.map(({ side, exitBar }) => [side, exitBar])).toEqual([[-1, 30]]);
  });

  test("once nothing is left everything of every plan is closed at the next open, and none goes on", () => {
    const falls = bars.close.findIndex((close, i) => i >= 3 && (close - bars.open[3]!) * 10 * 90 <= -900);
    expect(falls).toBeGreaterThan(3);
    const both = [planOn(bars, holds(60)), planOn(bars, holds(30))];
    const run = new BlendRun({ cash: 900, ruin: "stop", members: both });
    run.advance(Number.POSITIVE_INFINITY);
    const results = run.results();
    for (const { status, trades, barsDone } of results) {
      expect(status).toBe("ruined");
      expect(trades.map(({ reason, exitBar }) => [reason, exitBar])).toEqual([["ruin", falls + 1]]);
      expect(barsDone).toBe(falls + 1);
    }
  });

  test("what one lost through a gap beyond its part is not left to another: the account's ruin is seen at its close", () => {
    const flat = (price: number): Ohlc => [price, price, price, price];
    // One falls by 90 overnight, of an account that can lose 100; the other then a quarter a bar.
    const gaps = barsOf(Array.from({ length: 200 }, (_none, i) => flat(i < 20 ? 100 : 10)));
    const slides = barsOf(Array.from({ length: 200 }, (_none, i) => flat(i < 20 ? 100 : 100 - (i - 19) / 4)));
    // Nobody waits for a close: bars between are not looked at.
    const enters =
      (options: object): Build =>
      ({ on, enter }) =>
        on.start(() => enter.long(options));
    const run = new BlendRun({
      cash: 1000,
      ruin: "stop",
      members: [planOn(gaps, enters({ stopLoss: words.ticks(8) })), planOn(slides, enters({}))],
    });
    run.advance(Number.POSITIVE_INFINITY);
    const [gapped, slid] = run.results() as [RunResult, RunResult];
    expect(gapped.trades.map(({ reason, net }) => [reason, net])).toEqual([["stop", -900]]);
    // 100 is left, and the other loses it in 40 bars.
    expect(run.pool.ruinMs).toBe(slides.closeTime[59]);
    expect(slid.trades.map(({ reason, exitBar }) => [reason, exitBar])).toEqual([["ruin", 60]]);
  });

  test("a plan that fails ends the run, which says which it was; what was done stays", () => {
    const fails: Build = ({ on }) => {
      let n = 0;
      on.barClose(() => {
        if (n++ === 50) throw new Error("sprung");
      });
    };
    const run = new BlendRun({ cash: 1e6, ruin: "continue", members: [planOn(bars, holds(1)), planOn(bars, fails)] });
    let failure: unknown;
    try {
      run.advance(Number.POSITIVE_INFINITY);
    } catch (error) {
      failure = error;
    }
    expect(failure).toBeInstanceOf(MemberFailure);
    expect(failure).toMatchObject({ member: 1, message: "sprung" });
    expect(run.members[0]!.account.trades).toBe(0);
  });
});
