import type { Market } from "@plan-tester/contract";
import type { Instrument, SessionCalendar } from "@plan-tester/core";
import { expect, test } from "vitest";
import { queries } from "../../data/queries.ts";
import { control, press, serving, show, type, withAnswers } from "../../testing.tsx";
import { CalendarChoice } from "./calendar-choice.tsx";

const calendar = (open: string, close: string): SessionCalendar => ({
  ...{ zone: "UTC", holidays: [], earlyCloses: [], sessionsPerYear: 252 },
  weekly: [1, 2, 3, 4, 5].map((day) => ({ day, open, close })),
});
const instrument = (symbol: string, more: Partial<Instrument> = {}): Instrument =>
  ({
    symbol,
    name: symbol,
    class: "other",
    currency: "XSC",
    costs: { spreadTicks: 0 },
    calendar: calendar("00:00", "24:00"),
    ...more,
  }) as Instrument;
const OWN = instrument("MINE", { calendar: { ...calendar("00:00", "24:00"), isAssumed: true } });
const MARKETS = [OWN, instrument("KELP", { class: "future", costs: { spreadTicks: 2 } as never })].map(
  (one) => ({ instrument: one }) as Market,
);
const FOUND = { calendar: calendar("09:00", "17:30"), inside: 0.999, present: 0.97 };
const KNOWN = { symbol: "KELP", calendar: calendar("08:00", "20:00"), inside: 1, present: 0.7 };

const page = (answer: unknown) =>
  show(withAnswers([[queries.foundSessions("MINE").queryKey, answer]], <CalendarChoice instrument={OWN} markets={MARKETS} />));

test("the sessions in the bars and those of other instruments are offered with how well they fit; one is taken, costs beside it", async () => {
  const asked = serving(() => null);
  const host = await page({ found: FOUND, known: [KNOWN] });
  const offers = [...host.querySelectorAll("label")].map(({ textContent }) => textContent!).filter((text) => text.startsWith("as "));
  expect(offers[0]).toMatch(/^as the bars show, .*09:00.*17:30.*99\.9\s% of the bars lie inside, 97\.0\s% of the expected/);
  expect(offers[1]).toMatch(/^as KELP, .*08:00.*100\.0\s% .* 70\.0\s%/);
  await type(control(host, "Class and costs"), "KELP");
  await press(host, "Take these");
  expect(asked.at(-1)!.body).toMatchObject({
    ...{ symbol: "MINE", class: "future", costs: { spreadTicks: 2 } },
    calendar: { ...FOUND.calendar, isAssumed: false },
  });
  host.querySelectorAll<HTMLInputElement>("[type=radio]")[1]!.click();
  await type(control(host, "Class and costs"), "");
  await press(host, "Take these");
  expect(asked.at(-1)!.body).toMatchObject({ class: "other", costs: { spreadTicks: 0 }, calendar: KNOWN.calendar });
});

test("where nothing can be told of the bars, that is said, with where to do it by hand", async () => {
  expect((await page({ found: null, known: [] })).textContent).toMatch(/can’t be told .* by hand/);
});
