/** Every trade; any column sorts, a row leads to the chart and to the line that sent it. */
import type { Trade } from "@plan-tester/core";
import { useVirtualizer } from "@tanstack/react-virtual";
import { type ReactNode, useMemo, useRef } from "react";
import { number, signed, timeAt, units } from "../../lib/format.ts";
import { useKept } from "../../lib/kept.ts";
import { cx } from "../../ui/cx.ts";
import { rowKeys } from "../../ui/row-keys.ts";
import { Empty } from "../../ui/states.tsx";
import { LineLink } from "./line-link.tsx";

export interface Column {
  readonly key: keyof Trade;
  /** Its head, and what it is called where columns are chosen. */
  readonly label: string;
  readonly name: string;
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
  readonly columns: readonly Column[];
  /** Under which its order is kept. */
  readonly sortKey: string;
}

interface Sort {
  readonly key: keyof Trade;
  readonly down: boolean;
}

const FIRST_SORT: Sort = { key: "id", down: false };
const ROW = 29;

export function columnsOf(zone: string, decimals: number, isBasket: boolean, onLine: (line: number) => void): Column[] {
  const price = (value: number): string => number(value, decimals);
  const column = (key: keyof Trade, label: string, name: string, width: number, show: Column["show"], left = false): Column => ({
    ...{ key, label, name, width: `${width}px`, show },
    ...(left ? { left } : {}),
  });
  const line = (at: number): ReactNode => <LineLink line={at} onLine={onLine} />;
  return [
    column("id", "#", "number", 44, (t) => t.id),
    ...(isBasket ? [column("symbol", "On", "instrument", 64, (t) => t.symbol, true)] : []),
    column("side", "Side", "side", 52, (t) => (t.side > 0 ? "long" : "short"), true),
    column("quantity", "Size", "size", 58, (t) => units(t.quantity)),
    column("entryTime", "Entry", "entry time", 142, (t) => timeAt(t.entryTime, zone), true),
    column("entryPrice", "at", "entry price", 72, (t) => price(t.entryPrice)),
    column("exitTime", "Exit", "exit time", 142, (t) => timeAt(t.exitTime, zone), true),
    column("exitPrice", "at", "exit price", 72, (t) => price(t.exitPrice)),
    column("reason", "By", "exit reason", 84, (t) => t.reason, true),
    column("net", "Net", "net", 76, (t) => <span className={t.net >= 0 ? "text-gain" : "text-loss"}>{signed(t.net)}</span>),
    column("r", "R", "net over risk", 52, (t) => number(t.r, 2)),
    column("risk", "Risk", "risk at the stop", 66, (t) => number(t.risk)),
    column("barsHeld", "Bars", "bars held", 50, (t) => t.barsHeld),
    column("mae", "MAE", "adverse excursion", 66, (t) => number(t.mae)),
    column("mfe", "MFE", "favourable excursion", 66, (t) => number(t.mfe)),
    column("gross", "Gross", "gross", 76, (t) => signed(t.gross)),
    column("commission", "Commission", "commission", 88, (t) => number(t.commission, 2)),
    column("spread", "Spread", "spread", 66, (t) => number(t.spread, 2)),
    column("slippage", "Slippage", "slippage", 72, (t) => number(t.slippage, 2)),
    column("financing", "Financing", "financing", 76, (t) => number(t.financing, 2)),
    column("entryTag", "Tag", "entry tag", 96, (t) => t.entryTag, true),
    column("exitTag", "Exit tag", "exit tag", 96, (t) => t.exitTag, true),
    column("entryLine", "Line", "line that entered", 52, (t) => line(t.entryLine)),
    column("exitLine", "Out", "line that closed", 52, (t) => line(t.exitLine)),
    column("pathDependent", "Path", "at stake on the path", 54, (t) => (t.pathDependent ? `±${number(t.atStake)}` : "")),
  ];
}

type Cell = Trade[keyof Trade];

function compare(a: Cell, b: Cell): number {
  if (typeof a === "string" && typeof b === "string") return a.localeCompare(b);
  return Number(a) - Number(b);
}

/** Whichever way is asked for, what is undefined comes last. */
function inOrder(trades: readonly Trade[], { key, down }: Sort): Trade[] {
  const isMissing = (trade: Trade): number => (trade[key] === null || trade[key] === undefined ? 1 : 0);
  return [...trades].sort((a, b) => isMissing(a) - isMissing(b) || (down ? compare(b[key], a[key]) : compare(a[key], b[key])) || 0);
}

export function TradesTable({ trades, columns, sortKey, selected, onSelect, onOpen }: TradesTableProps) {
  const [sort, setSort] = useKept<Sort>(sortKey, FIRST_SORT);
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useMemo(() => inOrder(trades, sort), [trades, sort]);
  const virtual = useVirtualizer({ count: rows.length, getScrollElement: () => scroller.current, estimateSize: () => ROW, overscan: 12 });
  if (trades.length === 0)
    return (
      <Empty title="No trades">
        Nothing that was looked for. With nothing looked for: no order of the plan has filled; see the chart and the log.
      </Empty>
    );
  const grid = { gridTemplateColumns: columns.map((column) => column.width).join(" ") };
  const onKeyDown = rowKeys({
    rows: rows.length,
    at: () => rows.findIndex((trade) => trade.id === selected),
    onMove: (to) => {
      onSelect(rows[to]!.id);
      virtual.scrollToIndex(to);
    },
    onOpen: () => selected !== null && onOpen(selected),
  });
  return (
    <div
      ref={scroller}
      role="grid"
      aria-label="Trades"
      aria-rowcount={rows.length}
      tabIndex={0}
      className="min-h-0 flex-1 overflow-auto text-[13px]"
      onKeyDown={onKeyDown}
    >
      <div role="row" className="sticky top-0 z-10 grid w-max min-w-full border-rule border-b bg-ground text-soft" style={grid}>
        {columns.map((column) => (
          <button
            key={column.key}
            type="button"
            role="columnheader"
            aria-sort={sort.key === column.key ? (sort.down ? "descending" : "ascending") : "none"}
            className={cx("px-1.5 py-1", column.left ? "text-left" : "text-right")}
            onClick={() => setSort({ key: column.key, down: sort.key === column.key ? !sort.down : false })}
          >
            {column.label}
            {sort.key === column.key ? (sort.down ? " ↓" : " ↑") : ""}
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
                "absolute left-0 grid w-max min-w-full cursor-pointer items-center border-rule/60 border-b",
                trade.id === selected ? "bg-accent-wash" : "hover:bg-sunk",
              )}
              style={{ ...grid, height: ROW, transform: `translateY(${start}px)` }}
              onClick={() => onOpen(trade.id)}
            >
              {columns.map((column) => (
                <div
                  key={column.key}
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
