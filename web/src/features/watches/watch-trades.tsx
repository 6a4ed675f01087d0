/** Closed trades of a watch, newest first: all of them, in a list of any length. */
import type { WatchDetail } from "@plan-tester/contract";
import type { Trade } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { useDecimals } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { number, priceText, units } from "../../lib/format.ts";
import { Amount } from "../../ui/amount.tsx";
import { asTime } from "../../ui/at.tsx";
import { Grid } from "../../ui/grid/grid.tsx";
import { GridTools } from "../../ui/grid/grid-tools.tsx";
import { type GridColumn, type GridSort, useGrid } from "../../ui/grid/use-grid.ts";
import type { WatchFactsProps } from "./watch-facts.tsx";

const idOf = ({ id, exitTime }: Trade): string => `${id} ${exitTime}`;

function columnsOf(zone: string, decimalsOf: (symbol: string) => number): readonly GridColumn<Trade>[] {
  return [
    {
      ...{ key: "exit", label: "Exit", width: 130, left: true, isFixed: true, downFirst: true },
      value: ({ exitTime }) => exitTime,
      ...asTime(({ exitTime }) => exitTime, zone),
    },
    {
      ...{ key: "side", label: "Side", width: 68, left: true },
      value: ({ side, quantity }) => `${side > 0 ? "long" : "short"} ${quantity}`,
      show: ({ side, quantity }) => `${side > 0 ? "long" : "short"} ${units(quantity)}`,
    },
    { ...{ key: "symbol", label: "Market", width: 64, left: true }, value: ({ symbol }) => symbol, show: ({ symbol }) => symbol },
    {
      ...{ key: "in", label: "In", width: 70 },
      value: ({ entryPrice }) => entryPrice,
      show: ({ entryPrice, symbol }) => priceText(entryPrice, decimalsOf(symbol)),
    },
    {
      ...{ key: "out", label: "Out", width: 70 },
      value: ({ exitPrice }) => exitPrice,
      show: ({ exitPrice, symbol }) => priceText(exitPrice, decimalsOf(symbol)),
    },
    { ...{ key: "by", label: "By", width: 60, left: true, grows: true }, value: ({ reason }) => reason, show: ({ reason }) => reason },
    { ...{ key: "r", label: "R", width: 50, downFirst: true }, value: ({ r }) => r, show: ({ r }) => number(r, 2) },
    { ...{ key: "net", label: "Net", width: 76, downFirst: true }, value: ({ net }) => net, show: ({ net }) => <Amount value={net} /> },
  ];
}

export function WatchTrades({ watch, zone }: Pick<WatchFactsProps, "zone"> & { readonly watch: WatchDetail }) {
  const decimalsOf = useDecimals();
  const { data = [] } = useQuery(queries.watchTrades(watch.id, watch.trades));
  const [sort, onSort] = useState<GridSort>({ key: "exit", down: true });
  const columns = useMemo(() => columnsOf(zone, decimalsOf), [zone, decimalsOf]);
  const grid = useGrid({ rows: data, columns, idOf, name: "watch trades", firstHidden: ["symbol"], sort, onSort });
  return (
    <section aria-label="Trades" className="flex min-h-60 flex-1 flex-col">
      <div className="flex items-center justify-end px-3 py-1">
        {data.length > 0 ? <GridTools grid={grid} file="watch trades.csv" /> : null}
      </div>
      {data.length === 0 ? <p className="px-3 text-soft">None yet.</p> : <Grid label="Trades of the watch" grid={grid} />}
    </section>
  );
}
