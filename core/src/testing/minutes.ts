/** Minutes of markets with short sessions, for runs that are held against one another. */
import { makeSeries } from "../market/bars.ts";
import type { SessionCalendar } from "../market/calendar.ts";
import { Random } from "../random.ts";
import { START } from "./bars.ts";

const MINUTE = 60_000;
const DAY = 86_400_000;

const hours = (open: string, close: string): SessionCalendar => ({
  zone: "UTC",
  weekly: [1, 2, 3, 4, 5].map((day) => ({ day, open, close })),
  holidays: [],
  earlyCloses: [],
  sessionsPerYear: 252,
});
/** Two with the same hours, one with others. */
export const CALENDARS = [hours("09:00", "11:00"), hours("09:00", "11:00"), hours("09:30", "10:47")];

/** Minutes of whole sessions on a grid of a quarter, some of them left out. */
export function minutesOf(seed: number, days: number, calendar: SessionCalendar, hasHoles: boolean) {
  const random = new Random(seed);
  const [session] = calendar.weekly as [SessionCalendar["weekly"][0]];
  const at = (text: string): number => Number(text.slice(0, 2)) * 60 + Number(text.slice(3));
  const rows: number[][] = [];
  let price = 400;
  for (let day = 0, made = 0; made < days; day++) {
    const date = START + day * DAY;
    if ([0, 6].includes(new Date(date).getUTCDay())) continue;
    made++;
    for (let minute = at(session.open); minute < at(session.close); minute++) {
      if (hasHoles && random.next() < 0.03) continue;
      const open = Math.max(100, price + (random.next() < 0.05 ? Math.round(random.normal() * 8) : 0));
      const close = Math.max(100, open + Math.round(random.normal() * 3));
      const high = Math.max(open, close) + Math.floor(random.next() * 4);
      const low = Math.min(open, close) - Math.floor(random.next() * 4);
      rows.push([date + minute * MINUTE, open / 4, high / 4, low / 4, close / 4, Math.floor(random.next() * 50)]);
      price = close;
    }
  }
  const column = (k: number): Float64Array => Float64Array.from(rows, (row) => row[k]!);
  return makeSeries(
    { time: column(0), open: column(1), high: column(2), low: column(3), close: column(4), volume: column(5) },
    "1m",
    calendar,
  );
}
