/**
 * Several instruments on one account against the slow clock: equal and offset hours, gaps, late starts, finer paths, and
 * handlers that send orders across - at opens, at closes, on fills. A counterexample belongs into the named cases.
 */
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import {
  type Action,
  action,
  actSlowly,
  barMoves,
  barsFrom,
  coarse,
  eighths,
  engineSettingsOf,
  FIRST_OPEN,
  PLAIN,
  plainTrades,
  ScriptBook,
  type ScriptSettings,
  SESSION_MINUTES,
  scriptSettings,
  seriesOfTicks,
  slowEngine,
  type Ticks,
  toldSlowly,
} from "../testing/fill-scripts.ts";
import { runSlowly } from "../testing/slow-clock.ts";
import { PER_TICK } from "../testing/slow-engine.ts";
import { Account } from "./account.ts";
import { Feed } from "./feed.ts";
import { JointSimulation } from "./joint-simulation.ts";
import { resolveSettings } from "./settings.ts";

const CASH = 1_000_000;
const MINUTE = 60_000;
const BAR_MINUTES = 5;
const DAY = 86_400_000;

interface Sent {
  /** Number of the instrument that it is for. */
  readonly to: number;
  readonly action: Action;
}

interface Instrument {
  readonly offsetMinutes: number;
  /** Minutes from one bar's open to the next, at least a bar. */
  readonly steps: readonly number[];
  readonly bars: ReturnType<typeof barsFrom>;
  readonly atClose: readonly (readonly Sent[])[];
  readonly atOpen: readonly (readonly Sent[])[];
  /** At the open of the second finer bar of each bar. */
  readonly atFine: readonly (readonly Sent[])[];
  /** After the n-th fill. */
  readonly onFill: readonly (readonly Sent[])[];
}

interface Case {
  readonly settings: ScriptSettings;
  readonly instruments: readonly Instrument[];
}

function timesOf({ offsetMinutes, steps, bars }: Instrument): number[] {
  let day = 0;
  let at = offsetMinutes;
  return bars.map((_bar, i) => {
    // A bar that the close would cut belongs to the next session.
    if (at + BAR_MINUTES > SESSION_MINUTES) {
      day++;
      at = offsetMinutes % BAR_MINUTES;
    }
    const time = FIRST_OPEN + day * DAY + at * MINUTE;
    at += Math.max(BAR_MINUTES, steps[i] ?? BAR_MINUTES);
    return time;
  });
}

function slow({ settings, instruments }: Case) {
  const engines = instruments.map(() => slowEngine(settings, 0));
  const send = (list: readonly Sent[] | undefined): void => {
    for (const { to, action: act } of list ?? []) actSlowly(engines[to % engines.length]!, act);
  };
  const feeds = instruments.map((instrument, k) => {
    const engine = engines[k]!;
    const times = timesOf(instrument);
    engine.onFill = () => send(instrument.onFill[engine.fills.length - 1]);
    return {
      engine,
      bars: instrument.bars.map(({ fine, finerKnown }, i) => ({
        openMs: times[i]!,
        closeMs: times[i]! + BAR_MINUTES * MINUTE,
        bar: eighths(coarse(fine)),
        closesSession: (times[i]! - FIRST_OPEN) % DAY === (SESSION_MINUTES - BAR_MINUTES) * MINUTE,
        fine:
          settings.path === "finer" && finerKnown
            ? fine.map((bar, j) => ({ openMs: times[i]! + j * MINUTE, closeMs: times[i]! + (j + 1) * MINUTE, bar: eighths(bar) }))
            : [],
      })),
      atClose: (i: number) => send(instrument.atClose[i]),
      atOpen: (i: number) => send(instrument.atOpen[i]),
      atFine: (i: number, j: number) => {
        if (j === 1) send(instrument.atFine[i]);
      },
    };
  });
  const equity = runSlowly(feeds, CASH);
  engines.forEach((engine, k) => {
    engine.onFill = null;
    engine.finish(instruments[k]!.bars.at(-1)!.fine.at(-1)![3] * PER_TICK);
  });
  return { told: engines.map(toldSlowly), equity };
}

function real({ settings, instruments }: Case) {
  const account = new Account(resolveSettings({ ...engineSettingsOf(settings), cash: CASH }));
  const books = instruments.map(() => new ScriptBook(account));
  const feeds = instruments.map((instrument, k) => {
    const { bars, atClose, atOpen, atFine, onFill } = instrument;
    const times = timesOf(instrument);
    const script = books[k]!;
    const send = (list: readonly Sent[] | undefined): void => {
      for (const { to, action: act } of list ?? []) {
        const target = books[to % books.length]!;
        target.act(act, () => target.book.firstFillBar()!);
      }
    };
    script.onFill = () => send(onFill[script.fills.length - 1]);
    const first = new Int32Array(bars.length + 1);
    const fine: Ticks[] = [];
    const fineTimes: number[] = [];
    bars.forEach((bar, i) => {
      if (bar.finerKnown)
        bar.fine.forEach((row, j) => {
          fine.push(row);
          fineTimes.push(times[i]! + j * MINUTE);
        });
      first[i + 1] = fine.length;
    });
    const finer = settings.path === "finer" && fine.length > 0 ? { series: seriesOfTicks(fine, fineTimes, "1m"), first } : null;
    const next = (lists: readonly (readonly Sent[])[]) => (from: number) => {
      for (let i = from; i < Math.min(lists.length, bars.length); i++) if (lists[i]!.length > 0) return i;
      return bars.length;
    };
    const handlers = {
      nextOpen: next(atOpen),
      nextClose: next(atClose),
      atOpen: (i: number) => send(atOpen[i]),
      atClose: (i: number) => send(atClose[i]),
      fine: {
        next: (from: number) => {
          for (let i = 0; i < bars.length; i++)
            if (atFine[i]?.length && first[i + 1]! - first[i]! > 1 && first[i]! + 1 >= from) return first[i]! + 1;
          return fine.length;
        },
        act: (j: number) => send(atFine[first.findIndex((start, at) => start < j && first[at + 1]! > j)]),
      },
    };
    const rows = bars.map((bar) => coarse(bar.fine));
    return new Feed(seriesOfTicks(rows, times, `${BAR_MINUTES}m`), script.book, handlers, finer);
  });
  const equity = new Float64Array(feeds[0]!.bars.length);
  const simulation = new JointSimulation(
    feeds,
    account,
    { place() {} },
    instruments.map(() => null),
    equity,
  );
  // In pieces, as a run with progress goes.
  simulation.run(2);
  simulation.run(feeds[0]!.bars.length);
  for (const book of books) book.onFill = null;
  simulation.finish();
  return { told: books.map((book) => book.told()), equity: Array.from(equity) };
}

