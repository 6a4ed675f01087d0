/** The instruments of the Sundrey Isles: invented names, real arithmetic. */
import { type Costs, type Instrument, NO_COSTS, type SessionCalendar } from "@plan-tester/core";

const ZONE = "Atlantic/Faroe";
const CURRENCY = "XSC";
const WEEKDAYS = [1, 2, 3, 4, 5];
const YEARS = [2022, 2023, 2024, 2025, 2026, 2027, 2028];

/** First given weekday (0 Sunday .. 6) of a month. */
function firstWeekday(year: number, month: number, weekday: number): string {
  const first = new Date(Date.UTC(year, month - 1, 1)).getUTCDay();
  return new Date(Date.UTC(year, month - 1, 1 + ((weekday - first + 7) % 7))).toISOString().slice(0, 10);
}

const named = (dates: readonly (readonly [name: string, date: (year: number) => string])[]) =>
  YEARS.flatMap((year) => dates.map(([name, date]) => ({ name, date: date(year) })));

const HOLIDAYS = named([
  ["New Year", (year) => `${year}-01-01`],
  ["Gull Monday", (year) => firstWeekday(year, 5, 1)],
  ["Harbour Friday", (year) => firstWeekday(year, 8, 5)],
  ["Midwinter Day", (year) => `${year}-12-25`],
  ["Lantern Day", (year) => `${year}-12-26`],
]);
const EARLY = named([
  ["Midwinter Eve", (year) => `${year}-12-24`],
  ["Year’s End", (year) => `${year}-12-31`],
]);
const datesOf = (days: readonly { readonly date: string }[]): string[] => days.map(({ date }) => date);

function exchange(open: string, close: string, earlyClose: string): SessionCalendar {
  return {
    zone: ZONE,
    weekly: WEEKDAYS.map((day) => ({ day, open, close })),
    holidays: datesOf(HOLIDAYS),
    earlyCloses: datesOf(EARLY).map((date) => ({ date, close: earlyClose })),
    names: [...HOLIDAYS, ...EARLY],
    sessionsPerYear: 252,
  };
}

const FX_HOLIDAYS = HOLIDAYS.filter(({ name }) => name === "New Year" || name === "Midwinter Day");

const roundTheClock: SessionCalendar = {
  zone: "UTC",
  weekly: [7, 1, 2, 3, 4].map((day) => ({ day, open: "22:00", close: "22:00" })),
  holidays: datesOf(FX_HOLIDAYS),
  earlyCloses: [],
  names: FX_HOLIDAYS,
  sessionsPerYear: 258,
};

const costs = (given: Partial<Costs>): Costs => ({ ...NO_COSTS, ...given });
const futureCosts = (commissionPerUnit: number): Costs => costs({ commissionPerUnit, spreadTicks: 1, slippageTicks: 0.5 });
const shareCosts = costs({ commissionPercent: 0.04, commissionMinimum: 2, spreadTicks: 2, slippageTicks: 0.5 });

const base = { currency: CURRENCY, minQuantity: 1, quantityStep: 1 };

export const INSTRUMENTS: readonly Instrument[] = [
  {
    ...base,
    symbol: "KELP",
    name: "Dried-kelp future",
    class: "future",
    tickSize: 0.25,
    pipSize: 0.25,
    pointValue: 40,
    decimals: 2,
    calendar: exchange("07:00", "20:00", "13:00"),
    costs: futureCosts(2.4),
    note: "A part of every move comes back within days.",
  },
  {
    ...base,
    symbol: "BRIN",
    name: "Brine-mineral future",
    class: "future",
    tickSize: 0.05,
    pipSize: 0.05,
    pointValue: 500,
    decimals: 2,
    calendar: exchange("07:00", "20:00", "13:00"),
    costs: futureCosts(2.8),
    note: "What has moved for weeks goes on; calm and wild stretches.",
  },
  {
    ...base,
    symbol: "TIDE",
    name: "Tidal-power future",
    class: "future",
    tickSize: 0.5,
    pipSize: 0.5,
    pointValue: 20,
    decimals: 1,
    calendar: exchange("00:00", "23:00", "13:00"),
    costs: futureCosts(2.1),
    note: "Leans up in the morning and down in the evening, less so in later years.",
  },
  {
    ...base,
    symbol: "AUKL",
    name: "Auk Lines, ferry share",
    class: "share",
    tickSize: 0.01,
    pipSize: 0.01,
    pointValue: 1,
    decimals: 2,
    calendar: exchange("09:00", "16:30", "12:30"),
    costs: shareCosts,
    note: "Opens with gaps; a large first half hour tends to run on.",
  },
  {
    ...base,
    symbol: "PUFN",
    name: "Puffin Provisions, food share",
    class: "share",
    tickSize: 0.01,
    pipSize: 0.01,
    pointValue: 1,
    decimals: 2,
    calendar: exchange("09:00", "16:30", "12:30"),
    costs: shareCosts,
    note: "A quiet upward drift, with jumps at quarterly reports.",
  },
  {
    ...base,
    symbol: "GANN",
    name: "Gannet Salvage, share",
    class: "share",
    tickSize: 0.01,
    pipSize: 0.01,
    pointValue: 1,
    decimals: 2,
    calendar: exchange("09:00", "16:30", "12:30"),
    costs: shareCosts,
    note: "A fair price at every minute: no plan should win here.",
  },
  {
    symbol: "XSC/ORM",
    name: "Sundrey crown against the Orme mark",
    class: "currency",
    currency: CURRENCY,
    tickSize: 0.0001,
    pipSize: 0.0001,
    pointValue: 10_000,
    decimals: 4,
    minQuantity: 0.1,
    quantityStep: 0.1,
    calendar: roundTheClock,
    costs: costs({ commissionPerUnit: 0.3, spreadTicks: 2, slippageTicks: 0.3 }),
    note: "Trends by day, comes back by night; the spread widens at the 22:00 roll.",
  },
];

export function instrumentNamed(symbol: string): Instrument | undefined {
  return INSTRUMENTS.find((instrument) => instrument.symbol === symbol);
}

/** The history that ships: three years of whole sessions, [from, to). The practice venue carries on from its end. */
export const HISTORY_FROM = Date.UTC(2023, 2, 1);
export const HISTORY_TO = Date.UTC(2026, 2, 1);
