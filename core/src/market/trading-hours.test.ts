import { describe, expect, test } from "vitest";
import { isoDate, layOutSessions, type SessionCalendar } from "./calendar.ts";
import { inUnits, PRICE_UNITS } from "./price-units.ts";
import { closedBefore, tradingAt, whyNoSession, yearOf } from "./trading-hours.ts";

const days = (open: string, close: string) => [1, 2, 3, 4, 5].map((day) => ({ day, open, close }));
const LUNCH: SessionCalendar = {
  sessionsPerYear: 252,
  ...{ zone: "Atlantic/Faroe", weekly: [...days("09:00", "12:00"), ...days("13:00", "16:00")], isAssumed: false },
  ...{ holidays: ["2026-06-03"], earlyCloses: [{ date: "2026-06-04", close: "11:00" }] },
};
const NIGHT: SessionCalendar = {
  ...LUNCH,
  weekly: [7, 1, 2, 3, 4].map((day) => ({ day, open: "22:00", close: "22:00" })),
  holidays: [],
  earlyCloses: [],
};

/** Faroese summer time is an hour ahead of UTC. */
describe("trading at a time", () => {
  test.each<[string, SessionCalendar, string, boolean, string | null, string | null]>([
    ["in the morning", LUNCH, "2026-06-01T09:30Z", true, "2026-06-01T11:00Z", null],
    ["at the open", LUNCH, "2026-06-01T08:00Z", true, "2026-06-01T11:00Z", null],
    ["at the close of the first part", LUNCH, "2026-06-01T11:00Z", false, "2026-06-01T12:00Z", "break"],
    ["in the evening", LUNCH, "2026-06-01T18:00Z", false, "2026-06-02T08:00Z", "out of hours"],
    ["on a Saturday", LUNCH, "2026-06-06T10:00Z", false, "2026-06-08T08:00Z", "weekend"],
    ["on a holiday", LUNCH, "2026-06-03T10:00Z", false, "2026-06-04T08:00Z", "holiday"],
    ["after an early close", LUNCH, "2026-06-04T10:30Z", false, "2026-06-05T08:00Z", "out of hours"],
    ["over midnight", NIGHT, "2026-06-02T00:00Z", true, "2026-06-02T21:00Z", null],
  ])("%s", (_what, calendar, at, isOpen, until, why) => {
    const found = tradingAt(calendar, Date.parse(at));
    expect(found).toEqual({ isOpen, untilMs: until === null ? null : Date.parse(until), why, name: "" });
  });

  test("a holiday that has a name is told by it", () => {
    const named = { ...LUNCH, names: [{ date: "2026-06-03", name: "Gull Monday" }] };
    expect(tradingAt(named, Date.parse("2026-06-03T10:00Z"))).toMatchObject({ why: "holiday", name: "Gull Monday" });
    expect(tradingAt(named, Date.parse("2026-06-03T04:00Z")).isOpen).toBe(false);
    expect(yearOf(named, 2026).filter(({ name }) => name !== "")).toEqual([{ date: "2026-06-03", kind: "holiday", name: "Gull Monday" }]);
  });

  test("where nothing opens within three weeks nothing is told", () => {
    const closed = {
      ...LUNCH,
      holidays: Array.from({ length: 60 }, (_none, k) => new Date(Date.UTC(2026, 5, 1) + k * 864e5).toISOString().slice(0, 10)),
    };
    expect(tradingAt(closed, Date.UTC(2026, 5, 2, 12)).untilMs).toBeNull();
  });
});

test.each<[string, SessionCalendar, string, ReturnType<typeof closedBefore>]>([
  ["a weekend", LUNCH, "2026-06-08", { from: "2026-06-06", to: "2026-06-07", holidays: [] }],
  ["a holiday without a name", LUNCH, "2026-06-04", { from: "2026-06-03", to: "2026-06-03", holidays: [{ date: "2026-06-03", name: "" }] }],
  ["nothing", LUNCH, "2026-06-05", null],
  [
    "a weekend with a holiday behind it",
    { ...LUNCH, holidays: ["2026-06-08"], names: [{ date: "2026-06-08", name: "Gull Monday" }] },
    "2026-06-09",
    { from: "2026-06-06", to: "2026-06-08", holidays: [{ date: "2026-06-08", name: "Gull Monday" }] },
  ],
])("%s lies ahead of a session", (_what, calendar, date, expected) => {
  expect(closedBefore(calendar, date)).toEqual(expected);
});

test("a year has a kind for each of its days", () => {
  const year = yearOf(LUNCH, 2026);
  expect(year).toHaveLength(365);
  const kindOf = (date: string) => year.find((day) => day.date === date)!.kind;
  expect(["2026-06-01", "2026-06-03", "2026-06-04", "2026-06-06", "2026-12-31"].map(kindOf)).toEqual([
    "session",
    "holiday",
    "early close",
    "closed",
    "session",
  ]);
  expect(yearOf(LUNCH, 2028)).toHaveLength(366);
});

describe("a distance in every unit", () => {
  const FACTS = { tickSize: 0.25, pipSize: 0.1, pointValue: 50 };
  test("17 ticks of a price of 100, for two units", () => {
    expect(inUnits(17, "ticks", FACTS, 100, 2)).toEqual({ points: 4.25, ticks: 17, pips: 42.5, percent: 4.25, money: 425 });
  });
  test("from any unit to any other and back it is the same", () => {
    for (const unit of PRICE_UNITS)
      for (const other of PRICE_UNITS) {
        const there = inUnits(3.7, unit, FACTS, 412.5, 3)[other];
        expect(inUnits(there, other, FACTS, 412.5, 3)[unit]).toBeCloseTo(3.7, 12);
      }
  });
});

test("a date without a session says why; one that a night session belongs to has one", () => {
  const night: SessionCalendar = {
    ...{ zone: "UTC", holidays: ["2026-03-05"], earlyCloses: [], sessionsPerYear: 252 },
    weekly: [7, 1, 2, 3, 4].map((day) => ({ day, open: "22:00", close: "21:00" })),
  };
  const dates = new Set(layOutSessions(night, Date.UTC(2026, 1, 20), Date.UTC(2026, 2, 20)).dates);
  for (let day = 0; day < 14; day++) {
    const date = isoDate(Date.UTC(2026, 1, 25 + day));
    expect(whyNoSession(night, date) === null).toBe(dates.has(date));
  }
  expect(whyNoSession(night, "2026-03-05")).toBe("holiday");
});
