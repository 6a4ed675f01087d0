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
  examineBars,
  type Finding,
  type Instrument,
  layOutSessions,
  lowerBound,
  MINUTE_MS,
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
const copyOf = (columns: BarColumns): BarColumns =>
  Object.fromEntries(
    Object.entries(columns).map(([name, values]) => [name, (values as Float64Array | undefined)?.slice()]),
  ) as unknown as BarColumns;

const PRICES = ["open", "high", "low", "close"] as const;
type Truth = readonly [fromMs: number, toMs: number];
/** Bars with a fault put into them at a place, and the times that it is about. */
type Fault = (bars: BarColumns, at: number, instrument: Instrument, random: Random) => { readonly bars: BarColumns; readonly truth: Truth };

const dropped = (bars: BarColumns, isOut: (i: number) => boolean): BarColumns => {
  const kept = Array.from(bars.time.keys()).filter((i) => !isOut(i));
  return Object.fromEntries(
    Object.entries(bars).map(([name, values]) => [name, values && Float64Array.from(kept, (i) => (values as Float64Array)[i]!)]),
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
  "off grid": (bars, at, { tickSize }) => put(bars, at, at + 2, (i) => void (bars.high[i] = bars.high[i]! + tickSize / 3)),
  "outside sessions": (bars, at, instrument) => {
    const [, closeMs] = sessionAt(bars, at, instrument);
    // The last bars of the session, half an hour late.
    const last = lowerBound(bars.time, closeMs) - 1;
    return put(bars, last - 4, last + 1, (i) => void (bars.time[i] = bars.time[i]! + 30 * MINUTE_MS));
  },
  split: (bars, at, { tickSize }, random) => {
    const ratio = [1 / 2, 1 / 3, 1 / 5, 2][Math.floor(random.next() * 4)]!;
    for (let i = at; i < bars.time.length; i++)
      for (const name of PRICES) bars[name][i] = Math.max(tickSize, Math.round(bars[name][i]! / ratio / tickSize) * tickSize);
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
    const { findings } = examineBars(clean, "1m", instrument);
    expect(findings.filter((finding) => !isHalt(finding)).length).toBeLessThanOrEqual(1);
  });

  test("of three faults of each kind nearly all are found, and told as what they are", () => {
    const missed: string[] = [];
    let faults = 0;
    for (const kind of DOUBTS) {
      const fault = CORPUS[kind];
      if (!fault || !canHave(kind, instrument)) continue;
      const random = new Random(INSTRUMENTS.indexOf(instrument) * 100 + DOUBTS.indexOf(kind));
      let bars = copyOf(clean);
      const truths: Truth[] = [];
      for (let k = 0; k < FAULTS; k++) {
        const at = Math.floor(((k + 0.2 + 0.6 * random.next()) / FAULTS) * clean.time.length);
        const made = fault(bars, Math.min(at, bars.time.length - 2000), instrument, random);
        bars = made.bars;
        truths.push(made.truth);
      }
      const { findings } = examineBars(bars, "1m", instrument);
      const known = new Set(examineBars(clean, "1m", instrument).findings.map(({ fromMs, kind: of }) => `${of} ${fromMs}`));
      for (const [fromMs, toMs] of truths) {
        faults++;
        if (!findings.some((one) => one.kind === kind && one.fromMs <= toMs && one.toMs >= fromMs))
          missed.push(`${kind} ${new Date(fromMs).toISOString()}`);
      }
      const others = findings.filter(
        (one) =>
          !known.has(`${one.kind} ${one.fromMs}`) &&
          !truths.some(([fromMs, toMs]) => one.fromMs <= toMs + 240 * MINUTE_MS && one.toMs >= fromMs - 240 * MINUTE_MS),
      );
      expect(others.length, `${kind}: ${JSON.stringify(countsOf(others))} ${others[0]?.text}`).toBeLessThanOrEqual(1);
    }
    expect(missed.length / faults, missed.join(", ")).toBeLessThanOrEqual(0.05);
  });
});
