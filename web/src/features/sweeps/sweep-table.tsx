/** Variants ranked by any column; in-sample and out-of-sample figures stand apart and are never blended. */
import { useVirtualizer } from "@tanstack/react-virtual";
import { useMemo, useRef, useState } from "react";
import { number } from "../../lib/format.ts";
import { cx } from "../../ui/cx.ts";
import { SWEEP_DEFINITIONS, type SweepFigureDefinition } from "./aims.ts";
import { type SweepViewProps, WIDTH } from "./sweep-view.ts";

export interface SweepTableProps extends SweepViewProps {
  readonly onOpen: (variant: number, stretch: 0 | 1) => void;
}

const ROW = 29;
const SHOWN = ["netProfit", "maxDrawdown", "returnToDrawdown", "trades", "profitFactor", "sharpe"];

interface FigureColumn extends SweepFigureDefinition {
  readonly at: number;
  readonly stretch: 0 | 1;
}

export function SweepTable({ inputs, variants, figures, stretches, aim, selected, onSelect, onOpen }: SweepTableProps) {
  const [sort, setSort] = useState<{ at: number; down: boolean }>({ at: aim, down: true });
  const scroller = useRef<HTMLDivElement>(null);
  const columns = useMemo<FigureColumn[]>(
    () =>
      ([0, 1] as const)
        .slice(0, stretches)
        .flatMap((stretch) =>
          SWEEP_DEFINITIONS.flatMap((definition, i) =>
            SHOWN.includes(definition.key) ? [{ ...definition, at: stretch * WIDTH + i, stretch }] : [],
          ),
        ),
    [stretches],
  );
  const rowWidth = WIDTH * stretches;
  const order = useMemo(() => {
    const done = variants.map((_variant, i) => i).filter((i) => !Number.isNaN(figures[i * rowWidth]!));
    const value = (i: number): number => {
      const v = figures[i * rowWidth + sort.at]!;
      return Number.isNaN(v) ? (sort.down ? Number.NEGATIVE_INFINITY : Number.POSITIVE_INFINITY) : v;
    };
    return done.sort((a, b) => (sort.down ? value(b) - value(a) : value(a) - value(b)) || a - b);
  }, [variants, figures, rowWidth, sort]);
  const virtual = useVirtualizer({ count: order.length, getScrollElement: () => scroller.current, estimateSize: () => ROW, overscan: 12 });
  const grid = { gridTemplateColumns: `44px ${inputs.map(() => "88px").join(" ")} ${columns.map(() => "84px").join(" ")}` };
  const firstOut = columns.findIndex((column) => column.stretch === 1);
  const edge = (i: number): string => (i === 0 || i === firstOut ? "border-rule border-l" : "");
  return (
    <div ref={scroller} role="grid" aria-label="Variants" aria-rowcount={order.length} className="h-full overflow-auto text-[13px]">
      <div className="sticky top-0 z-10 min-w-max bg-ground">
        <div role="row" className="grid text-soft" style={grid}>
          <div role="gridcell" tabIndex={-1} style={{ gridColumn: `span ${1 + inputs.length}` }} />
          <div
            role="columnheader"
            tabIndex={-1}
            className="border-rule border-l px-1.5 pt-1 font-semibold text-accent"
            style={{ gridColumn: `span ${columns.filter(({ stretch }) => stretch === 0).length}` }}
          >
            In-sample
          </div>
          {stretches === 2 ? (
            <div
              role="columnheader"
              tabIndex={-1}
              className="border-rule border-l px-1.5 pt-1 font-semibold text-loss"
              style={{ gridColumn: `span ${columns.filter(({ stretch }) => stretch === 1).length}` }}
            >
              Out-of-sample
            </div>
          ) : null}
        </div>
        <div role="row" className="grid border-rule border-b text-soft" style={grid}>
          <div role="columnheader" tabIndex={-1} className="self-end px-1.5 py-1 text-right">
            Rank
          </div>
          {inputs.map(({ name, label }) => (
            <div key={name} role="columnheader" tabIndex={-1} className="self-end truncate px-1.5 py-1 text-right" title={label}>
              {label}
            </div>
          ))}
          {columns.map((column, i) => (
            <button
              key={column.at}
              type="button"
              role="columnheader"
              aria-sort={sort.at === column.at ? (sort.down ? "descending" : "ascending") : "none"}
              title={column.label}
              className={cx("self-end px-1.5 py-1 text-right leading-tight", edge(i))}
              onClick={() => setSort({ at: column.at, down: sort.at === column.at ? !sort.down : column.more !== false })}
            >
              {column.label}
              {sort.at === column.at ? (sort.down ? "\u00a0↓" : "\u00a0↑") : ""}
            </button>
          ))}
        </div>
      </div>
      <div className="min-w-max" style={{ height: virtual.getTotalSize(), position: "relative" }}>
        {virtual.getVirtualItems().map(({ index, start }) => {
          const variant = order[index]!;
          return (
            <div
              key={variant}
              role="row"
              tabIndex={0}
              aria-selected={variant === selected}
              className={cx(
                "absolute inset-x-0 grid cursor-pointer items-center border-rule/60 border-b hover:bg-sunk",
                variant === selected && "bg-accent-wash",
              )}
              style={{ ...grid, height: ROW, transform: `translateY(${start}px)` }}
              onClick={() => onSelect(variant)}
              onDoubleClick={() => onOpen(variant, 0)}
              onKeyDown={(event) => event.key === "Enter" && onOpen(variant, 0)}
            >
              <div role="gridcell" tabIndex={-1} className="px-1.5 text-right text-soft">
                {index + 1}
              </div>
              {inputs.map(({ name }) => {
                const value = variants[variant]![name];
                return (
                  <div key={name} role="gridcell" tabIndex={-1} className="px-1.5 text-right font-semibold">
                    {typeof value === "number" ? number(value, Number.isInteger(value) ? 0 : 2) : String(value)}
                  </div>
                );
              })}
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
  );
}
