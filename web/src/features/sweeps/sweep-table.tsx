/** Variants ranked by any column; in-sample and out-of-sample figures stand apart and are never blended. */
import { SYMBOL_AXIS, TIMEFRAME_AXIS } from "@plan-tester/contract";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useDeferredValue, useMemo, useRef, useState } from "react";
import { messageOf } from "../../data/api.ts";
import { SWEEP_DEFINITIONS, type SweepFigureDefinition } from "../../lib/aims.ts";
import { number, percent } from "../../lib/format.ts";
import { cx } from "../../ui/cx.ts";
import { Select, TextInput } from "../../ui/field.tsx";
import { rowKeys } from "../../ui/row-keys.ts";
import { type SweepViewProps, valueText, WIDTH } from "./sweep-view.ts";
import { BY_AIM, type TableFilter, type TableOrder, tableRows } from "./table-rows.ts";

export interface SweepTableProps extends SweepViewProps {
  readonly onOpen: (variant: number, stretch: 0 | 1) => void;
  /** Whether scores are shares of the settings, as a blend's are. */
  readonly isBlend: boolean;
  /** Each stretch in words. */
  readonly periods: readonly string[];
}

const ROW = 29;
const MARKET_AXES = [SYMBOL_AXIS, TIMEFRAME_AXIS];
const SHOWN = ["netProfit", "maxDrawdown", "returnToDrawdown", "trades", "profitFactor", "sharpe"];

interface FigureColumn extends SweepFigureDefinition {
  readonly at: number;
  readonly stretch: 0 | 1;
}

const columnsOf = (stretches: 1 | 2): FigureColumn[] =>
  ([0, 1] as const)
    .slice(0, stretches)
    .flatMap((stretch) =>
      SWEEP_DEFINITIONS.flatMap((definition, i) =>
        SHOWN.includes(definition.key) ? [{ ...definition, at: stretch * WIDTH + i, stretch }] : [],
      ),
    );

