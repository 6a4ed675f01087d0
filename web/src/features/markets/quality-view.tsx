/** What is doubtful about the bars of an instrument: its history as a map, and a list of what was found. */
import type { Market } from "@plan-tester/contract";
import type { Doubt, Finding } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { messageOf } from "../../data/api.ts";
import { queries } from "../../data/queries.ts";
import { fileName } from "../../lib/files.ts";
import { number } from "../../lib/format.ts";
import { useKept } from "../../lib/kept.ts";
import { asTime } from "../../ui/at.tsx";
import { Button } from "../../ui/button.tsx";
import { cx } from "../../ui/cx.ts";
import { Grid } from "../../ui/grid/grid.tsx";
import { GridTools } from "../../ui/grid/grid-tools.tsx";
import { type GridColumn, type GridSort, useGrid } from "../../ui/grid/use-grid.ts";
import { Failure, Loading } from "../../ui/states.tsx";
import { CoverageMap } from "./coverage-map.tsx";
import { type Coverage, coverageOf, kindsOf, qualityWords } from "./quality.ts";
import { RepairDialog } from "./repair-dialog.tsx";
import { RepairsList } from "./repairs-list.tsx";

interface QualityViewProps {
  readonly market: Market;
  /** Shows a time on the chart. */
  readonly onOpen: (timeMs: number) => void;
}

export function QualityView({ market, onOpen }: QualityViewProps) {
  const { symbol } = market.instrument;
  const { data, error } = useQuery(queries.quality(symbol));
  const coverage = useMemo(() => data && coverageOf(data), [data]);
  if (error) return <Failure error={error} />;
  return coverage ? <Found {...{ market, coverage, onOpen }} /> : <Loading what="what is doubtful about the bars" />;
}

const FIRST: GridSort = { key: "from", down: false };

function Found({ market, coverage, onOpen }: QualityViewProps & { readonly coverage: Coverage }) {
  const { instrument, timeframe, firstMs } = market;
  const { symbol } = instrument;
  const [isRepairing, setRepairing] = useState(false);
  const { findings, zone, dates } = coverage;
  const [sort, onSort] = useKept(`findings sort ${symbol}`, FIRST);
  const [selected, onSelect] = useKept<string | null>(`finding ${symbol}`, null);
  const [wanted, setWanted] = useKept<Doubt | null>(`finding kind ${symbol}`, null);
  const kinds = kindsOf(coverage);
  // Case: the last of its kind has been repaired.
  const only = kinds.some(({ kind }) => kind === wanted) ? wanted : null;
  const rows = useMemo(() => findings.flatMap(({ kind }, k) => (only === null || kind === only ? [k] : [])), [findings, only]);
  /** It stays what it is where others are repaired. */
  const idOf = (row: number): string => `${findings[row]!.kind} ${findings[row]!.fromMs}`;
  const columns = useMemo<GridColumn<number>[]>(() => {
    const of = (row: number): Finding => findings[row]!;
    return [
      { key: "kind", label: "What", width: 120, left: true, value: (row) => of(row).kind, show: (row) => of(row).kind },
      {
        ...{ key: "from", label: "From", width: 150, left: true, value: (row) => of(row).fromMs },
        ...asTime((row: number) => of(row).fromMs, zone),
      },
      {
        ...{ key: "to", label: "To", width: 150, left: true, value: (row) => of(row).toMs },
        ...asTime((row: number) => of(row).toMs, zone),
      },
      { key: "bars", label: "Bars", width: 70, downFirst: true, value: (row) => of(row).bars, show: (row) => number(of(row).bars) },
      { key: "text", label: "Why", width: 420, grows: true, left: true, value: (row) => of(row).text, show: (row) => of(row).text },
    ];
  }, [findings, zone]);
  const grid = useGrid({ rows, columns, idOf, name: "findings", sort, onSort });
  const find = (id: string | null): Finding | undefined => findings[rows.find((row) => idOf(row) === id) ?? -1];
  const chosen = find(selected);
  return (
    <div className="flex min-h-0 min-w-0 flex-1 flex-col">
      <div className="shrink-0 px-4 pt-3 pb-2">
        <p className="pb-1 font-semibold">{qualityWords(coverage)}</p>
        {dates.length > 0 ? <CoverageMap coverage={coverage} onOpen={onOpen} /> : null}
      </div>
      <div className="flex flex-wrap items-center gap-1.5 border-rule border-y px-3 py-1">
        {kinds.map(({ kind, count }) => (
          <button
            key={kind}
            type="button"
            aria-pressed={only === kind}
            className={cx("rounded border border-rule px-2 py-0.5 text-[13px]", only === kind && "bg-accent text-on-accent")}
            onClick={() => setWanted(only === kind ? null : kind)}
          >
            {kind} {number(count)}
          </button>
        ))}
        <span className="text-[13px] text-soft">Times of {zone}. A double click or Enter shows a stretch on the chart.</span>
        <span className="flex-1" />
        <Button variant="primary" disabled={chosen === undefined} onClick={() => setRepairing(true)}>
          Repair
        </Button>
        <GridTools grid={grid} file={fileName(symbol, " doubtful.csv")} />
      </div>
      {rows.length > 0 ? (
        <Grid
          label={`Doubtful bars of ${symbol}`}
          grid={grid}
          choice={{ selected, onSelect, onOpen: (id) => onOpen(find(id)!.fromMs), clickChooses: true }}
        />
      ) : (
        <p className="flex-1 p-4 text-soft">No gap, spike, stuck or misplaced price was found.</p>
      )}
      <RepairsList symbol={symbol} zone={zone} />
      {isRepairing && chosen ? (
        <RepairDialog {...{ instrument, timeframe, zone, firstMs }} finding={chosen} onClose={() => setRepairing(false)} />
      ) : null}
    </div>
  );
}

/** The same in a few words, where an instrument is described. */
export function QualityNote({ symbol, onOpen }: { readonly symbol: string; readonly onOpen: () => void }) {
  const { data, error } = useQuery(queries.quality(symbol));
  if (error) return <span className="text-loss">{messageOf(error)}</span>;
  if (!data) return <span className="text-soft">looked at now</span>;
  const { length } = data.meta.findings;
  if (length === 0) return <>nothing</>;
  return (
    <button type="button" className="text-loss underline" onClick={onOpen}>
      {number(length)} {length === 1 ? "stretch" : "stretches"}
    </button>
  );
}
