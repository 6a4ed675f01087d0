/** Every trade; any column sorts, a row leads to the chart and to the line that sent it. */
import type { Trade } from "@plan-tester/core";
import type { ReactNode } from "react";
import { number, signedMoney, units } from "../../lib/format.ts";
import { asTime } from "../../ui/at.tsx";
import { Grid, type GridChoice } from "../../ui/grid/grid.tsx";
import type { GridColumn, Grid as GridState, GridValue } from "../../ui/grid/use-grid.ts";
import { Empty } from "../../ui/states.tsx";
import { LineLink } from "./line-link.tsx";

type Column = GridColumn<Trade>;

export interface TradesTableProps extends Omit<GridChoice<number>, "clickChooses"> {
  readonly grid: GridState<Trade, number>;
}

export function columnsOf(zone: string, decimals: number, isBasket: boolean, onLine: (line: number) => void): Column[] {
  const price = (value: number): string => number(value, decimals);
  const column = (key: keyof Trade, label: string, name: string, width: number, show: Column["show"], left = false): Column => ({
    ...{ key, label, name, width, show, left, value: (trade: Trade) => trade[key] as GridValue },
  });
  // Copied as it is read.
  const told = (key: keyof Trade, label: string, name: string, width: number, text: (trade: Trade) => string, left = true): Column => ({
    ...column(key, label, name, width, text, left),
    text,
  });
  const line = (at: number): ReactNode => <LineLink line={at} onLine={onLine} />;
  return [
    column("id", "#", "number", 50, (t) => t.id),
    ...(isBasket ? [column("symbol", "On", "instrument", 64, (t) => t.symbol, true)] : []),
    told("side", "Side", "side", 44, (t) => (t.side > 0 ? "long" : "short")),
    column("quantity", "Size", "size", 44, (t) => units(t.quantity)),
    { ...column("entryTime", "Entry", "entry time", 140, (t) => t.entryTime, true), ...asTime((t: Trade) => t.entryTime, zone) },
    column("entryPrice", "at", "entry price", 76, (t) => price(t.entryPrice)),
    { ...column("exitTime", "Exit", "exit time", 140, (t) => t.exitTime, true), ...asTime((t: Trade) => t.exitTime, zone) },
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
    told("pathDependent", "Path", "at stake on the path", 54, (t) => (t.pathDependent ? `±${number(t.atStake)}` : ""), false),
  ];
}

export function TradesTable({ grid, ...choice }: TradesTableProps) {
  if (grid.rows.length === 0)
    return (
      <Empty title="No trades">
        Nothing that was looked for. With nothing looked for: no order of the plan has filled; see the chart and the log.
      </Empty>
    );
  return <Grid label="Trades" grid={grid} choice={choice} />;
}
