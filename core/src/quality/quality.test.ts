/** Each detector on bars of which the fault is known, and the map of a history. What they find on whole markets: demo/src/quality.test.ts. */
import { describe, expect, test } from "vitest";
import { type BarColumns, makeSeries } from "../market/bars.ts";
import { layOutSessions, type SessionCalendar } from "../market/calendar.ts";
import type { Instrument } from "../market/instrument.ts";
import { DAY_MS, MINUTE_MS } from "../market/timeframe.ts";
import { Random } from "../random.ts";
import { INSTRUMENT } from "../testing/bars.ts";
import { CLOSED, coverageMap } from "./coverage.ts";
import { examine } from "./examine.ts";
import { type History, historyOf } from "./history.ts";

/** 09:00 to 12:00 and 13:00 to 15:00 on weekdays, with a day off. */
const CALENDAR: SessionCalendar = {
  zone: "UTC",
  weekly: [1, 2, 3, 4, 5].flatMap((day) => [
    { day, open: "09:00", close: "12:00" },
    { day, open: "13:00", close: "15:00" },
  ]),
  holidays: ["2025-03-12"],
  earlyCloses: [],
  sessionsPerYear: 250,
};
const MARKET = { ...INSTRUMENT, calendar: CALENDAR };
const MONDAY = Date.UTC(2025, 2, 3);
const NAMES = ["time", "open", "high", "low", "close", "volume"] as const;
type Rows = Record<(typeof NAMES)[number] | "spread", number[]>;

/** Three weeks of minutes: a walk on the grid, no two volumes alike. */
function sound(): Rows {
  const random = new Random(7);
  const rows: Rows = { time: [], open: [], high: [], low: [], close: [], volume: [], spread: [] };
  let price = 400;
  const { parts } = layOutSessions(CALENDAR, MONDAY, MONDAY + 21 * DAY_MS);
  parts.openMs.forEach((openMs, p) => {
    for (let t = openMs; t < parts.closeMs[p]!; t += MINUTE_MS) {
      const close = price + Math.round(random.normal() * 3) / 4;
      rows.time.push(t);
      rows.open.push(price);
      rows.high.push(Math.max(price, close) + 0.25);
      rows.low.push(Math.min(price, close) - 0.25);
      rows.close.push(close);
      rows.volume.push(10 + Math.floor(random.next() * 1000));
      rows.spread.push(0.25);
      price = close;
    }
  });
  return rows;
}

const history = (bars: BarColumns, timeframe: string, market: Instrument): History =>
  historyOf(makeSeries(bars, timeframe, market.calendar), market);
const examined = (...given: Parameters<typeof history>) => examine(history(...given));
const columnsOf = (rows: Rows): BarColumns =>
  Object.fromEntries(Object.entries(rows).map(([name, values]) => [name, Float64Array.from(values)])) as unknown as BarColumns;
const without = (rows: Rows, isOut: (i: number) => boolean): Rows =>
  Object.fromEntries(Object.entries(rows).map(([name, values]) => [name, values.filter((_value, i) => !isOut(i))])) as Rows;
const at = (rows: Rows, text: string): number => rows.time.indexOf(Date.parse(`${text}Z`));
const timesOf = (from: number, to: number): string =>
  `${new Date(from).toISOString().slice(5, 16)} to ${new Date(to).toISOString().slice(5, 16)}`;
const told = (rows: Rows): string[] =>
  examined(columnsOf(rows), "1m", MARKET).findings.map(
    ({ kind, fromMs, toMs, bars, text }) => `${kind} ${timesOf(fromMs, toMs)} ${bars}: ${text}`,
  );

