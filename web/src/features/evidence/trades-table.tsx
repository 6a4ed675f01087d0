/** Every trade; any column sorts, a row leads to the chart and to the line that sent it. */
import type { Trade } from "@plan-tester/core";
import type { ReactNode } from "react";
import { number, signedMoney, timeAt, units } from "../../lib/format.ts";
import { type GridColumn, type GridValue, RowGrid } from "../../ui/row-grid.tsx";
import { Empty } from "../../ui/states.tsx";
import { LineLink } from "./line-link.tsx";

export interface Column extends GridColumn<Trade> {
  /** What it is called where columns are chosen. */
  readonly name: string;
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

export function columnsOf(zone: string, decimals: number, isBasket: boolean, onLine: (line: number) => void): Column[] {
  const price = (value: number): string => number(value, decimals);
  const column = (key: keyof Trade, label: string, name: string, width: number, show: Column["show"], left = false): Column => ({
    ...{ key, label, name, width, show, value: (trade: Trade) => trade[key] as GridValue },
    ...(left ? { left } : {}),
  });
  const line = (at: number): ReactNode => <LineLink line={at} onLine={onLine} />;
  return [
    column("id", "#", "number", 50, (t) => t.id),
    ...(isBasket ? [column("symbol", "On", "instrument", 64, (t) => t.symbol, true)] : []),
    column("side", "Side", "side", 44, (t) => (t.side > 0 ? "long" : "short"), true),
    column("quantity", "Size", "size", 44, (t) => units(t.quantity)),
    column("entryTime", "Entry", "entry time", 140, (t) => timeAt(t.entryTime, zone), true),
    column("entryPrice", "at", "entry price", 76, (t) => price(t.entryPrice)),
    column("exitTime", "Exit", "exit time", 140, (t) => timeAt(t.exitTime, zone), true),
    column("exitPrice", "at", "exit price", 76, (t) => price(t.exitPrice)),
    column("reason", "By", "exit reason", 70, (t) => t.reason, true),
    column("net", "Net", "net", 70, (t) => <span className={t.net >= 0 ? "text-gain" : "text-loss"}>{signedMoney(t.net)}</span>),
    column("r", "R", "net over risk", 52, (t) => number(t.r, 2)),
    column("risk", "Risk", "risk at the stop", 66, (t) => number(t.risk)),
    column("barsHeld", "Bars", "bars held", 50, (t) => t.barsHeld),
    column("mae", "MAE", "adverse excursion", 66, (t) => number(t.mae)),
    column("mfe", "MFE", "favourable excursion", 66, (t) => number(t.mfe)),
    column("gross", "Gross", "gross", 76, (t) => signedMoney(t.gross)),
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

export function TradesTable({ trades, columns, sortKey, selected, onSelect, onOpen }: TradesTableProps) {
  if (trades.length === 0)
    return (
      <Empty title="No trades">
        Nothing that was looked for. With nothing looked for: no order of the plan has filled; see the chart and the log.
      </Empty>
    );
  return <RowGrid label="Trades" rows={trades} idOf={idOf} choice={{ selected, onSelect, onOpen }} {...{ columns, sortKey }} />;
}

const idOf = ({ id }: Trade): number => id;
