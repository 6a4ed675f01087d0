/** When an instrument trades: weekly sessions in the wall time of its exchange, holidays, early closes. What the bars show can be taken over. */

import type { SessionCalendar, WeeklySession } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { Plus, X } from "lucide-react";
import { useState } from "react";
import { queries } from "../../data/queries.ts";
import { count, percent } from "../../lib/format.ts";
import { ZONES } from "../../lib/zones.ts";
import { Button } from "../../ui/button.tsx";
import { Field, inputClass, Select, TextInput } from "../../ui/field.tsx";
import { NumberField } from "../../ui/number-field.tsx";
import { Failure } from "../../ui/states.tsx";
import { DAYS, datesIn, datesText, earlyIn, earlyText, isWallTime, sessionWords } from "./session-words.ts";

interface CalendarFormProps {
  readonly symbol: string;
  readonly calendar: SessionCalendar;
  readonly onChange: (calendar: SessionCalendar) => void;
}

export function CalendarForm({ symbol, calendar, onChange }: CalendarFormProps) {
  const { zone, weekly, holidays, earlyCloses, sessionsPerYear, isAssumed, names = [] } = calendar;
  const isEarly = (date: string): boolean => earlyCloses.some((close) => close.date === date);
  /** Somebody has said when it trades. */
  const set = (part: Partial<SessionCalendar>): void => onChange({ ...calendar, isAssumed: false, ...part });
  const setSession = (at: number, part: Partial<WeeklySession>): void =>
    set({ weekly: weekly.map((session, k) => (k === at ? { ...session, ...part } : session)) });
  const last = weekly.at(-1);
  return (
    <fieldset className="flex flex-col gap-3 border-rule border-t pt-3">
      <legend className="sr-only">Calendar</legend>
      <div className="flex flex-wrap items-end gap-3">
        <Field label="Zone of the exchange" className="w-56">
          {(id) => (
            <Select id={id} value={zone} onChange={(event) => set({ zone: event.target.value })}>
              {[...new Set([zone, ...ZONES])].map((name) => (
                <option key={name}>{name}</option>
              ))}
            </Select>
          )}
        </Field>
        <NumberField
          label="Sessions a year"
          className="w-24"
          value={sessionsPerYear}
          min={1}
          max={366}
          onChange={(value) => set({ sessionsPerYear: value })}
        />
        <FindSessions symbol={symbol} onTake={(found) => onChange({ ...found, names })} />
      </div>
      {isAssumed ? <p className="text-[13px] text-warn">Its sessions are not known: what depends on them is not judged.</p> : null}
      <div className="grid grid-cols-1 gap-x-6 gap-y-1.5 sm:grid-cols-2">
        {weekly.map((session, k) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a session has no other name
          <div key={k} className="flex items-center gap-1.5">
            <Select
              aria-label={`Day of session ${k + 1}`}
              className="w-20"
              value={session.day}
              onChange={(event) => setSession(k, { day: Number(event.target.value) })}
            >
              {DAYS.map((name, day) => (
                <option key={name} value={day + 1}>
                  {name}
                </option>
              ))}
            </Select>
            <WallTime label={`Session ${k + 1} opens`} value={session.open} onChange={(open) => setSession(k, { open })} />
            to
            <WallTime label={`Session ${k + 1} closes`} value={session.close} onChange={(close) => setSession(k, { close })} />
            <Button
              variant="quiet"
              aria-label={`Remove session ${k + 1}`}
              disabled={weekly.length === 1}
              onClick={() => set({ weekly: weekly.filter((_session, other) => other !== k) })}
            >
              <X size={14} />
            </Button>
          </div>
        ))}
        <Button
          className="w-fit"
          onClick={() =>
            set({ weekly: [...weekly, { day: ((last?.day ?? 0) % 7) + 1, open: last?.open ?? "09:00", close: last?.close ?? "17:00" }] })
          }
        >
          <Plus size={14} /> Session
        </Button>
      </div>
      <div className="grid grid-cols-1 gap-3 sm:grid-cols-2">
        <Dates
          label={`Holidays: ${count(holidays.length, "date")}`}
          hint="a line each: yyyy-mm-dd and its name, or dates alone"
          text={datesText(holidays, names)}
          read={datesIn}
          onChange={(read) => set({ holidays: read.dates, names: [...read.names, ...names.filter(({ date }) => isEarly(date))] })}
        />
        <Dates
          label={`Early closes: ${count(earlyCloses.length, "session")}`}
          hint="a line each: yyyy-mm-dd hh:mm and its name"
          text={earlyText(earlyCloses, names)}
          read={earlyIn}
          onChange={(read) => set({ earlyCloses: read.closes, names: [...names.filter(({ date }) => !isEarly(date)), ...read.names] })}
        />
      </div>
    </fieldset>
  );
}

function WallTime({
  label,
  value,
  onChange,
}: {
  readonly label: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
}) {
  return (
    <TextInput
      aria-label={label}
      className="w-18 text-center"
      value={value}
      maxLength={5}
      aria-invalid={!isWallTime(value)}
      onChange={(event) => onChange(event.target.value)}
    />
  );
}

interface DatesProps<T> {
  readonly label: string;
  readonly hint: string;
  readonly text: string;
  /** null where the text does not read. */
  readonly read: (text: string) => T | null;
  readonly onChange: (value: T) => void;
}

/** Dates as text: what does not read stays as it is written, and is not taken. */
function Dates<T>({ label, hint, text, read, onChange }: DatesProps<T>) {
  const [written, setWritten] = useState<{ readonly text: string; readonly of: string } | null>(null);
  const shown = written && written.of === text ? written.text : text;
  return (
    <Field label={label} hint={hint}>
      {(id) => (
        <textarea
          id={id}
          className={`${inputClass} h-20 resize-y py-1 font-mono text-[12px]`}
          value={shown}
          aria-invalid={read(shown) === null}
          onChange={(event) => {
            setWritten({ text: event.target.value, of: text });
            const value = read(event.target.value);
            if (value !== null) onChange(value);
          }}
          onBlur={() => read(shown) !== null && setWritten(null)}
        />
      )}
    </Field>
  );
}

/** The sessions that the bars show, with how well they fit. */
function FindSessions({ symbol, onTake }: { readonly symbol: string; readonly onTake: (calendar: SessionCalendar) => void }) {
  const { data, error, isFetching, refetch } = useQuery(queries.foundSessions(symbol));
  const find = async (): Promise<void> => {
    const { data: answer } = await refetch();
    if (answer?.found) onTake(answer.found.calendar);
  };
  return (
    <div className="flex min-w-64 flex-1 items-center gap-3 text-[13px]">
      <Button onClick={() => void find()} disabled={isFetching}>
        {isFetching ? "Looking…" : "Find the sessions in the bars"}
      </Button>
      {error ? <Failure error={error} /> : null}
      {data && !isFetching ? (
        <span role="status">
          {data.found
            ? `${sessionWords(data.found.calendar)}: ${percent(data.found.inside)} of the bars lie inside, ${percent(data.found.present)} of the expected ones are there.`
            : "Too few bars, or too long ones, to tell: give the sessions by hand."}
        </span>
      ) : null}
    </div>
  );
}
