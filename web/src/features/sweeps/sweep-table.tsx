/** Variants ranked by any column; in-sample and out-of-sample figures stand apart and are never blended. */
import { SYMBOL_AXIS, TIMEFRAME_AXIS } from "@plan-tester/contract";
import { type ReactNode, useDeferredValue, useMemo, useState } from "react";
import { messageOf } from "../../data/api.ts";
import { SWEEP_DEFINITIONS } from "../../lib/aims.ts";
import { number, percent } from "../../lib/format.ts";
import { Select, TextInput } from "../../ui/field.tsx";
import { Grid } from "../../ui/grid/grid.tsx";
import { GridTools } from "../../ui/grid/grid-tools.tsx";
import { type GridColumn, type GridSort, useGrid } from "../../ui/grid/use-grid.ts";
import { type SweepViewProps, valueText, WIDTH } from "./sweep-view.ts";
import { BY_AIM, byColumn, byInput, type TableFilter, tableRows } from "./table-rows.ts";

export interface SweepTableProps extends SweepViewProps {
  readonly onOpen: (variant: number, stretch: 0 | 1) => void;
  /** Whether scores are shares of the settings, as a blend's are. */
  readonly isBlend: boolean;
  /** Each stretch in words. */
  readonly periods: readonly string[];
}

const MARKET_AXES = [SYMBOL_AXIS, TIMEFRAME_AXIS];
const SHOWN = ["netProfit", "maxDrawdown", "returnToDrawdown", "trades", "profitFactor", "sharpe"];

/** A variant is known by its number. */
const idOf = (variant: number): number => variant;

type Column = GridColumn<number>;
type ColumnsOf = Pick<SweepTableProps, "inputs" | "linked" | "variants" | "figures" | "stretches" | "scores" | "isBlend" | "periods">;

function columnsOf({ inputs, linked, variants, figures, stretches, scores, isBlend, periods }: ColumnsOf): Column[] {
  const input = (name: string, label: string, sorts: boolean): Column => ({
    ...{ key: byInput(name), label, width: 88, sorts, className: "font-semibold" },
    value: (variant) => variants[variant]![name],
    show: (variant) => valueText(variants[variant]![name]),
  });
  const groups = ([0, 1] as const).map((stretch) => ({
    key: String(stretch),
    head: (
      <span className={stretch === 0 ? "font-semibold text-accent" : "font-semibold text-loss"}>
        {stretch === 0 ? "In-sample" : "Out-of-sample"} <span className="font-normal text-soft">{periods[stretch]}</span>
      </span>
    ),
  }));
  const figure = (stretch: 0 | 1, i: number): Column => {
    const { key, label, more, text } = SWEEP_DEFINITIONS[i]!;
    const at = stretch * WIDTH + i;
    const valueAt = (variant: number): number => figures[variant * WIDTH * stretches + at]!;
    return {
      ...{ key: byColumn(at), label, name: stretch === 0 ? label : `${label}, out-of-sample`, width: 84, value: valueAt },
      downFirst: more !== false,
      group: groups[stretch]!,
      show: (variant) => {
        const value = valueAt(variant);
        return key === "netProfit" ? <span className={value >= 0 ? "text-gain" : "text-loss"}>{text(value)}</span> : text(value);
      },
    };
  };
  return [
    { key: "rank", label: "Rank", width: 44, isFixed: true, className: "text-soft", show: (_variant, index) => index + 1 },
    ...(scores
      ? [
          {
            ...{ key: BY_AIM, label: "Aim", width: 72, downFirst: true },
            value: (variant: number) => scores[variant],
            show: (variant: number) => (isBlend ? percent(scores[variant], 0) : number(scores[variant], 2)),
          },
        ]
      : []),
    ...inputs.map(({ name, label }) => input(name, label, true)),
    ...linked.map(({ name, label }) => input(name, label, false)),
    ...([0, 1] as const)
      .slice(0, stretches)
      .flatMap((stretch) => SWEEP_DEFINITIONS.flatMap(({ key }, i) => (SHOWN.includes(key) ? [figure(stretch, i)] : []))),
  ];
}

export function SweepTable(props: SweepTableProps) {
  const { inputs, linked, variants, figures, stretches, scores, aim, selected, onSelect, onOpen, isBlend, periods } = props;
  const [sort, onSort] = useState<GridSort>(
    scores ? { key: BY_AIM, down: true } : { key: byColumn(aim), down: SWEEP_DEFINITIONS[aim]!.more !== false },
  );
  const [filter, setFilter] = useState<TableFilter>({ conditions: "", bestOfEach: [] });
  const wanted = useDeferredValue(filter);
  const columns = useMemo(
    () => columnsOf({ inputs, linked, variants, figures, stretches, scores, isBlend, periods }),
    [inputs, linked, variants, figures, stretches, scores, isBlend, periods],
  );
  const [rows, problem] = useMemo(() => {
    const view = { inputs, linked, variants, figures, stretches, scores };
    try {
      return [tableRows(view, sort, wanted), ""] as const;
    } catch (error) {
      return [tableRows(view, sort, { ...wanted, conditions: "" }), messageOf(error)] as const;
    }
  }, [inputs, linked, variants, figures, stretches, scores, sort, wanted]);
  const grid = useGrid({ rows, columns, idOf, name: "variants", sort, onSort, isSorted: true });
  return (
    <div className="flex h-full flex-col">
      <Toolbar filter={filter} problem={problem} shown={rows.length} inputs={inputs} stretches={stretches} onChange={setFilter}>
        <GridTools grid={grid} file="variants.csv" />
      </Toolbar>
      <Grid label="Variants" grid={grid} choice={{ selected, onSelect, onOpen: (variant) => onOpen(variant, 0), clickChooses: true }} />
    </div>
  );
}

interface ToolbarProps extends Pick<SweepViewProps, "inputs" | "stretches"> {
  readonly filter: TableFilter;
  readonly problem: string;
  readonly shown: number;
  readonly onChange: (filter: TableFilter) => void;
  readonly children: ReactNode;
}

function Toolbar({ filter, problem, shown, inputs, stretches, onChange, children }: ToolbarProps) {
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 border-rule border-b px-2 py-1 text-[13px]">
      <label className="flex items-center gap-2 text-soft">
        Only
        <TextInput
          className="w-80"
          aria-invalid={problem !== ""}
          placeholder={`e.g. trades >= 30, ${stretches === 2 ? "out.netProfit > 0" : "sharpe > 0.5"}`}
          value={filter.conditions}
          onChange={(event) => onChange({ ...filter, conditions: event.target.value })}
        />
      </label>
      <label className="flex items-center gap-2 text-soft">
        Best for each
        <Select
          className="w-56"
          value={filter.bestOfEach.join()}
          onChange={(event) => onChange({ ...filter, bestOfEach: event.target.value.split(",").filter(Boolean) })}
        >
          <option value="">– show all –</option>
          {MARKET_AXES.every((axis) => inputs.some(({ name }) => name === axis)) ? (
            <option value={MARKET_AXES.join()}>Instrument and timeframe</option>
          ) : null}
          {inputs.map(({ name, label }) => (
            <option key={name} value={name}>
              {label}
            </option>
          ))}
        </Select>
      </label>
      {problem ? <span className="text-loss">{problem}</span> : <span className="text-soft">{number(shown)} shown</span>}
      <span className="flex-1" />
      {children}
    </div>
  );
}
