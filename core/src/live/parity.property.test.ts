/**
 * A plan on a watch does what its backtest with finer paths does, to the last bit (R8.2): random plans that act in every
 * handler, on one to three instruments, under random settings. What passes between plan and venue goes through copies, as it
 * does between processes. A counterexample belongs into the cases that were found.
 */
import fc from "fast-check";
import { expect, test } from "vitest";
import type { AccountLimits } from "../engine/account-limits.ts";
import { EMPTY_KIT, type ExitKit, NO_EXITS } from "../engine/kit.ts";
import { type EngineSettings, resolveSettings } from "../engine/settings.ts";
import { type Instrument, NO_COSTS } from "../market/instrument.ts";
import { INSTRUMENT } from "../testing/bars.ts";
import { type Erratic, erratic } from "../testing/erratic.ts";
import { backtested, type Deeds, type MinuteFeed, replayed, type Venue, watched } from "../testing/live.ts";
import { CALENDARS, minutesOf } from "../testing/minutes.ts";
import { declare } from "../testing/run.ts";

const HISTORY_DAYS = 3;

interface Case extends Erratic {
  readonly days: number;
  readonly settings: Partial<EngineSettings>;
  readonly hasKit: boolean;
}

function given(one: Case) {
  const feeds = Array.from({ length: one.instruments }, (_none, k): MinuteFeed => {
    const calendar = CALENDARS[k]!;
    const instrument: Instrument = { ...INSTRUMENT, symbol: `T${k}`, calendar };
    return { instrument, minutes: minutesOf(one.seed + k, HISTORY_DAYS + one.days, calendar, one.seed % 3 === 0) };
  });
  const [{ minutes }] = feeds as [MinuteFeed];
  const from = minutes.sessions.openMs[minutes.session[minutes.length - 1]! - one.days + 1]!;
  const kit = {
    ...{ ...EMPTY_KIT, name: "Kit", entriesPerSession: 2, coolDownBars: 2 },
    ...(one.seed % 5 === 0 && {
      drawdown: { unit: one.seed % 2 === 0 ? ("money" as const) : ("percent" as const), value: 1 + (one.seed % 7) },
      dailyLoss: 20 + (one.seed % 40),
      atLimit: one.seed % 3 === 0 ? ("flatten" as const) : ("no entries" as const),
    }),
    entryLimit: one.seed % 2 === 0 ? { ticks: one.seed % 5, bars: 1 + (one.seed % 3) } : null,
    long: { ...NO_EXITS, flat: { minutes: 10, of: "session" as const } },
    short: { ...NO_EXITS, flat: { minutes: 0, of: "session" as const } },
  };
  return {
    plan: () => erratic(one),
    ...{ inputs: {}, feeds, timeframe: one.timeframe, fromMs: from },
    settings: resolveSettings({ path: "finer", ...one.settings, kit: one.hasKit ? kit : null }),
  };
}

const LIMITS: readonly AccountLimits[] = [
  { drawdown: { unit: "money", value: 60, act: "flatten" }, dailyLoss: null },
  { drawdown: { unit: "percent", value: 0.1, act: "no entries" }, dailyLoss: { unit: "money", value: 40, act: "flatten" } },
  { drawdown: { unit: "money", value: 150, act: "stop" }, dailyLoss: { unit: "percent", value: 0.02, act: "no entries" } },
];

