/** Repairs as layers: what each does, that the data stay as they are, and that what was found is gone after the repair proposed for it. */
import { describe, expect, test } from "vitest";
import { type BarColumns, makeSeries } from "../market/bars.ts";
import { layOutSessions, type SessionCalendar } from "../market/calendar.ts";
import { DAY_MS, MINUTE_MS } from "../market/timeframe.ts";
import { Random } from "../random.ts";
import { INSTRUMENT } from "../testing/bars.ts";
import { examine } from "./examine.ts";
import type { Doubt } from "./finding.ts";
import { historyOf } from "./history.ts";
import { proposedRepairs } from "./propose.ts";
import { type Repair, repaired, repairWords } from "./repairs.ts";

const T = Date.UTC(2025, 2, 3, 9);
const at = (k: number): number => T + k * MINUTE_MS;
const five = (): BarColumns => ({
  time: Float64Array.of(at(0), at(1), at(2), at(3), at(4)),
  open: Float64Array.of(10, 11, 90, 13, 14),
  high: Float64Array.of(11, 12, 91, 14, 15),
  low: Float64Array.of(9, 10, 89, 12, 13),
  close: Float64Array.of(10.5, 11.5, 90, 13.5, 14.5),
  volume: Float64Array.of(5, 6, 7, 8, 9),
});
const closes = (bars: BarColumns): number[] => [...bars.close];

describe("a repair", () => {
  const cases: readonly (readonly [string, Repair, (bars: BarColumns) => unknown, unknown])[] = [
    ["leaves bars out", { kind: "drop", fromMs: at(2), toMs: at(3) }, closes, [10.5, 11.5, 13.5, 14.5]],
    [
      "puts prices between their neighbours",
      { kind: "interpolate", fromMs: at(2), toMs: at(3), tickSize: 0.25 },
      (bars) => [bars.low[2], bars.close[2], bars.high[2], bars.volume[2]],
      [12.25, 12.25, 12.25, 7],
    ],
    [
      "of several bars on one line",
      { kind: "interpolate", fromMs: at(1), toMs: at(3), tickSize: 0.25 },
      closes,
      [10.5, 11.25, 12.25, 13.5, 14.5],
    ],
    [
      "moves bars in time",
      { kind: "shift", fromMs: at(3), toMs: at(5), minutes: 60 },
      (bars) => [...bars.time].map((t) => (t - T) / MINUTE_MS),
      [0, 1, 2, 63, 64],
    ],
    ["and puts them in order", { kind: "shift", fromMs: at(0), toMs: at(1), minutes: 90 }, closes, [11.5, 90, 13.5, 14.5, 10.5]],
    [
      "of two at one time the one that was there ahead stays",
      { kind: "shift", fromMs: at(1), toMs: at(2), minutes: 1 },
      closes,
      [10.5, 11.5, 13.5, 14.5],
    ],
    [
      "multiplies prices, and keeps the money",
      { kind: "multiply", fromMs: at(0), toMs: at(2), factor: 0.5 },
      (bars) => [bars.close[0], bars.volume[0], bars.close[2]],
      [5.25, 10, 90],
    ],
    [
      "puts prices on the grid",
      { kind: "round", fromMs: at(0), toMs: at(1), tickSize: 1 },
      (bars) => [bars.close[0], bars.close[1]],
      [11, 11.5],
    ],
    [
      "sets one bar",
      { kind: "correct", timeMs: at(2), open: 12, high: 13, low: 12, close: 12.5, volume: 1 },
      closes,
      [10.5, 11.5, 12.5, 13.5, 14.5],
    ],
    [
      "about nothing changes nothing",
      { kind: "interpolate", fromMs: at(50), toMs: at(60), tickSize: 0.25 },
      closes,
      [10.5, 11.5, 90, 13.5, 14.5],
    ],
  ];
  test.each(cases)("%s", (_name, repair, look, expected) => {
    const bars = five();
    expect(look(repaired(bars, [repair]))).toEqual(expected);
    expect(bars).toEqual(five());
  });

  test("is applied to what the one before it left", () => {
    const drop: Repair = { kind: "drop", fromMs: at(2), toMs: at(3) };
    const double: Repair = { kind: "multiply", fromMs: at(0), toMs: at(5), factor: 2 };
    expect(closes(repaired(five(), [drop, double]))).toEqual([21, 23, 27, 29]);
    expect(repaired(five(), [])).toEqual(five());
  });

  test("that leaves no valid bars is refused by name", () => {
    const wrong: Repair = { kind: "correct", timeMs: at(2), open: 12, high: 11, low: 12, close: 12, volume: 1 };
    expect(() => repaired(five(), [{ kind: "drop", fromMs: 0, toMs: 1 }, wrong])).toThrow(
      /^Repair 2 \(one bar set to 12 11 12 12\) leaves no valid bars: Bar 3/,
    );
  });
});

