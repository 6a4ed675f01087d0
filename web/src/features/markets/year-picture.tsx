/** A year day by day: sessions, early closes, holidays, days without trading. */
import { type DayKind, type SessionCalendar, yearOf } from "@plan-tester/core";
import { useState } from "react";
import { count, dateWords, weekdayWords } from "../../lib/format.ts";
import { cx } from "../../ui/cx.ts";
import { Select } from "../../ui/field.tsx";

const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
const LOOK: Readonly<Record<DayKind, string>> = {
  session: "bg-accent/60",
  "early close": "border border-accent bg-accent-wash",
  holiday: "bg-warn",
  closed: "bg-sunk",
};
const WORDS: Readonly<Record<DayKind, string>> = {
  session: "session",
  "early close": "early close",
  holiday: "holiday",
  closed: "no trading",
};

const dayWords = (kind: DayKind, name: string): string => (name === "" ? WORDS[kind] : `${name}, ${WORDS[kind]}`);

export interface YearPictureProps {
  readonly calendar: SessionCalendar;
  readonly firstDate: string;
  readonly lastDate: string;
}

export function YearPicture({ calendar, firstDate, lastDate }: YearPictureProps) {
  const [from, to] = [Number(firstDate.slice(0, 4)), Number(lastDate.slice(0, 4)) + 1];
  const [year, setYear] = useState(to - 1);
  const days = yearOf(calendar, year);
  const early = new Map(calendar.earlyCloses.map(({ date, close }) => [date, close]));
  const sessions = days.filter(({ kind }) => kind === "session" || kind === "early close").length;
  return (
    <figure className="text-[12px]">
      <figcaption className="mb-1 flex flex-wrap items-center gap-3">
        <Select aria-label="Year" className="w-auto" value={year} onChange={({ target }) => setYear(Number(target.value))}>
          {Array.from({ length: to - from + 1 }, (_none, k) => from + k).map((one) => (
            <option key={one}>{one}</option>
          ))}
        </Select>
        <span>{count(sessions, "session")}</span>
        {(Object.keys(LOOK) as DayKind[]).map((kind) => (
          <span key={kind} className="flex items-center gap-1 text-soft">
            <span className={cx("inline-block h-3 w-3", LOOK[kind])} aria-hidden /> {WORDS[kind]}
          </span>
        ))}
      </figcaption>
      {MONTHS.map((month, k) => (
        <div key={month} className="flex items-center gap-0.5">
          <span className="w-9 text-soft">{month}</span>
          {days
            .filter(({ date }) => Number(date.slice(5, 7)) === k + 1)
            .map(({ date, kind, name }) => {
              const words = `${dateWords(date)}: ${dayWords(kind, name)}${early.has(date) ? `, ${early.get(date)}` : ""}`;
              return <span key={date} title={words} className={cx("h-4 w-4", LOOK[kind])} />;
            })}
        </div>
      ))}
      <ul className="mt-2 flex max-w-xl flex-wrap gap-x-4">
        {days
          .filter(({ kind }) => kind === "holiday" || kind === "early close")
          .map(({ date, kind, name }) => (
            <li key={date}>
              <span className="text-soft">{weekdayWords(date)}</span> {dayWords(kind, name)}
              {early.has(date) ? `, ${early.get(date)}` : ""}
            </li>
          ))}
      </ul>
    </figure>
  );
}