const cases: fc.Arbitrary<Case> = fc.record({
  seed: fc.integer({ min: 1, max: 1e9 }),
  days: fc.integer({ min: 1, max: 3 }),
  timeframe: fc.constantFrom("1m", "5m", "7m", "15m", "1h", "1d"),
  instruments: fc.constantFrom(1, 1, 2, 3),
  actsOnPrice: fc.boolean(),
  zeal: fc.constantFrom(3, 10, 25),
  hasKit: fc.constantFrom(false, false, true),
  settings: fc.record({
    positions: fc.constantFrom("netting" as const, "independent" as const),
    basis: fc.constantFrom("last" as const, "bid" as const),
    throughTicks: fc.constantFrom(0, 1),
    maxPositions: fc.constantFrom(null, 2),
    limits: fc.constantFrom(null, null, ...LIMITS),
    costs: fc
      .record({
        spreadTicks: fc.constantFrom(0, 2),
        slippageTicks: fc.constantFrom(0, 1),
        slippageRandomTicks: fc.constantFrom(0, 2),
        slippageRange: fc.constantFrom(0, 0.1),
        commissionPerUnit: fc.constantFrom(0, 1.5),
        financingLong: fc.constantFrom(0, 0.3),
      })
      .map((costs) => ({ ...NO_COSTS, ...costs })),
  }),
});

const copied = <T>(word: T): T => structuredClone(word);

/** Paths walked at the end of each minute, in steps, and in steps by an account that is written down and read back. */
const VENUES: readonly Venue[] = [{}, { inSteps: true }, { inSteps: true, restartsEvery: 20 }];

/** Both runs, told apart by what they did. */
function both(one: Case, venue: Venue): { backtest: Deeds; watch: Deeds } {
  return { backtest: backtested(given(one)), watch: watched(given(one), copied, venue) };
}

let orders = 0;
let fills = 0;

function hold(one: Case, venue: Venue): void {
  const { backtest, watch } = both(one, venue);
  orders += watch.orders.length;
  fills += watch.fills.length;
  expect(watch.log).toEqual(backtest.log);
  expect(watch.shown).toEqual(backtest.shown);
  expect(watch.orders).toEqual(backtest.orders);
  expect(watch.fills).toEqual(backtest.fills);
  expect(watch.trades).toEqual(backtest.trades);
  expect(watch.equity).toEqual(backtest.equity);
  expect(replayed(given(one))).toEqual(backtest.trades);
}

test("random plans do on a watch what they do in a backtest", () => {
  fc.assert(fc.property(cases, fc.constantFrom(...VENUES), hold), { numRuns: 120 });
  expect(orders).toBeGreaterThan(400);
  expect(fills).toBeGreaterThan(150);
}, 180_000);

const NO_LIMITS: Partial<ExitKit> = { entriesPerSession: null, coolDownBars: null, dailyLoss: null, drawdown: null };

const PLAIN: Case = {
  ...{ seed: 1, days: 1, timeframe: "1m", instruments: 3, actsOnPrice: false, zeal: 25, hasKit: false },
  settings: { positions: "netting", basis: "last", throughTicks: 0, maxPositions: null, costs: NO_COSTS },
};
const FOUND: readonly (readonly [what: string, one: Case])[] = [
  [
    "an order sent to an instrument whose bar is open, and cancelled by a later event of the same moment",
    { ...PLAIN, seed: 538823762, timeframe: "7m", actsOnPrice: true, settings: { costs: { ...NO_COSTS, spreadTicks: 2 } } },
  ],
  ["a replay whose last minute is missing", { ...PLAIN, seed: 971926959, timeframe: "1h", instruments: 1, actsOnPrice: true, zeal: 10 }],
  [
    "an order good for bars, sent while the path of another instrument is walked",
    { ...PLAIN, settings: { costs: { ...NO_COSTS, spreadTicks: 2 } } },
  ],
  ["an entry on an instrument whose last session is over", { ...PLAIN, days: 2, zeal: 10, hasKit: true }],
  [
    "exits taken away at the open of another instrument",
    { ...PLAIN, days: 2, settings: { positions: "independent", basis: "bid", maxPositions: 2 } },
  ],
  ["bars held of an instrument with minutes missing", { ...PLAIN, seed: 24, days: 3, zeal: 10, settings: { positions: "independent" } }],
  ["extremes asked for while a bar is open, and an order after it", { ...PLAIN, seed: 16, timeframe: "7m" }],
  [
    "an order whose time is over when it is sent",
    { ...PLAIN, seed: 192022008, days: 2, settings: { costs: { ...NO_COSTS, slippageRange: 0.1, slippageRandomTicks: 2 } } },
  ],
  ["the number of an order of a group", { ...PLAIN, seed: 36582014, days: 2, instruments: 2 }],
  [
    "a bar whose first minute is missing",
    { ...PLAIN, seed: 564177822, timeframe: "7m", settings: { costs: { ...NO_COSTS, slippageTicks: 1 } } },
  ],
  [
    "an order that begins to work while others that were asked for with it still wait: it is listed once",
    { ...PLAIN, seed: 9, days: 2, timeframe: "1h", instruments: 2, actsOnPrice: true },
  ],
  [
    "orders that a plan sends while a limit of its account does what it asks for",
    {
      ...{ ...PLAIN, seed: 2, instruments: 2, actsOnPrice: true },
      settings: { ...PLAIN.settings, limits: LIMITS[1]!, costs: { ...NO_COSTS, commissionPerUnit: 1.5, slippageRandomTicks: 2 } },
    },
  ],
  [
    "a limit at the close of an instrument that had not closed a bar since the account was opened",
    {
      ...{ ...PLAIN, seed: 23, timeframe: "7m", actsOnPrice: true, zeal: 10 },
      settings: { ...PLAIN.settings, limits: LIMITS[1]!, costs: { ...NO_COSTS, slippageRandomTicks: 2 } },
    },
  ],
  [
    "nights of several instruments",
    { ...PLAIN, seed: 998046729, days: 2, settings: { costs: { ...NO_COSTS, spreadTicks: 2, financingLong: 0.3 } } },
  ],
];
test.each(FOUND)("%s", (_what, one) => {
  for (const venue of [VENUES[0]!, VENUES[2]!]) hold(one, venue);
});