/** Weekdays 09:00 to 15:00. */
const CALENDAR: SessionCalendar = {
  ...{ zone: "UTC", holidays: [], earlyCloses: [], sessionsPerYear: 250 },
  weekly: [1, 2, 3, 4, 5].map((day) => ({ day, open: "09:00", close: "15:00" })),
};
const MARKET = { ...INSTRUMENT, calendar: CALENDAR };
const examined = (bars: BarColumns) => examine(historyOf(makeSeries(bars, "1m", CALENDAR), MARKET));

function sound(): BarColumns {
  const random = new Random(3);
  const { openMs, closeMs } = layOutSessions(CALENDAR, T, T + 40 * DAY_MS);
  const time = [...openMs].flatMap((open, s) =>
    Array.from({ length: (closeMs[s]! - open) / MINUTE_MS }, (_none, k) => open + k * MINUTE_MS),
  );
  let price = 400;
  const rows = time.map(() => {
    const open = price;
    price = open + Math.round(random.normal() * 3) / 4;
    return [open, Math.max(open, price) + 0.25, Math.min(open, price) - 0.25, price, 10 + Math.floor(random.next() * 1000)] as const;
  });
  const column = (k: 0 | 1 | 2 | 3 | 4): Float64Array => Float64Array.from(rows, (row) => row[k]);
  return { time: Float64Array.from(time), open: column(0), high: column(1), low: column(2), close: column(3), volume: column(4) };
}

describe("what was found is gone once it is repaired as proposed", () => {
  const from = 3000;
  const spoil: Partial<Record<Doubt, (bars: BarColumns) => void>> = {
    spike: ({ high }) => void (high[from] = high[from]! * 3),
    volume: ({ volume }) => void (volume[from] = 0),
    stuck: (bars) => {
      for (let i = from; i < from + 40; i++) {
        for (const name of ["open", "high", "low", "close"] as const) bars[name][i] = bars.close[from - 1]!;
        bars.volume[i] = 5;
      }
    },
    "off grid": ({ high }) => void (high[from] = high[from]! + 0.1),
    split: (bars) => {
      for (let i = from; i < bars.time.length; i++)
        for (const name of ["open", "high", "low", "close"] as const) bars[name][i] = bars[name][i]! * 2;
    },
    "zone shift": ({ time }) => {
      const week = Date.UTC(2025, 2, 10);
      for (let i = 0; i < time.length; i++) if (time[i]! >= week && time[i]! < week + 5 * DAY_MS) time[i] = time[i]! + 60 * MINUTE_MS;
    },
  };
  test.each(Object.entries(spoil) as [Doubt, (bars: BarColumns) => void][])("%s", (kind, change) => {
    const bars = sound();
    change(bars);
    const { findings } = examined(bars);
    const found = findings.find((finding) => finding.kind === kind)!;
    const [repair] = proposedRepairs(found, MARKET.tickSize, bars.time[0]!);
    const after = examined(repaired(bars, [repair!])).findings;
    expect(repairWords(repair!)).not.toBe("");
    // Bars that are left out are missing, as is true.
    expect(after.filter((finding) => finding.kind !== "gap")).toEqual([]);
    if (kind === "zone shift" || kind === "spike") expect(after).toEqual([]);
  });

  test("of what is not there nothing is made up", () => {
    expect(proposedRepairs({ kind: "gap", fromMs: 0, toMs: 1, bars: 1, size: 1, text: "" }, 1, 0)).toEqual([]);
  });
});
