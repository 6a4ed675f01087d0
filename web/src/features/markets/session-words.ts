import type { SessionCalendar } from "@plan-tester/core";

const DAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];

/** "Mon–Fri 07:00–20:00 Atlantic/Faroe". */
export function sessionWords({ weekly, zone }: SessionCalendar): string {
  const hours = new Set(weekly.map(({ open, close }) => `${open}–${close}`));
  const days = weekly.map(({ day }) => day);
  const consecutive = days.every((day, i) => i === 0 || day === (days[i - 1]! % 7) + 1);
  const dayWords =
    days.length > 1 && consecutive ? `${DAYS[days[0]! - 1]}–${DAYS[days.at(-1)! - 1]}` : days.map((day) => DAYS[day - 1]).join(", ");
  return `${dayWords} ${hours.size === 1 ? [...hours][0] : "at several hours"} ${zone}`;
}