function agree(given: Case): void {
  const [theirs, ours] = [real(given), slow(given)];
  given.instruments.forEach((_instrument, k) => {
    expect(theirs.told[k]!.fills, `fills of ${k}`).toEqual(ours.told[k]!.fills);
    expect(theirs.told[k]!.orders, `orders of ${k}`).toEqual(ours.told[k]!.orders);
    expect(plainTrades(theirs.told[k]!.trades), `trades of ${k}`).toEqual(plainTrades(ours.told[k]!.trades));
  });
  expect(theirs.equity.length).toBe(ours.equity.length);
  for (const [i, value] of theirs.equity.entries()) expect(value, `equity at ${i}`).toBeCloseTo(ours.equity[i]!, 6);
}

const sent: fc.Arbitrary<Sent> = fc.record({ to: fc.integer({ min: 0, max: 2 }), action });
const lists = (most: number, each: number) => fc.array(fc.array(sent, { maxLength: each }), { maxLength: most });

const instrument: fc.Arbitrary<Instrument> = fc
  .record({
    offsetMinutes: fc.constantFrom(0, 0, 2, 3, 5, 12),
    steps: fc.array(fc.constantFrom(5, 5, 5, 5, 7, 10, 20), { maxLength: 12 }),
    moves: fc.array(barMoves, { minLength: 2, maxLength: 10 }),
    atClose: lists(8, 2),
    atOpen: lists(6, 1),
    atFine: lists(6, 1),
    onFill: lists(4, 2),
  })
  .map(({ moves, ...rest }) => ({ ...rest, bars: barsFrom(moves) }));

const cases: fc.Arbitrary<Case> = fc.record({
  settings: scriptSettings,
  instruments: fc.array(instrument, { minLength: 2, maxLength: 3 }),
});

const SEED = Number(process.env.SEED ?? 20_261_128);
const RUNS = Number(process.env.RUNS ?? 1500);

test("several instruments do what the slow clock does", () => {
  fc.assert(fc.property(cases, agree), { numRuns: RUNS, seed: SEED });
}, 300_000);

const FREE: ScriptSettings = {
  ...{ spreadTicks: 0, slippageTicks: 0, throughTicks: 0, basis: "last", path: "assumed", positions: "netting" },
  ...{ commissionPerUnit: 0, commissionMinimum: 0 },
};
const bar = (...fine: Ticks[]) => ({ fine, finerKnown: false });
const flat = bar([400, 401, 399, 400]);
const submit = (to: number, made: Partial<typeof PLAIN>): Sent => ({ to, action: { do: "submit", request: { ...PLAIN, ...made } } });
const plain = { offsetMinutes: 0, steps: [], atClose: [], atOpen: [], atFine: [], onFill: [] };

describe("no handler turns back time on another instrument", () => {
  const fall = bar([400, 400, 380, 381]);
  test("an order for another instrument, sent when a stop fills late in a bar, fills at its next open", () => {
    const given: Case = {
      settings: FREE,
      instruments: [
        {
          ...plain,
          bars: [flat, fall, flat, flat],
          atClose: [[submit(0, { stopLoss: null, kind: "stop", side: -1, price: 390 })]],
          onFill: [[submit(1, {})]],
        },
        { ...plain, bars: [flat, bar([410, 411, 409, 410]), bar([420, 421, 419, 420]), flat] },
      ],
    };
    agree(given);
    expect(real(given).told[1]!.fills).toMatchObject([{ bar: 2, price: 105 }]);
  });

  test("with offset hours a close sees nothing of a bar that is still open", () => {
    const given: Case = {
      settings: FREE,
      instruments: [
        { ...plain, bars: [flat, flat, flat], atClose: [[], [submit(1, { side: -1, intent: "exit" })]] },
        {
          ...plain,
          offsetMinutes: 3,
          bars: [flat, bar([400, 430, 399, 428]), flat],
          atClose: [[submit(1, { target: { unit: "ticks", value: 20 } })]],
        },
      ],
    };
    agree(given);
    const { told, equity } = real(given);
    // The target fills in the bar that the first instrument's close does not know yet; the exit finds nothing to close.
    expect(told[1]!.trades).toMatchObject([{ reason: "target", exitBar: 1 }]);
    expect(equity[1]).toBe(CASH);
    expect(told[1]!.orders[1]).toMatchObject({ state: "cancelled" });
  });
});
