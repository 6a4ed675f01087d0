/** A month at a time, days outside the bounds switched off. */
import { DayPicker } from "react-day-picker";
import "react-day-picker/style.css";
import { dateOf, dayOf } from "../lib/dates.ts";

export interface CalendarProps {
  /** As 2025-03-03; "" for none. */
  readonly value: string;
  readonly min: string | undefined;
  readonly max: string | undefined;
  readonly onChange: (date: string) => void;
}

export function Calendar({ value, min, max, onChange }: CalendarProps) {
  const [first, last] = [min ? dayOf(min) : undefined, max ? dayOf(max) : undefined];
  const chosen = value ? dayOf(value) : undefined;
  return (
    <DayPicker
      mode="single"
      autoFocus
      weekStartsOn={1}
      captionLayout={first && last ? "dropdown" : "label"}
      className="calendar"
      disabled={[...(first ? [{ before: first }] : []), ...(last ? [{ after: last }] : [])]}
      onSelect={(day) => day && onChange(dateOf(day))}
      {...(chosen ? { selected: chosen } : {})}
      {...((chosen ?? last) ? { defaultMonth: chosen ?? last! } : {})}
      {...(first ? { startMonth: first } : {})}
      {...(last ? { endMonth: last } : {})}
    />
  );
}
