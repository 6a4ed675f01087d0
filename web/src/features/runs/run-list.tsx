/** The list of kept runs: only what is on screen is drawn, more is asked for as one scrolls. */
import type { RUN_SORTS, RunQuery, RunSummary } from "@plan-tester/contract";
import { timeframeLabel } from "@plan-tester/core";
import { useVirtualizer } from "@tanstack/react-virtual";
import { Trash2 } from "lucide-react";
import { type ReactNode, useEffect, useRef } from "react";
import { Link } from "react-router";
import { HERE, money, number, percent, periodWords, timeAt } from "../../lib/format.ts";
import { Amount } from "../../ui/amount.tsx";
import { Button } from "../../ui/button.tsx";
import { cx } from "../../ui/cx.ts";
import { Spark } from "../../ui/spark.tsx";

const ROW = 32;
const [CHOOSE, NAME, ACTS] = [30, 170, 36];

export interface RunColumn {
  readonly key: string;
  readonly label: string;
  /** Pixels. */
  readonly width: number;
  readonly sort?: (typeof RUN_SORTS)[number];
  readonly right?: boolean;
  readonly show: (run: RunSummary) => ReactNode;
}

const figure = (sort: (typeof RUN_SORTS)[number], label: string, show: RunColumn["show"]): RunColumn => ({
  key: sort,
  sort,
  label,
  width: 84,
  right: true,
  show,
});

export const RUN_COLUMNS: readonly RunColumn[] = [
  { key: "planTitle", sort: "planTitle", label: "Plan", width: 140, show: (run) => run.planTitle },
  {
    key: "symbol",
    sort: "symbol",
    label: "Market",
    width: 112,
    show: (run) => (
      <>
        {run.settings.symbol} <span className="text-soft">{timeframeLabel(run.settings.timeframe)}</span>
      </>
    ),
  },
  {
    key: "period",
    label: "Period",
    width: 178,
    show: ({ settings }) => <span className="text-soft">{periodWords(settings)}</span>,
  },
  { key: "spark", label: "Equity", width: 104, show: (run) => <Spark values={run.spark} label={`Equity of ${run.name}`} /> },
  figure("netProfit", "Net", (run) => <Amount value={run.netProfit} />),
  figure("totalReturn", "Return", (run) => percent(run.totalReturn)),
  figure("maxDrawdown", "Drawdown", (run) => money(-run.maxDrawdown)),
  figure("returnToDrawdown", "Net / DD", (run) => number(run.returnToDrawdown, 2)),
  figure("trades", "Trades", (run) => number(run.trades)),
  figure("winRate", "Won", (run) => percent(run.winRate, 0)),
  figure("averageTrade", "Average", (run) => number(run.averageTrade)),
  figure("profitFactor", "PF", (run) => number(run.profitFactor, 2)),
  figure("sharpe", "Sharpe", (run) => number(run.sharpe, 2)),
  { key: "tags", label: "Tags", width: 120, show: (run) => <span className="text-soft">{run.tags.join(", ")}</span> },
  { key: "note", label: "Note", width: 140, show: (run) => <span className="text-soft">{run.note}</span> },
  {
    key: "createdMs",
    sort: "createdMs",
    label: "Kept",
    width: 134,
    show: (run) => <span className="text-soft">{timeAt(run.createdMs, HERE)}</span>,
  },
];
export interface RunListProps {
  readonly runs: readonly RunSummary[];
  readonly total: number;
  readonly columns: readonly RunColumn[];
  readonly chosen: readonly string[];
  readonly query: Partial<RunQuery>;
  readonly onChosen: (chosen: readonly string[]) => void;
  readonly onSort: (sort: (typeof RUN_SORTS)[number]) => void;
  readonly onMore: () => void;
  readonly onDelete: (run: RunSummary) => void;
}