export function SweepTable(props: SweepTableProps) {
  const { inputs, linked, variants, figures, stretches, scores, aim, selected, onSelect, onOpen, isBlend, periods } = props;
  const [order, setOrder] = useState<TableOrder>(
    scores ? { at: BY_AIM, down: true } : { at: aim, down: SWEEP_DEFINITIONS[aim]!.more !== false },
  );
  const [filter, setFilter] = useState<TableFilter>({ conditions: "", bestOfEach: [] });
  const wanted = useDeferredValue(filter);
  const columns = useMemo(() => columnsOf(stretches), [stretches]);
  const [rows, problem] = useMemo(() => {
    const view = { inputs, linked, variants, figures, stretches, scores };
    try {
      return [tableRows(view, order, wanted), ""] as const;
    } catch (error) {
      return [tableRows(view, order, { ...wanted, conditions: "" }), messageOf(error)] as const;
    }
  }, [inputs, linked, variants, figures, stretches, scores, order, wanted]);
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({ count: rows.length, getScrollElement: () => scroller.current, estimateSize: () => ROW, overscan: 12 });
  const named = [...inputs, ...linked];
  const leading = scores ? "44px 72px" : "44px";
  const grid = { gridTemplateColumns: `${leading} ${named.map(() => "88px").join(" ")} ${columns.map(() => "84px").join(" ")}` };
  const firstOut = columns.findIndex((column) => column.stretch === 1);
  const edge = (i: number): string => (i === 0 || i === firstOut ? "border-rule border-l" : "");
  const rowWidth = WIDTH * stretches;
  const sortBy = (at: number, downFirst: boolean): void => setOrder({ at, down: order.at === at ? !order.down : downFirst });
  const arrow = (at: number): string => (order.at === at ? (order.down ? "\u00a0↓" : "\u00a0↑") : "");
  const onKeyDown = rowKeys({
    rows: rows.length,
    at: () => (selected === null ? -1 : rows.indexOf(selected)),
    onMove: (to) => {
      onSelect(rows[to]!);
      virtual.scrollToIndex(to);
      // Not the cell that was clicked: another row is chosen now.
      scroller.current?.focus({ preventScroll: true });
    },
    onOpen: () => selected !== null && onOpen(selected, 0),
  });
  const sorted = (at: number) => (order.at === at ? (order.down ? "descending" : "ascending") : "none");
  return (
    <div className="flex h-full flex-col">
      <Toolbar filter={filter} problem={problem} shown={rows.length} inputs={inputs} stretches={stretches} onChange={setFilter} />
      <div
        ref={scroller}
        role="grid"
        aria-label="Variants"
        aria-rowcount={rows.length}
        tabIndex={0}
        className="min-h-0 flex-1 overflow-auto text-[13px]"
        onKeyDown={onKeyDown}
      >
        <div className="sticky top-0 z-10 min-w-max bg-ground">
          <div role="row" className="grid text-soft" style={grid}>
            <div role="gridcell" tabIndex={-1} style={{ gridColumn: `span ${(scores ? 2 : 1) + named.length}` }} />
            {([0, 1] as const).slice(0, stretches).map((stretch) => (
              <div
                key={stretch}
                role="columnheader"
                tabIndex={-1}
                className={cx("border-rule border-l px-1.5 pt-1 font-semibold", stretch === 0 ? "text-accent" : "text-loss")}
                style={{ gridColumn: `span ${columns.filter((column) => column.stretch === stretch).length}` }}
              >
                {stretch === 0 ? "In-sample" : "Out-of-sample"} <span className="font-normal text-soft">{periods[stretch]}</span>
              </div>
            ))}
          </div>
          <div role="row" className="grid border-rule border-b text-soft" style={grid}>
            <div role="columnheader" tabIndex={-1} className="self-end px-1.5 py-1 text-right">
              Rank
            </div>
            {scores ? (
              <button
                type="button"
                role="columnheader"
                aria-sort={sorted(BY_AIM)}
                className="self-end px-1.5 py-1 text-right leading-tight"
                onClick={() => sortBy(BY_AIM, true)}
              >
                Aim{arrow(BY_AIM)}
              </button>
            ) : null}
            {named.map(({ name, label }) => (
              <div key={name} role="columnheader" tabIndex={-1} className="self-end truncate px-1.5 py-1 text-right" title={label}>
                {label}
              </div>
            ))}
            {columns.map((column, i) => (
              <button
                key={column.at}
                type="button"
                role="columnheader"
                aria-sort={sorted(column.at)}
                title={column.label}
                className={cx("self-end px-1.5 py-1 text-right leading-tight", edge(i))}
                onClick={() => sortBy(column.at, column.more !== false)}
              >
                {column.label}
                {arrow(column.at)}
              </button>
            ))}
          </div>
        </div>
        <div className="min-w-max" style={{ height: virtual.getTotalSize(), position: "relative" }}>
          {virtual.getVirtualItems().map(({ index, start }) => {
            const variant = rows[index]!;
            const score = scores?.[variant];
            return (
              // biome-ignore lint/a11y/useKeyWithClickEvents: the grid itself takes the arrow keys
              <div
                key={variant}
                role="row"
                tabIndex={-1}
                aria-selected={variant === selected}
                className={cx(
                  "absolute inset-x-0 grid cursor-pointer items-center border-rule/60 border-b",
                  variant === selected ? "bg-accent-wash" : "hover:bg-sunk",
                )}
                style={{ ...grid, height: ROW, transform: `translateY(${start}px)` }}
                onClick={() => onSelect(variant)}
                onDoubleClick={() => onOpen(variant, 0)}
              >
                <div role="gridcell" tabIndex={-1} className="px-1.5 text-right text-soft">
                  {index + 1}
                </div>
                {score === undefined ? null : (
                  <div role="gridcell" tabIndex={-1} className="px-1.5 text-right">
                    {isBlend ? percent(score, 0) : number(score, 2)}
                  </div>
                )}
                {named.map(({ name }) => (
                  <div key={name} role="gridcell" tabIndex={-1} className="truncate px-1.5 text-right font-semibold">
                    {valueText(variants[variant]![name])}
                  </div>
                ))}
                {columns.map((column, i) => {
                  const value = figures[variant * rowWidth + column.at]!;
                  const tone = column.key === "netProfit" ? (value >= 0 ? "text-gain" : "text-loss") : "";
                  return (
                    <div key={column.at} role="gridcell" tabIndex={-1} className={cx("px-1.5 text-right", tone, edge(i))}>
                      {column.text(value)}
                    </div>
                  );
                })}
              </div>
            );
          })}
        </div>
      </div>
    </div>
  );
}

interface ToolbarProps extends Pick<SweepViewProps, "inputs" | "stretches"> {
  readonly filter: TableFilter;
  readonly problem: string;
  readonly shown: number;
  readonly onChange: (filter: TableFilter) => void;
}

function Toolbar({ filter, problem, shown, inputs, stretches, onChange }: ToolbarProps) {
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
    </div>
  );
}