test("what a kit's limits have counted outlives a restart of the plan: its trades are those of the backtest", () => {
  /** Remembers nothing itself: what it does depends on the time alone. */
  const plan = () =>
    // biome-ignore lint/suspicious/noExplicitAny: as above
    declare(({ on, enter, clock }: any) => {
      on.barClose(() => (clock.minutes % 20 < 10 ? enter.long() : enter.short()));
    });
  const exits = { ...NO_EXITS, stopLoss: { unit: "ticks" as const, value: 9 }, timeLimit: { bars: 3 } };
  const limits: Readonly<Record<string, Partial<ExitKit>>> = {
    "entries of a session": { entriesPerSession: 3 },
    "a pause after a loss": { coolDownBars: 5 },
    "loss of a session": { dailyLoss: 60, atLimit: "flatten" },
    drawdown: { drawdown: { unit: "money", value: 100 }, atLimit: "flatten" },
  };
  for (const [what, limit] of Object.entries(limits)) {
    const kit: ExitKit = { ...EMPTY_KIT, name: what, long: exits, short: exits, ...limit };
    const [{ minutes }] = given({ ...PLAIN, seed: 77, days: 4, instruments: 1 }).feeds as [MinuteFeed];
    const one = {
      ...{ plan, inputs: {}, timeframe: "5m", feeds: [{ instrument: INSTRUMENT, minutes }] },
      fromMs: minutes.sessions.openMs[minutes.session[minutes.length - 1]! - 3]!,
      settings: resolveSettings({ path: "finer", positions: "independent", kit }),
    };
    const factsOf = ({ trades }: Deeds) =>
      trades.map(({ side, entryTime, entryPrice, exitTime, exitPrice, reason, net }) => [
        ...[side, entryTime, entryPrice, exitTime, exitPrice, reason, net],
      ]);
    const wanted = factsOf(backtested(one));
    expect(factsOf(watched(one, copied, { inSteps: true, planRestartsEvery: 17 })), what).toEqual(wanted);
    // The limit is felt: without it there is more.
    const free = { ...one, settings: resolveSettings({ path: "finer", positions: "independent", kit: { ...kit, ...NO_LIMITS } }) };
    expect(factsOf(backtested(free)).length, what).toBeGreaterThan(wanted.length);
    expect(wanted.length, what).toBeGreaterThan(5);
  }
});
