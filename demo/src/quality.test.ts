/**
 * Detectors of doubtful bars on a corpus of known truth: the seven instruments of the demo, whose only holes are halts of
 * trading, and copies of them with three faults of each kind. What is found of them, and what is found where nothing is wrong.
 */
import {
  type BarColumns,
  countsOf,
  DAY_MS,
  DOUBTS,
  type Doubt,
  examine,
  type Finding,
  findCalendar,
  historyOf,
  type Instrument,
  layOutSessions,
  lowerBound,
  MINUTE_MS,
  makeSeries,
  Random,
  sliceColumns,
} from "@plan-tester/core";
import { describe, expect, test } from "vitest";
import { generateHistory, HISTORY_TO, INSTRUMENTS } from "./index.ts";

const YEAR_MS = 365 * DAY_MS;
const FAULTS = 3;

/** The last year of an instrument, in memory of its own. */
function yearOf({ symbol }: Instrument): BarColumns {
  const { columns } = generateHistory(symbol, HISTORY_TO);
  const from = lowerBound(columns.time, HISTORY_TO - YEAR_MS);
  return copyOf(sliceColumns(columns, from, columns.time.length));
}
const examined = (bars: BarColumns, instrument: Instrument) => examine(historyOf(makeSeries(bars, "1m", instrument.calendar), instrument));
const copyOf = (columns: BarColumns): BarColumns =>
  Object.fromEntries(
    Object.entries(columns).map(([name, values]) => [name, (values as Float64Array | undefined)?.slice()]),
  ) as unknown as BarColumns;

const PRICES = ["open", "high", "low", "close"] as const;
type Truth = readonly [fromMs: number, toMs: number];
/** Bars with a fault put into them at a place, and the times that it is about. */
type Fault = (bars: BarColumns, at: number, instrument: Instrument, random: Random) => { readonly bars: BarColumns; readonly truth: Truth };

const dropped = (bars: BarColumns, isOut: (i: number) => boolean): BarColumns => {
  const stays = Uint8Array.from(bars.time, (_ms, i) => (isOut(i) ? 0 : 1));
  return Object.fromEntries(
    Object.entries(bars).map(([name, values]) => [name, (values as Float64Array | undefined)?.filter((_value, i) => stays[i] === 1)]),
  ) as unknown as BarColumns;
};

/** The usual range of a bar around a place. */
function rangeAt({ high, low }: BarColumns, at: number): number {
  const ranges = Array.from({ length: 60 }, (_, k) => high[at - 30 + k]! - low[at - 30 + k]!).sort((a, b) => a - b);
  return Math.max(ranges[45]!, 1e-9);
}

const put = (bars: BarColumns, from: number, to: number, change: (i: number) => void) => {
  for (let i = from; i < to; i++) change(i);
  return { bars, truth: [bars.time[from]!, bars.time[to - 1]! + MINUTE_MS] as const };
};

/** Session of a place, [open, close). */
function sessionAt(bars: BarColumns, at: number, { calendar }: Instrument): [number, number] {
  const { openMs, closeMs } = layOutSessions(calendar, bars.time[at]! - DAY_MS, bars.time[at]! + DAY_MS);
  const s = openMs.findLastIndex((ms) => ms <= bars.time[at]!);
  return [openMs[s]!, closeMs[s]!];
}

const CORPUS: Partial<Record<Doubt, Fault>> = {
  gap: (bars, at, _instrument, random) => {
    const many = 8 + Math.floor(random.next() * 140);
    return { bars: dropped(bars, (i) => i >= at && i < at + many), truth: [bars.time[at]!, bars.time[at + many]!] };
  },
  duplicate: (bars, at) => put(bars, at + 1, at + 2, (i) => void (bars.time[i] = bars.time[i - 1]!)),
  spike: (bars, at, _instrument, random) => {
    const size = (10 + 20 * random.next()) * rangeAt(bars, at);
    return put(bars, at, at + 1, (i) => {
      if (random.next() < 0.5) bars.high[i] = bars.high[i]! + size;
      else for (const name of PRICES) bars[name][i] = bars[name][i]! - size;
    });
  },
  volume: (bars, at, _instrument, random) => put(bars, at, at + 3, (i) => void (bars.volume[i] = random.next() < 0.5 ? 0 : -5)),
  stuck: (bars, at) =>
    put(bars, at, at + 45, (i) => {
      for (const name of [...PRICES, "volume"] as const) bars[name][i] = name === "volume" ? bars.volume[at - 1]! : bars.close[at - 1]!;
    }),
  "off grid": (bars, at, { tickSize }) => put(bars, at, at + 2, (i) => void (bars.high[i] = bars.high[i]! + 0.3137 * tickSize)),
  "outside sessions": (bars, at, instrument) => {
    const [, closeMs] = sessionAt(bars, at, instrument);
    // The last bars of the session, half an hour late.
    const last = lowerBound(bars.time, closeMs) - 1;
    return put(bars, last - 4, last + 1, (i) => void (bars.time[i] = bars.time[i]! + 30 * MINUTE_MS));
  },
  // To a multiple, which stays on the grid.
  split: (bars, at, _instrument, random) => {
    const times = [2, 3, 5][Math.floor(random.next() * 3)]!;
    for (let i = at; i < bars.time.length; i++) for (const name of PRICES) bars[name][i] = bars[name][i]! * times;
    return { bars, truth: [bars.time[at]!, bars.time[at]!] };
  },
  "zone shift": (bars, at, instrument) => {
    const [openMs] = sessionAt(bars, at, instrument);
    const [, closeMs] = sessionAt(bars, lowerBound(bars.time, openMs + 8 * DAY_MS), instrument);
    return put(
      bars,
      lowerBound(bars.time, openMs),
      lowerBound(bars.time, closeMs),
      (i) => void (bars.time[i] = bars.time[i]! + 60 * MINUTE_MS),
    );
  },
  spacing: (bars, at, instrument) => {
    const [openMs, closeMs] = sessionAt(bars, at, instrument);
    const isInside = (i: number): boolean => bars.time[i]! >= openMs && bars.time[i]! < closeMs;
    return { bars: dropped(bars, (i) => isInside(i) && ((bars.time[i]! - openMs) / MINUTE_MS) % 5 !== 0), truth: [openMs, closeMs] };
  },
};
/** Of no use where it trades around the clock. */
const canHave = (kind: Doubt, { calendar }: Instrument): boolean =>
  kind !== "zone shift" && kind !== "outside sessions" ? true : !calendar.weekly.some(({ open, close }) => close <= open);