/** What is done to sound bars; bars may be put in their place. */
type Change = (rows: Rows) => Rows | undefined;
const changed = (change: Change): Rows => {
  const rows = sound();
  return change(rows) ?? rows;
};
describe("what is found", () => {
  const cases: readonly (readonly [string, Change, readonly string[]])[] = [
    ["nothing about sound bars: breaks, nights, weekends and holidays are no holes", () => undefined, []],
    [
      "a hole inside a session",
      (rows) => without(rows, (i) => i >= at(rows, "2025-03-05T10:00") && i < at(rows, "2025-03-05T10:40")),
      ["gap 03-05T10:00 to 03-05T10:40 40: 40 bars in a row are missing"],
    ],
    [
      "a hole over the break counts what trades on its two sides",
      (rows) => without(rows, (i) => i >= at(rows, "2025-03-05T11:50") && i < at(rows, "2025-03-05T13:05")),
      ["gap 03-05T11:50 to 03-05T13:05 15: 15 bars in a row are missing"],
    ],
    [
      "a session without a bar",
      (rows) => without(rows, (i) => new Date(rows.time[i]!).toISOString().startsWith("2025-03-06")),
      ["gap 03-06T09:00 to 03-06T15:00 300: no bar in this session: a holiday that the calendar does not know, or lost"],
    ],
    [
      "two sessions without a bar",
      (rows) => without(rows, (i) => /^2025-03-0[67]/.test(new Date(rows.time[i]!).toISOString())),
      ["gap 03-06T09:00 to 03-07T15:00 600: no bar in 2 sessions, 2025-03-06 to 2025-03-07"],
    ],
    [
      "a session that breaks off",
      (rows) => without(rows, (i) => i >= at(rows, "2025-03-06T14:00") && i <= at(rows, "2025-03-06T14:59")),
      ["gap 03-06T14:00 to 03-06T15:00 60: the last 60 bars of the session are missing: trading was halted, or they are lost"],
    ],
    ["one minute alone that is missing is left alone", (rows) => without(rows, (i) => i === at(rows, "2025-03-05T10:00")), []],
    [
      "a time that comes twice",
      (rows) => void (rows.time[at(rows, "2025-03-05T10:01")] = Date.UTC(2025, 2, 5, 10)),
      ["duplicate 03-05T10:00 to 03-05T10:01 1: 1 bar opens at the time of the bar before"],
    ],
    ["a high that sticks out", (rows) => void (rows.high[at(rows, "2025-03-05T10:00")]! += 30), ["spike 03-05T10:00 to 03-05T10:01 1: "]],
    [
      "a price that is a third for two bars",
      (rows) => {
        for (const i of [0, 1])
          for (const name of ["open", "high", "low", "close"] as const) rows[name][at(rows, "2025-03-05T10:00") + i]! /= 3;
        for (const name of ["open", "high", "low", "close"] as const)
          for (const i of [0, 1])
            rows[name][at(rows, "2025-03-05T10:00") + i] = Math.round(rows[name][at(rows, "2025-03-05T10:00") + i]! * 4) / 4;
      },
      ["spike 03-05T10:00 to 03-05T10:0"],
    ],
    [
      "volumes that are missing, and one below zero",
      (rows) => {
        rows.volume[at(rows, "2025-03-05T10:00")] = 0;
        rows.volume[at(rows, "2025-03-07T10:00")] = -3;
      },
      ["volume 03-05T10:00 to 03-05T10:01 1: 1 bar with no volume", "volume 03-07T10:00 to 03-07T10:01 1: 1 bar with a volume below zero"],
    ],
    ["no volume at all is simply not known", (rows) => ({ ...rows, volume: rows.volume.map(() => 0) }), []],
    [
      "a feed that stands still",
      (rows) => {
        const from = at(rows, "2025-03-05T10:00");
        for (let i = from; i < from + 30; i++) {
          for (const name of ["open", "high", "low", "close"] as const) rows[name][i] = rows.close[from - 1]!;
          rows.volume[i] = 5;
        }
      },
      ["stuck 03-05T10:00 to 03-05T10:30 30: 30 bars in a row are the same to the last figure, volume included"],
    ],
    [
      "prices off the grid",
      (rows) => void (rows.high[at(rows, "2025-03-05T10:00")]! += 0.1),
      ["off grid 03-05T10:00 to 03-05T10:01 1: 1 bar with a price off the grid of 0.25: "],
    ],
    [
      "bars in the break",
      (rows) => {
        for (let i = at(rows, "2025-03-05T11:59"); i > at(rows, "2025-03-05T11:54"); i--) rows.time[i]! += 20 * MINUTE_MS;
      },
      ["gap 03-05T11:55 to 03-05T12:00 5: ", "outside sessions 03-05T12:15 to 03-05T12:20 5: 5 bars outside every session of the calendar"],
    ],
    [
      "a split",
      (rows) => {
        for (let i = at(rows, "2025-03-10T09:00"); i < rows.time.length; i++)
          for (const name of ["open", "high", "low", "close"] as const) rows[name][i] = Math.round(rows[name][i]! * 2) / 4;
      },
      [
        "split 03-10T09:00 to 03-10T09:00 1: from one bar to the next the price comes to 1/2 of what it was, and stays there: a split, or another unit",
      ],
    ],
    [
      "a week an hour late",
      (rows) =>
        void rows.time.forEach((t, i) => {
          if (t >= Date.UTC(2025, 2, 10) && t < Date.UTC(2025, 2, 15)) rows.time[i] = t + 60 * MINUTE_MS;
        }),
      ["zone shift 03-10T09:00 to 03-14T15:00"],
    ],
    [
      "a day of five-minute bars",
      (rows) =>
        without(rows, (i) => new Date(rows.time[i]!).toISOString().startsWith("2025-03-05") && (rows.time[i]! / MINUTE_MS) % 5 !== 0),
      ["spacing 03-05T09:00 to 03-05T14:5"],
    ],
    [
      "a bid above the ask",
      (rows) => void (rows.spread[at(rows, "2025-03-05T10:00")] = -0.25),
      ["crossed 03-05T10:00 to 03-05T10:01 1: 1 bar whose bid lies above the ask"],
    ],
  ];
  test.each(cases)("%s", (_name, change, expected) => {
    const found = told(changed(change));
    expect(found.map((text, k) => text.slice(0, expected[k]?.length))).toEqual(expected);
  });
});