export function RunList({ runs, total, columns, chosen, query, onChosen, onSort, onMore, onDelete }: RunListProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({ count: total, getScrollElement: () => scroller.current, estimateSize: () => ROW, overscan: 10 });
  const items = virtual.getVirtualItems();
  const last = items.at(-1)?.index ?? 0;
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked for as one scrolls there
  useEffect(() => {
    if (last >= runs.length - 1 && runs.length < total) onMore();
  }, [last, runs.length, total]);
  const widths = columns.reduce((sum, { width }) => sum + width, CHOOSE + NAME + ACTS);
  const grid = {
    gridTemplateColumns: `${CHOOSE}px minmax(${NAME}px,1fr) ${columns.map(({ width }) => `${width}px`).join(" ")} ${ACTS}px`,
    minWidth: widths,
  };
  return (
    <div
      ref={scroller}
      role="table"
      aria-label="Kept runs"
      aria-rowcount={total}
      className="h-full overflow-auto text-[13px]"
      data-testid="run-list"
    >
      <div role="row" className="sticky top-0 z-10 grid border-rule border-b bg-ground text-soft" style={grid}>
        <span role="columnheader">
          <span className="sr-only">Choose</span>
        </span>
        <SortHead label={`Run (${number(total)})`} sort="name" query={query} onSort={onSort} />
        {columns.map(({ key, label, sort, right }) => (
          <SortHead key={key} label={label} query={query} onSort={onSort} {...(sort ? { sort } : {})} {...(right ? { right } : {})} />
        ))}
        <span role="columnheader">
          <span className="sr-only">Actions</span>
        </span>
      </div>
      <div style={{ height: virtual.getTotalSize(), position: "relative" }}>
        {items.map(({ index, start }) => {
          const run = runs[index];
          return (
            <div
              key={run?.id ?? index}
              role="row"
              aria-rowindex={index + 1}
              className="absolute left-0 grid w-full items-center border-rule/60 border-b hover:bg-sunk"
              style={{ ...grid, height: ROW, transform: `translateY(${start}px)` }}
            >
              {run ? (
                <>
                  <span role="cell" className="pl-2">
                    <input
                      type="checkbox"
                      aria-label={`Choose ${run.name}`}
                      checked={chosen.includes(run.id)}
                      onChange={(event) => onChosen(event.target.checked ? [...chosen, run.id] : chosen.filter((id) => id !== run.id))}
                    />
                  </span>
                  <span role="cell" className="truncate px-2">
                    <Link to={`/runs/${run.id}`} className="font-semibold hover:underline" title={run.note || run.name}>
                      {run.name}
                    </Link>
                    {run.status === "complete" ? null : <span className="text-warn"> ({run.status})</span>}
                  </span>
                  {columns.map(({ key, right, show }) => (
                    <span key={key} role="cell" className={cx("truncate px-2", right && "text-right")}>
                      {show(run)}
                    </span>
                  ))}
                  <span role="cell">
                    <Button variant="quiet" className="px-1.5" aria-label={`Delete the run ${run.name}`} onClick={() => onDelete(run)}>
                      <Trash2 size={14} aria-hidden />
                    </Button>
                  </span>
                </>
              ) : (
                <span role="cell" className="col-span-full px-3 text-faint">
                  loading …
                </span>
              )}
            </div>
          );
        })}
      </div>
    </div>
  );
}

interface SortHeadProps {
  readonly label: string;
  readonly sort?: (typeof RUN_SORTS)[number];
  readonly right?: boolean;
  readonly query: Partial<RunQuery>;
  readonly onSort: (sort: (typeof RUN_SORTS)[number]) => void;
}

function SortHead({ label, sort, right, query, onSort }: SortHeadProps) {
  const isOn = sort !== undefined && query.sort === sort;
  const look = cx("truncate px-2 py-1.5", right ? "text-right" : "text-left");
  if (!sort)
    return (
      <span role="columnheader" className={look}>
        {label}
      </span>
    );
  return (
    <span role="columnheader" aria-sort={isOn ? (query.order === "up" ? "ascending" : "descending") : "none"} className="min-w-0">
      <button type="button" className={cx(look, "w-full hover:text-ink")} onClick={() => onSort(sort)}>
        {label}
        {isOn ? (query.order === "up" ? " ↑" : " ↓") : ""}
      </button>
    </span>
  );
}
