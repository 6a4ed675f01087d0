/** When an instrument trades, in pictures and words. */
import { expect, test } from "vitest";
import { control, show, type } from "../../testing.tsx";
import { closedBeforeBar, noSessionWords, nowWords } from "./now-words.ts";
import { sessionMinutes } from "./session-words.ts";
import { stretchesOf } from "./week-picture.tsx";
import { YearPicture } from "./year-picture.tsx";

const LUNCH = [
  { day: 1, open: "09:00", close: "12:00" },
  { day: 1, open: "13:00", close: "16:00" },
  { day: 2, open: "22:00", close: "01:30" },
  { day: 7, open: "18:00", close: "24:00" },
];

test("a week shows breaks as breaks, and a session over midnight on both days", () => {
  const days = stretchesOf({ weekly: LUNCH }).map((stretches) => stretches.map(({ from, to }) => [from / 60, to / 60]));
  expect(days).toEqual([
    [
      [9, 12],
      [13, 16],
    ],
    [[22, 24]],
    [[0, 1.5]],
    [],
    [],
    [],
    [[18, 24]],
  ]);
  expect(sessionMinutes({ weekly: LUNCH })).toBe(360);
});

test("what is now is told in words", () => {
  const at = Date.UTC(2026, 5, 1, 11);
  expect(nowWords({ isOpen: true, untilMs: at, why: null, name: "" }, "UTC")).toBe("Open now, until 1 Jun 2026, 11:00.");
  expect(nowWords({ isOpen: false, untilMs: at, why: "break", name: "" }, "UTC")).toBe("Closed now: its break. Opens 1 Jun 2026, 11:00.");
  expect(nowWords({ isOpen: false, untilMs: null, why: "holiday", name: "" }, "UTC")).toBe(
    "Closed now: a holiday. It does not open within three weeks.",
  );
});

test("a named holiday is told by its name, also ahead of the first bar behind it", () => {
  expect(nowWords({ isOpen: false, untilMs: null, why: "holiday", name: "Gull Monday" }, "UTC")).toMatch(/^Closed now: Gull Monday\./);
  const calendar = {
    ...{ zone: "UTC", holidays: ["2026-05-04"], names: [{ date: "2026-05-04", name: "Gull Monday" }], earlyCloses: [] },
    ...{ sessionsPerYear: 252, weekly: [1, 2, 3, 4, 5].map((day) => ({ day, open: "09:00", close: "17:00" })) },
  };
  expect(noSessionWords(calendar, "2026-05-04")).toMatch(/^4 May 2026 has no session: Gull Monday\./);
  const at = (day: number, hour: number): number => Date.UTC(2026, 4, day, hour);
  const time = Float64Array.of(at(1, 15), at(1, 16), at(5, 9), at(5, 10), at(6, 9));
  expect(Array.from(time, (_ms, i) => closedBeforeBar(calendar, time, i))).toEqual([
    "",
    "",
    " · before it closed Sat 2 May – Mon 4 May: Gull Monday",
    "",
    "",
  ]);
});

test("a day without a session says why, and what a run makes of it", () => {
  const calendar = {
    ...{ zone: "UTC", holidays: ["2026-03-02"], earlyCloses: [], sessionsPerYear: 252 },
    weekly: [1, 2, 3, 4, 5].map((day) => ({ day, open: "09:00", close: "17:00" })),
  };
  expect(noSessionWords(calendar, "2026-02-28")).toBe(
    "28 Feb 2026 has no session: no trading that day. The sessions inside the period are run.",
  );
  expect(noSessionWords(calendar, "2026-03-02")).toMatch(/^2 Mar 2026 has no session: a holiday\./);
  expect(noSessionWords(calendar, "2026-03-03")).toBe("");
  expect(noSessionWords({ ...calendar, isAssumed: true }, "2026-02-28")).toBe("");
});

test("a year counts its sessions and names its special days", async () => {
  const calendar = {
    ...{
      zone: "UTC",
      weekly: [1, 2, 3, 4, 5].map((day) => ({ day, open: "09:00", close: "16:00" })),
      isAssumed: false,
      sessionsPerYear: 252,
    },
    ...{ holidays: ["2025-12-25"], earlyCloses: [{ date: "2025-12-24", close: "12:00" }] },
    names: [{ date: "2025-12-25", name: "Midwinter Day" }],
  };
  const host = await show(<YearPicture calendar={calendar} firstDate="2024-03-01" lastDate="2025-02-28" />);
  expect(host.textContent).toContain("260 sessions");
  expect(host.querySelector("[title='24 Dec 2025: early close, 12:00']")).not.toBeNull();
  expect([...host.querySelectorAll("li")].map(({ textContent }) => textContent)).toEqual([
    "Wed 24 Dec early close, 12:00",
    "Thu 25 Dec Midwinter Day, holiday",
  ]);
  await type(control(host, "Year"), "2024");
  expect(host.textContent).toContain("262 sessions");
});
