/** The bars of an instrument as a list: what stands behind its chart. */
import { DAY_MS, lowerBound } from "@plan-tester/core";
import { useMemo } from "react";
import { fileName } from "../../lib/files.ts";
import { count, number, priceText, timeAt } from "../../lib/format.ts";
import { useKept } from "../../lib/kept.ts";
import { Select } from "../../ui/field.tsx";
import { Grid } from "../../ui/grid/grid.tsx";
import { GridTools } from "../../ui/grid/grid-tools.tsx";
import { asText, type GridColumn, type GridSort, useGrid } from "../../ui/grid/use-grid.ts";

const PRICES = ["open", "high", "low", "close"] as const;
export type BarColumns = Readonly<Record<"time" | "closeTime" | (typeof PRICES)[number] | "volume", Float64Array>>;

export interface BarsListProps {
  readonly symbol: string;
  readonly timeframe: string;
  readonly bars: BarColumns;
  readonly zone: string;
  readonly decimals: number;
  /** Shows a bar on the chart. */
  readonly onOpen: (bar: number) => void;
}

const NEWEST: GridSort = { key: "time", down: true };
/** A bar is known by its place. */
const idOf = (bar: number): number => bar;

/** A list of a million bars would take seconds to come up: it holds those of a year. */
function yearsOf(time: Float64Array, zone: string): { readonly label: string; readonly from: number; readonly to: number }[] {
  const format = new Intl.DateTimeFormat("en-GB", { timeZone: zone, year: "numeric" });
  const years: { label: string; from: number; to: number }[] = [];
  for (let from = 0; from < time.length; ) {
    const label = format.format(time[from]);
    // No year in any zone begins more than a day away from the one in UTC.
    let to = Math.max(from + 1, lowerBound(time, Date.UTC(Number(label) + 1, 0, 1) - DAY_MS));
    while (to < time.length && format.format(time[to]) === label) to++;
    years.push({ label, from, to });
    from = to;
  }
  return years;
}

export function BarsList({ symbol, timeframe, bars, zone, decimals, onOpen }: BarsListProps) {
  const name = `${symbol} ${timeframe}`;
  const [sort, onSort] = useKept(`bars sort ${name}`, NEWEST);
  const [selected, onSelect] = useKept<number | null>(`bar ${name}`, null);
  const years = useMemo(() => yearsOf(bars.time, zone), [bars, zone]);
  const [year, setYear] = useKept(`bars year ${name}`, years.length - 1);
  const rows = useMemo(() => {
    const { from, to } = years[year] ?? { from: 0, to: 0 };
    return Array.from({ length: to - from }, (_, k) => from + k);
  }, [years, year]);
  const columns = useMemo<GridColumn<number>[]>(() => {
    const time = (key: "time" | "closeTime", label: string): GridColumn<number> => ({
      ...{ key, label, width: 150, left: true, downFirst: true, value: (bar) => bars[key][bar] },
      ...asText((bar) => timeAt(bars[key][bar]!, zone)),
    });
    return [
      time("time", "Begins"),
      time("closeTime", "Closes"),
      ...PRICES.map((key) => ({
        ...{ key, label: `${key[0]!.toUpperCase()}${key.slice(1)}`, width: 90 },
        value: (bar: number) => bars[key][bar],
        show: (bar: number) => priceText(bars[key][bar], decimals),
      })),
      {
        ...{ key: "volume", label: "Volume", width: 90, downFirst: true },
        value: (bar) => bars.volume[bar],
        show: (bar) => number(bars.volume[bar]),
      },
    ];
  }, [bars, zone, decimals]);
  const grid = useGrid({ rows, columns, idOf, name: "bars", sort, onSort });
  return (
    <div className="flex min-h-0 min-w-0 flex-1 flex-col">
      <div className="flex items-center gap-2 border-rule border-b px-3 py-1">
        <Select aria-label="Year" className="w-auto" value={year} onChange={(event) => setYear(Number(event.target.value))}>
          {years.map(({ label, from, to }, k) => (
            <option key={label} value={k}>
              {label}: {count(to - from, "bar")}
            </option>
          ))}
        </Select>
        <span className="text-[13px] text-soft">Times of {zone}. A double click or Enter shows a bar on the chart.</span>
        <span className="flex-1" />
        <GridTools grid={grid} file={fileName(symbol, " bars.csv")} />
      </div>
      <Grid label={`Bars of ${symbol}`} grid={grid} choice={{ selected, onSelect, onOpen, clickChooses: true }} />
    </div>
  );
}
