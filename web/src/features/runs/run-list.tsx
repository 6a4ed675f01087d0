/** What is told of kept runs in their list, and what can be done with each. */
import type { RUN_SORTS, RunQuery, RunSummary } from "@plan-tester/contract";
import { timeframeLabel } from "@plan-tester/core";
import { Trash2 } from "lucide-react";
import { Link } from "react-router";
import { HERE, money, number, percent, periodWords, timeAt } from "../../lib/format.ts";
import { Amount } from "../../ui/amount.tsx";
import { Button } from "../../ui/button.tsx";
import { asText, type Grid, type GridColumn, idOf, useGrid } from "../../ui/grid/use-grid.ts";
import { Spark } from "../../ui/spark.tsx";

type Column = GridColumn<RunSummary>;
type Sort = (typeof RUN_SORTS)[number];

const FIRST_HIDDEN: readonly string[] = ["totalReturn", "winRate", "averageTrade", "note", "returnToDrawdown"];

const figure = (key: Sort & keyof RunSummary, label: string, show: Column["show"]): Column => ({
  ...{ key, label, width: 84, downFirst: true, show },
  value: (run) => run[key] as number | null,
});

const soft = (text: (run: RunSummary) => string): Pick<Column, "text" | "show" | "className"> => ({
  ...asText(text),
  className: "text-soft",
});

const FACTS: readonly Column[] = [
  { key: "planTitle", label: "Plan", width: 140, left: true, value: ({ planTitle }) => planTitle, show: ({ planTitle }) => planTitle },
  {
    ...{ key: "symbol", label: "Market", width: 128, left: true },
    value: ({ settings }) => settings.symbol,
    text: ({ settings }) => `${settings.symbol} ${timeframeLabel(settings.timeframe)}`,
    show: ({ settings }) => (
      <>
        {settings.symbol} <span className="text-soft">{timeframeLabel(settings.timeframe)}</span>
      </>
    ),
  },
  { key: "period", label: "Period", width: 192, left: true, ...soft(({ settings }) => periodWords(settings)) },
  {
    key: "spark",
    label: "Equity",
    width: 104,
    left: true,
    show: ({ spark, name }) => <Spark values={spark} label={`Equity of ${name}`} />,
  },
  figure("netProfit", "Net", (run) => <Amount value={run.netProfit} />),
  figure("totalReturn", "Return", (run) => percent(run.totalReturn)),
  figure("maxDrawdown", "Drawdown", (run) => money(-run.maxDrawdown)),
  figure("returnToDrawdown", "Net / DD", (run) => number(run.returnToDrawdown, 2)),
  figure("trades", "Trades", (run) => number(run.trades)),
  figure("winRate", "Won", (run) => percent(run.winRate, 0)),
  figure("averageTrade", "Average", (run) => number(run.averageTrade)),
  figure("profitFactor", "PF", (run) => number(run.profitFactor, 2)),
  figure("sharpe", "Sharpe", (run) => number(run.sharpe, 2)),
  { key: "tags", label: "Tags", width: 120, left: true, ...soft(({ tags }) => tags.join(", ")) },
  { key: "note", label: "Note", width: 140, left: true, ...soft(({ note }) => note) },
  {
    ...{ key: "createdMs", label: "Kept", width: 134, left: true, downFirst: true },
    value: ({ createdMs }) => createdMs,
    ...soft(({ createdMs }) => timeAt(createdMs, HERE)),
  },
];

export interface RunGridOptions {
  /** Those that are here so far. */
  readonly runs: readonly RunSummary[];
  readonly total: number;
  readonly chosen: readonly string[];
  readonly query: Partial<RunQuery>;
  readonly onChosen: (chosen: readonly string[]) => void;
  readonly onSort: (sort: Pick<RunQuery, "sort" | "order">) => void;
  readonly onDelete: (run: RunSummary) => void;
}

/** Kept runs as a list, in the order in which the server hands them out. */
export function useRunGrid({ runs, total, chosen, query, onChosen, onSort, onDelete }: RunGridOptions): Grid<RunSummary, string> {
  const columns: Column[] = [
    {
      ...{ key: "choose", label: "", width: 30, left: true, isFixed: true },
      show: ({ id, name }) => (
        <input
          type="checkbox"
          className="block"
          aria-label={`Choose ${name}`}
          checked={chosen.includes(id)}
          onChange={(event) => onChosen(event.target.checked ? [...chosen, id] : chosen.filter((other) => other !== id))}
        />
      ),
    },
    {
      ...{ key: "name", label: `Run (${number(total)})`, name: "Run", width: 170, grows: true, left: true, isFixed: true },
      value: ({ name }) => name,
      show: ({ id, name, note, status }) => (
        <>
          <Link to={`/runs/${id}`} className="font-semibold hover:underline" title={note || name}>
            {name}
          </Link>
          {status === "complete" ? null : <span className="text-warn"> ({status})</span>}
        </>
      ),
    },
    ...FACTS,
    {
      ...{ key: "acts", label: "", width: 36, isFixed: true },
      show: (run) => (
        <Button variant="quiet" className="px-1.5" aria-label={`Delete the run ${run.name}`} onClick={() => onDelete(run)}>
          <Trash2 size={14} aria-hidden />
        </Button>
      ),
    },
  ];
  return useGrid({
    ...{ rows: runs, columns, idOf, name: "runs", firstHidden: FIRST_HIDDEN, isSorted: true },
    sort: { key: query.sort ?? "createdMs", down: query.order !== "up" },
    onSort: ({ key, down }) => onSort({ sort: key as Sort, order: down ? "down" : "up" }),
  });
}