test("where the calendar is assumed nothing is missing, and what is wrong with a bar is told all the same", () => {
  const rows = sound();
  rows.high[500]! += 30;
  const { findings, expected } = examined(columnsOf(without(rows, (i) => i > 1000 && i < 1100)), "1m", {
    ...MARKET,
    calendar: { ...CALENDAR, isAssumed: true },
  });
  expect(findings.map(({ kind }) => kind)).toEqual(["spike"]);
  expect(expected).toBeNull();
});

test("daily bars: sessions that are missing", () => {
  const { dates, openMs } = layOutSessions(CALENDAR, MONDAY, MONDAY + 60 * DAY_MS);
  const kept = dates.flatMap((date, s) => (date === "2025-03-20" ? [] : [s]));
  const column = (value: (s: number) => number): Float64Array => Float64Array.from(kept, value);
  const bars = {
    time: column((s) => openMs[s]!),
    open: column(() => 10),
    high: column((s) => 11 + (s % 5) / 4),
    low: column(() => 9),
    close: column((s) => 10 + (s % 3) / 4),
    volume: column((s) => 5 + s),
  };
  const { findings } = examined(bars, "1d", MARKET);
  expect(findings.map(({ kind, text }) => `${kind}: ${text}`)).toEqual([
    "gap: no bar in this session: a holiday that the calendar does not know, or lost",
  ]);
});

describe("the map of a history", () => {
  const rows = changed((all) => without(all, (i) => i >= at(all, "2025-03-05T10:00") && i < at(all, "2025-03-05T10:40")));
  const bars = columnsOf(rows);
  const map = coverageMap(history(bars, "1m", MARKET), examined(bars, "1m", MARKET).findings)!;
  const cell = (date: string, minute: number): number => map.dates.indexOf(date) * map.cells + Math.floor(minute / map.cellMinutes);

  test("has a row for each session and knows what is open, there, and doubtful", () => {
    expect(map.dates.length).toBe(14);
    expect(map.dates).not.toContain("2025-03-12");
    expect(map.present[cell("2025-03-05", 0)]).toBe(100);
    expect(map.present[cell("2025-03-05", 80)]).toBe(0);
    expect(map.doubt[cell("2025-03-05", 80)]).toBe(1);
    expect(map.present[cell("2025-03-05", 200)]).toBe(CLOSED);
    expect(map.doubt[cell("2025-03-06", 80)]).toBe(0);
  });

  test("counts, over all its cells, the bars that there are", () => {
    const { parts } = layOutSessions(CALENDAR, rows.time[0]!, rows.time.at(-1)! + 1);
    const expected = parts.openMs.reduce((sum, openMs, p) => sum + (parts.closeMs[p]! - openMs) / MINUTE_MS, 0);
    let there = 0;
    for (const share of map.present) if (share !== CLOSED) there += (share / 100) * map.cellMinutes;
    expect(Math.abs(there - rows.time.length)).toBeLessThan(map.dates.length * 2);
    expect(expected - rows.time.length).toBe(40);
  });
});
