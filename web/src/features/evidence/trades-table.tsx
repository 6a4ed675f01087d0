/** Every trade; any column sorts, a row leads to the chart and to the line that sent it. */
import type { Trade } from "@plan-tester/core";
import { useVirtualizer } from "@tanstack/react-virtual";
import { type ReactNode, useMemo, useRef, useState } from "react";
import { number, signed, timeAt } from "../../lib/format.ts";
import { cx } from "../../ui/cx.ts";
import { Empty } from "../../ui/states.tsx";

interface Column {
  readonly key: keyof Trade;
  readonly label: string;
  readonly width: string;
  readonly left?: boolean;
  readonly show: (trade: Trade) => ReactNode;
}

export interface TradesTableProps {
  readonly trades: readonly Trade[];
  readonly zone: string;
  readonly decimals: number;
  readonly selected: number | null;
  /** Arrow keys move the choice. */
  readonly onSelect: (id: number) => void;
  /** A click or Enter shows it on the chart. */
  readonly onOpen: (id: number) => void;
  readonly onLine: (line: number) => void;
}

const ROW = 29;

function columnsOf(zone: string, decimals: number, isBasket: boolean, onLine: (line: number) => void): Column[] {
  const price = (value: number): string => number(value, decimals);
  return [
    { key: "id", label: "#", width: "44px", show: (t) => t.id },
    ...(isBasket ? [{ key: "symbol", label: "On", width: "64px", left: true, show: (t) => t.symbol } satisfies Column] : []),
    { key: "side", label: "Side", width: "52px", left: true, show: (t) => (t.side > 0 ? "long" : "short") },
    { key: "quantity", label: "Size", width: "58px", show: (t) => number(t.quantity, Number.isInteger(t.quantity) ? 0 : 1) },
    { key: "entryTime", label: "Entry", width: "142px", left: true, show: (t) => timeAt(t.entryTime, zone) },
    { key: "entryPrice", label: "at", width: "72px", show: (t) => price(t.entryPrice) },
    { key: "exitTime", label: "Exit", width: "142px", left: true, show: (t) => timeAt(t.exitTime, zone) },
    { key: "exitPrice", label: "at", width: "72px", show: (t) => price(t.exitPrice) },
    { key: "reason", label: "By", width: "84px", left: true, show: (t) => t.reason },
    {
      key: "net",
      label: "Net",
      width: "76px",
      show: (t) => <span className={t.net >= 0 ? "text-gain" : "text-loss"}>{signed(t.net)}</span>,
    },
    { key: "r", label: "R", width: "52px", show: (t) => number(t.r, 2) },
    { key: "barsHeld", label: "Bars", width: "50px", show: (t) => t.barsHeld },
    { key: "mae", label: "MAE", width: "66px", show: (t) => number(t.mae) },
    { key: "mfe", label: "MFE", width: "66px", show: (t) => number(t.mfe) },
    { key: "commission", label: "Commission", width: "88px", show: (t) => number(t.commission, 2) },
    { key: "spread", label: "Spread", width: "66px", show: (t) => number(t.spread, 2) },
    { key: "slippage", label: "Slippage", width: "72px", show: (t) => number(t.slippage, 2) },
    { key: "entryTag", label: "Tag", width: "96px", left: true, show: (t) => t.entryTag },
    {
      key: "entryLine",
      label: "Line",
      width: "52px",
      show: (t) =>
        t.entryLine > 0 ? (
          <button
            type="button"
            className="rounded-xs underline decoration-dotted underline-offset-3"
            aria-label={`Show line ${t.entryLine}`}
            onClick={(event) => {
              event.stopPropagation();
              onLine(t.entryLine);
            }}
          >
            {t.entryLine}
          </button>
        ) : (
          ""
        ),
    },
    { key: "pathDependent", label: "Path", width: "54px", show: (t) => (t.pathDependent ? `±${number(t.atStake)}` : "") },
  ];
}

