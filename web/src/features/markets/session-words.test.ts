import { expect, test } from "vitest";
import { datesIn, datesText, earlyIn, earlyText, isWallTime, sessionWords } from "./session-words.ts";

const days = (...hours: readonly (readonly [string, string])[]) =>
  [1, 2, 3].flatMap((day) => hours.map(([open, close]) => ({ day, open, close })));

test("sessions in words: one a day, with a break, at several hours", () => {
  expect(sessionWords({ zone: "UTC", weekly: days(["09:00", "17:00"]) })).toBe("Mon–Wed 09:00–17:00 UTC");
  expect(sessionWords({ zone: "UTC", weekly: days(["09:00", "12:00"], ["13:00", "15:00"]) })).toBe("Mon–Wed 09:00–12:00, 13:00–15:00 UTC");
  expect(sessionWords({ zone: "UTC", weekly: [...days(["09:00", "17:00"]), { day: 6, open: "10:00", close: "12:00" }] })).toBe(
    "Mon, Tue, Wed, Sat at several hours UTC",
  );
});

test.each([
  ["09:00", true],
  ["24:00", true],
  ["24:01", false],
  ["9:00", false],
  ["0900", false],
])("%s is a time of the day: %s", (text, is) => expect(isWallTime(text)).toBe(is));

test("dates read back as they were written; what is none is not taken", () => {
  expect(datesIn("2025-12-25, 2025-01-01\n2025-12-25")).toEqual({ dates: ["2025-01-01", "2025-12-25"], names: [] });
  expect(datesIn("")).toEqual({ dates: [], names: [] });
  expect(datesIn("2025-02-30")).toBeNull();
  expect(datesIn("25.12.2025")).toBeNull();
  const dates = ["2025-01-01", "2025-12-25"];
  expect(datesIn(datesText(dates))).toEqual({ dates, names: [] });
  const names = [{ date: dates[0]!, name: "Gull Monday" }];
  expect(datesIn(datesText(dates, names))).toEqual({ dates, names });
  // A name stays as it is written; what is no date is no name either, and one that is too long is not cut.
  const odd = [{ date: dates[0]!, name: "1 May; the first,  and last" }];
  expect(datesIn(datesText(dates, odd))).toEqual({ dates, names: odd });
  expect(datesIn("2025-12-25 2025-13-01")).toBeNull();
  expect(datesIn(`2025-12-25 ${"long ".repeat(13)}`)).toBeNull();
  expect(datesIn("2026-05-04 Gull Monday\n2026-08-07")).toEqual({
    dates: ["2026-05-04", "2026-08-07"],
    names: [{ date: "2026-05-04", name: "Gull Monday" }],
  });
});

test("early closes too", () => {
  const closes = [
    { date: "2025-12-24", close: "13:00" },
    { date: "2025-12-31", close: "12:30" },
  ];
  expect(earlyIn(earlyText(closes))).toEqual({ closes, names: [] });
  const names = [{ date: closes[0]!.date, name: "Midwinter Eve" }];
  expect(earlyIn(earlyText(closes, names))).toEqual({ closes, names });
  const odd = [{ date: closes[0]!.date, name: "Eve, 2nd;  half" }];
  expect(earlyIn(earlyText(closes, odd))).toEqual({ closes, names: odd });
  expect(earlyIn("2025-12-24")).toBeNull();
  expect(earlyIn("2025-12-24 25:00")).toBeNull();
});
