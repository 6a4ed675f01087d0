/** The sessions of a week, a row a day, from midnight to midnight of the exchange. */
import { minutesOfDay, type SessionCalendar } from "@plan-tester/core";
import { DAYS } from "./session-words.ts";

const DAY_MINUTES = 1440;
const HOURS = [0, 3, 6, 9, 12, 15, 18, 21, 24];

interface Stretch {
  readonly from: number;
  readonly to: number;
  readonly words: string;
}

/** What is traded on each day of the week, a session over midnight on both. */
export function stretchesOf({ weekly }: Pick<SessionCalendar, "weekly">): readonly (readonly Stretch[])[] {
  const days: Stretch[][] = DAYS.map(() => []);
  for (const { day, open, close } of weekly) {
    const [from, end] = [minutesOfDay(open), minutesOfDay(close)];
    const words = `${DAYS[day - 1]} ${open}–${close}`;
    if (end > from) days[day - 1]!.push({ from, to: end, words });
    else {
      days[day - 1]!.push({ from, to: DAY_MINUTES, words });
      if (end > 0) days[day % 7]!.push({ from: 0, to: end, words });
    }
  }
  return days;
}

const percent = (minutes: number): string => `${(minutes / DAY_MINUTES) * 100}%`;

export function WeekPicture({ calendar }: { readonly calendar: SessionCalendar }) {
  return (
    <figure className="max-w-3xl text-[12px]">
      <figcaption className="sr-only">Sessions of a week</figcaption>
      {stretchesOf(calendar).map((stretches, day) => (
        <div key={DAYS[day]} className="flex h-6 items-center gap-2">
          <span className="w-9 text-soft">{DAYS[day]}</span>
          <div className="relative h-4 flex-1 bg-sunk">
            {stretches.map(({ from, to, words }) => (
              <span
                key={`${from} ${words}`}
                title={words}
                className="absolute inset-y-0 bg-accent"
                style={{ left: percent(from), width: percent(to - from) }}
              >
                <span className="sr-only">{words}</span>
              </span>
            ))}
          </div>
        </div>
      ))}
      <div className="flex gap-2 text-soft" aria-hidden>
        <span className="w-9" />
        <div className="relative h-4 flex-1">
          {HOURS.map((hour) => (
            <span key={hour} className="absolute -translate-x-1/2" style={{ left: percent(hour * 60) }}>
              {String(hour).padStart(2, "0")}
            </span>
          ))}
        </div>
      </div>
    </figure>
  );
}