function compare(a: Trade[keyof Trade], b: Trade[keyof Trade]): number {
  if (typeof a === "string" && typeof b === "string") return a.localeCompare(b);
  return (Number(a) || 0) - (Number(b) || 0);
}

export function TradesTable({ trades, zone, decimals, selected, onSelect, onOpen, onLine }: TradesTableProps) {
  const [sort, setSort] = useState<{ index: number; down: boolean }>({ index: 0, down: false });
  const scroller = useRef<HTMLDivElement>(null);
  const isBasket = trades.some(({ symbol }) => symbol !== trades[0]!.symbol);
  const columns = useMemo(() => columnsOf(zone, decimals, isBasket, onLine), [zone, decimals, isBasket, onLine]);
  const rows = useMemo(() => {
    const { key } = columns[sort.index]!;
    const sorted = [...trades].sort((a, b) => compare(a[key], b[key]));
    return sort.down ? sorted.reverse() : sorted;
  }, [trades, sort, columns]);
  const virtual = useVirtualizer({ count: rows.length, getScrollElement: () => scroller.current, estimateSize: () => ROW, overscan: 12 });
  if (trades.length === 0)
    return <Empty title="No trades">The plan sent no order that filled. Look at the chart with its own studies, or at the log.</Empty>;
  const grid = { gridTemplateColumns: columns.map((column) => column.width).join(" ") };
  const move = (by: number): void => {
    const at = rows.findIndex((trade) => trade.id === selected);
    const next = Math.max(0, Math.min(rows.length - 1, at + by));
    onSelect(rows[next]!.id);
    virtual.scrollToIndex(next);
  };
  return (
    <div
      ref={scroller}
      role="grid"
      aria-label="Trades"
      aria-rowcount={rows.length}
      tabIndex={0}
      className="min-h-0 flex-1 overflow-auto text-[13px]"
      onKeyDown={(event) => {
        if (event.key === "Enter" && selected !== null) return onOpen(selected);
        if (event.key !== "ArrowDown" && event.key !== "ArrowUp") return;
        event.preventDefault();
        move(event.key === "ArrowDown" ? 1 : -1);
      }}
    >
      <div role="row" className="sticky top-0 z-10 grid w-max min-w-full border-rule border-b bg-ground text-soft" style={grid}>
        {columns.map((column, i) => (
          <button
            key={`${column.key}${column.label}`}
            type="button"
            role="columnheader"
            aria-sort={sort.index === i ? (sort.down ? "descending" : "ascending") : "none"}
            className={cx("px-1.5 py-1", column.left ? "text-left" : "text-right")}
            onClick={() => setSort({ index: i, down: sort.index === i ? !sort.down : false })}
          >
            {column.label}
            {sort.index === i ? (sort.down ? " ↓" : " ↑") : ""}
          </button>
        ))}
      </div>
      <div style={{ height: virtual.getTotalSize(), position: "relative" }}>
        {virtual.getVirtualItems().map(({ index, start }) => {
          const trade = rows[index]!;
          return (
            // biome-ignore lint/a11y/useKeyWithClickEvents: the grid itself takes the arrow keys
            <div
              key={trade.id}
              role="row"
              tabIndex={-1}
              aria-selected={trade.id === selected}
              className={cx(
                "absolute left-0 grid w-max min-w-full cursor-pointer items-center border-rule/60 border-b hover:bg-sunk",
                trade.id === selected && "bg-accent-wash",
              )}
              style={{ ...grid, height: ROW, transform: `translateY(${start}px)` }}
              onClick={() => onOpen(trade.id)}
            >
              {columns.map((column) => (
                <div
                  key={`${column.key}${column.label}`}
                  role="gridcell"
                  tabIndex={-1}
                  className={cx("truncate px-1.5", column.left ? "text-left" : "text-right")}
                >
                  {column.show(trade)}
                </div>
              ))}
            </div>
          );
        })}
      </div>
    </div>
  );
}
