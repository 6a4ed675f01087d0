/** A moment as it is shown, in some zone; under the pointer which zone that is, and what the viewer's own clock said. */
import { clockAt, dayAt, HERE, timeAt } from "../lib/format.ts";
import type { GridColumn } from "./grid/use-grid.ts";

/** "Atlantic/Faroe; 12:15 on … where you are (Europe/…)": only the zone where it is the viewer's own. */
export function clockWords(ms: number, zone: string, here = HERE): string {
  if (zone === here) return zone;
  const [shown, own] = [timeAt(ms, zone), timeAt(ms, here)];
  return shown === own ? zone : `${zone}; where you are (${here}): ${own}`;
}

/** The same for what stands under the pointer already: " (12:15 where you are)", nothing where clocks agree. */
export function ownTimeWords(ms: number, zone: string, here = HERE): string {
  const [shown, own] = [timeAt(ms, zone), timeAt(ms, here)];
  if (shown === own) return "";
  return ` (${dayAt(ms, zone) === dayAt(ms, here) ? clockAt(ms, here) : own} where you are)`;
}

export function At({ ms, zone, className }: { readonly ms: number; readonly zone: string; readonly className?: string }) {
  return (
    <time dateTime={new Date(ms).toISOString()} title={clockWords(ms, zone)} className={className}>
      {timeAt(ms, zone)}
    </time>
  );
}

/** Of a column of moments: copied as they are read. */
export const asTime = <Row,>(of: (row: Row) => number, zone: string): Pick<GridColumn<Row>, "text" | "show"> => ({
  text: (row) => timeAt(of(row), zone),
  show: (row) => <At ms={of(row)} zone={zone} />,
});