/** Trading was halted to the end of the session: no bar is lost. */
const isHalt = ({ kind, text }: Finding): boolean => kind === "gap" && text.startsWith("the last ");

describe.each(INSTRUMENTS.map((instrument) => ({ symbol: instrument.symbol, instrument })))("$symbol", ({ instrument }) => {
  const clean = yearOf(instrument);

  test("has next to nothing that is doubtful but its halts", () => {
    const { findings } = examined(clean, instrument);
    expect(findings.filter((finding) => !isHalt(finding)).length).toBeLessThanOrEqual(1);
  });

  test("shows its sessions, holidays and early closes by its bars alone", () => {
    const { weekly, zone, holidays, earlyCloses } = instrument.calendar;
    const { calendar, inside } = findCalendar(clean, "1m", ["UTC", "America/New_York", "Atlantic/Faroe", "Europe/Berlin"])!;
    const [from, to] = [clean.time[0]!, clean.time.at(-1)!].map((ms) => new Date(ms).toISOString().slice(0, 10)) as [string, string];
    const within = (date: string): boolean => date > from && date < to;
    const byDay = (sessions: typeof weekly) => [...sessions].sort((a, b) => a.day - b.day);
    expect([calendar.zone, byDay(calendar.weekly)]).toEqual([zone, byDay(weekly)]);
    expect(inside).toBe(1);
    // Weekends are no sessions at all.
    const dates = new Set(layOutSessions({ ...instrument.calendar, holidays: [] }, clean.time[0]!, clean.time.at(-1)!).dates);
    expect(calendar.holidays).toEqual(holidays.filter((date) => within(date) && dates.has(date)));
    expect(calendar.earlyCloses).toEqual(earlyCloses.filter(({ date }) => within(date) && dates.has(date)));
  });

  test("of three faults of each kind nearly all are found, told as what they are, and nothing else is", () => {
    const kinds = DOUBTS.filter((kind) => CORPUS[kind] && canHave(kind, instrument));
    const random = new Random(INSTRUMENTS.indexOf(instrument) + Number(process.env.QUALITY_SEED ?? 1));
    const order = Array.from({ length: FAULTS }, () =>
      kinds.map((kind) => ({ kind, at: random.next() })).sort((a, b) => a.at - b.at),
    ).flat();
    let bars = copyOf(clean);
    const truths: { readonly kind: Doubt; readonly truth: Truth }[] = [];
    // From the last to the first, a stretch of the year each: what is put in behind moves nothing ahead of it.
    for (let k = order.length - 1; k >= 0; k--) {
      const { kind } = order[k]!;
      const made = CORPUS[kind]!(
        bars,
        Math.floor(((k + 0.05 + 0.1 * random.next()) / order.length) * clean.time.length) + 60,
        instrument,
        random,
      );
      bars = made.bars;
      truths.push({ kind, truth: made.truth });
    }
    const { findings } = examined(bars, instrument);
    const isAbout = (finding: Finding, [fromMs, toMs]: Truth, reachMs: number): boolean =>
      finding.fromMs <= toMs + reachMs && finding.toMs >= fromMs - reachMs;
    const missed = truths.filter(({ kind, truth }) => !findings.some((one) => one.kind === kind && isAbout(one, truth, 0)));
    const words = missed.map(({ kind, truth }) => `${kind} ${new Date(truth[0]).toISOString()}`);
    expect(missed.length / truths.length, words.join(", ")).toBeLessThanOrEqual(0.05);
    const known = new Set(examined(clean, instrument).findings.map(({ kind, toMs }) => `${kind} ${toMs}`));
    const others = findings.filter(
      (one) => !isHalt(one) && !known.has(`${one.kind} ${one.toMs}`) && !truths.some(({ truth }) => isAbout(one, truth, 240 * MINUTE_MS)),
    );
    console.info(`${truths.length - missed.length} of ${truths.length} faults of ${instrument.symbol} found, ${others.length} others told`);
    expect(others.length, `${JSON.stringify(countsOf(others))} ${others[0]?.text}`).toBeLessThanOrEqual(1);
  });
});
