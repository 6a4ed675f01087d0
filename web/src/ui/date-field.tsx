/** A date, written in words or chosen in a calendar; the same form in every browser. */
import { CalendarDays } from "lucide-react";
import { type KeyboardEvent, lazy, Suspense, useId, useState } from "react";
import { readDate, shifted } from "../lib/dates.ts";
import { dateWords } from "../lib/format.ts";
import { Button } from "./button.tsx";
import { TextInput } from "./field.tsx";
import { Popover } from "./popover.tsx";

export interface DateFieldProps {
  readonly id?: string;
  readonly "aria-label"?: string;
  /** As 2025-03-03; "" for none. */
  readonly value: string;
  readonly min?: string | undefined;
  readonly max?: string | undefined;
  readonly placeholder?: string;
  readonly className?: string;
  /** Told of every date that is whole and inside the bounds. */
  readonly onChange: (date: string) => void;
}

const Calendar = lazy(async () => ({ default: (await import("./calendar.tsx")).Calendar }));

const STEPS: Readonly<Record<string, { readonly days?: number; readonly months?: number }>> = {
  ArrowUp: { days: 1 },
  ArrowDown: { days: -1 },
  PageUp: { months: 1 },
  PageDown: { months: -1 },
};

function outside(date: string, min: string | undefined, max: string | undefined): string {
  if (min && date < min) return `The first is ${dateWords(min)}.`;
  return max && date > max ? `The last is ${dateWords(max)}.` : "";
}

export function DateField({ value, min, max, placeholder = "3 Mar 2025", className, onChange, ...named }: DateFieldProps) {
  /** What was written while the value was `of`: another value from elsewhere is shown as it is. */
  const [written, setWritten] = useState<{ readonly text: string; readonly of: string } | null>(null);
  const isOfNow = written !== null && (written.of === value || readDate(written.text) === value);
  const text = isOfNow ? written.text : null;
  const [isLeft, setLeft] = useState(false);
  const [isOpen, setOpen] = useState(false);
  const problemId = useId();
  const date = text === null ? value : readDate(text);
  const unread = isLeft && text?.trim() ? "Write a date as 3 Mar 2025 or 2025-03-03." : "";
  const problem = date ? outside(date, min, max) : unread;
  const take = (next: string): void => {
    if (next !== value && !outside(next, min, max)) onChange(next);
  };
  const write = (next: string): void => {
    setWritten({ text: next, of: value });
    const read = readDate(next);
    if (read) take(read);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const step = STEPS[event.key];
    if (!step || !date) return;
    event.preventDefault();
    const next = shifted(date, step);
    if (!outside(next, min, max)) write(dateWords(next));
  };
  return (
    <div className={className}>
      <div className="flex items-center gap-0.5">
        <TextInput
          {...named}
          className="min-w-0"
          placeholder={placeholder}
          autoComplete="off"
          value={text ?? (value ? dateWords(value) : "")}
          aria-invalid={problem !== ""}
          aria-describedby={problem ? problemId : undefined}
          onChange={(event) => write(event.target.value)}
          onFocus={() => setLeft(false)}
          onBlur={() => {
            setLeft(true);
            if (text?.trim() === "" || (date && !problem)) setWritten(null);
          }}
          onKeyDown={onKeyDown}
        />
        <Popover
          align="end"
          label="Calendar"
          open={isOpen}
          onOpen={setOpen}
          trigger={
            <Button variant="quiet" className="px-1" aria-label="Choose in a calendar">
              <CalendarDays size={14} aria-hidden />
            </Button>
          }
        >
          <Suspense fallback={null}>
            <Calendar
              {...{ min, max }}
              value={date ?? value}
              onChange={(next) => {
                setWritten(null);
                setOpen(false);
                take(next);
              }}
            />
          </Suspense>
        </Popover>
      </div>
      {problem ? (
        <p id={problemId} role="alert" className="mt-1 text-[12px] text-loss">
          {problem}
        </p>
      ) : null}
    </div>
  );
}
