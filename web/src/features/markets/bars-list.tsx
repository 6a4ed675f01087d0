/** The bars of an instrument as a list: what stands behind its chart. */
import type { Market } from "@plan-tester/contract";
import { DAY_MS, lowerBound } from "@plan-tester/core";
import { useMemo } from "react";
import { fileName } from "../../lib/files.ts";
import { count, number, priceText, rangeDecimals } from "../../lib/format.ts";
import { useKept } from "../../lib/kept.ts";
import { asTime } from "../../ui/at.tsx";
import { Select } from "../../ui/field.tsx";
import { Grid } from "../../ui/grid/grid.tsx";
import { GridTools } from "../../ui/grid/grid-tools.tsx";
import { asText, type GridColumn, type GridSort, useGrid } from "../../ui/grid/use-grid.ts";
import type { StudyColumn } from "./use-study-columns.ts";

const PRICES = ["open", "high", "low", "close"] as const;
export type BarColumns = Readonly<Record<"time" | "closeTime" | (typeof PRICES)[number] | "volume", Float64Array>>;

export interface BarsListProps {
  readonly market: Market;
  readonly timeframe: string;
  readonly bars: BarColumns;
  readonly zone: string;
  /** Columns beside the bars' own; a condition says yes or no. */
  readonly studies: readonly StudyColumn[];
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

const ANY = "";

const yesOrNo = (value: number): string => (Number.isNaN(value) ? "" : value === 1 ? "yes" : "no");

/** A study as a column of a list. */
function columnOf({ study, kind, values }: StudyColumn, decimals: number): GridColumn<number> {
  const at = (bar: number): number => values?.[bar] ?? Number.NaN;
  const digits = Math.max(decimals, rangeDecimals(values ?? []));
  const shared = { key: study, label: study, width: 130, downFirst: true, value: at };
  if (kind !== "number") return { ...shared, ...asText((bar) => yesOrNo(at(bar))) };
  return { ...shared, show: (bar) => (Number.isNaN(at(bar)) ? "" : number(at(bar), digits)) };
}

export function BarsList({ market, timeframe, bars, zone, studies, onOpen }: BarsListProps) {
  const { symbol, decimals } = market.instrument;
  const name = `${symbol} ${timeframe}`;
  const [sort, onSort] = useKept(`bars sort ${name}`, NEWEST);
  const [selected, onSelect] = useKept<number | null>(`bar ${name}`, null);
  const years = useMemo(() => yearsOf(bars.time, zone), [bars, zone]);
  const [year, setYear] = useKept(`bars year ${name}`, years.length - 1);
  const [only, setOnly] = useKept(`bars only ${name}`, ANY);
  const conditions = studies.filter(({ kind }) => kind !== null && kind !== "number");
  const holding = conditions.find(({ study }) => study === only)?.values ?? null;
  const rows = useMemo(() => {
    const { from, to } = years[year] ?? { from: 0, to: 0 };
    const all = Array.from({ length: to - from }, (_, k) => from + k);
    return holding ? all.filter((bar) => holding[bar] === 1) : all;
  }, [years, year, holding]);
  const columns = useMemo<GridColumn<number>[]>(() => {
    const time = (key: "time" | "closeTime", label: string): GridColumn<number> => ({
      ...{ key, label, width: 150, left: true, downFirst: true, value: (bar) => bars[key][bar] },
      ...asTime((bar: number) => bars[key][bar]!, zone),
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
      ...studies.map((study) => columnOf(study, decimals)),
    ];
  }, [bars, zone, decimals, studies]);
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
        {conditions.length > 0 ? (
          <Select
            aria-label="Bars where"
            className="w-auto max-w-72"
            value={holding ? only : ANY}
            onChange={({ target }) => setOnly(target.value)}
          >
            <option value={ANY}>all of them</option>
            {conditions.map(({ study }) => (
              <option key={study} value={study}>
                where {study}
              </option>
            ))}
          </Select>
        ) : null}
        {holding ? <span className="whitespace-nowrap text-[13px]">{count(rows.length, "bar")}</span> : null}
        <span className="min-w-0 truncate text-[13px] text-soft">Times of {zone}. A double click or Enter shows a bar on the chart.</span>
        <span className="flex-1" />
        <GridTools grid={grid} file={fileName(symbol, " bars.csv")} />
      </div>
      <Grid label={`Bars of ${symbol}`} grid={grid} choice={{ selected, onSelect, onOpen, clickChooses: true }} />
    </div>
  );
}
