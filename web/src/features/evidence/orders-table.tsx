/** Orders with what became of them, and fills with what they cost; each with the line that sent it. */
import type { Fill, Order } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useDeferredValue, useMemo, useState } from "react";
import { queries } from "../../data/queries.ts";
import { fileName } from "../../lib/files.ts";
import { count, number, priceText, units } from "../../lib/format.ts";
import { useKept } from "../../lib/kept.ts";
import { asTime } from "../../ui/at.tsx";
import { Select, TextInput } from "../../ui/field.tsx";
import { Grid, type GridProps } from "../../ui/grid/grid.tsx";
import { rowsWith } from "../../ui/grid/grid-text.ts";
import { GridTools } from "../../ui/grid/grid-tools.tsx";
import { asText, FIRST_SORT, type GridColumn, type GridSort, idOf, useGrid } from "../../ui/grid/use-grid.ts";
import { SaveButton } from "../../ui/save-button.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import { happenedIn, type Stretch } from "../run-view/view.ts";
import { fillsCsv, ordersCsv } from "./exports.ts";
import { LineLink } from "./line-link.tsx";

export interface OrdersTableProps extends ColumnOptions {
  /** The zone of the exchange, in which files are written. */
  readonly exchange: string;
  readonly runId: string;
  /** Of the plan, for the name of a saved file. */
  readonly title: string;
  /** Only what was sent or filled in it is listed. */
  readonly stretch: Stretch | null;
}

interface ColumnOptions {
  readonly zone: string;
  readonly decimals: number;
  readonly onLine: (line: number) => void;
}

/** Fills have no number of their own: their place in the run is one. */
interface NumberedFill extends Fill {
  readonly id: number;
}

export function OrdersTable({ runId, title, stretch, zone, exchange, decimals, onLine }: OrdersTableProps) {
  const { data, error } = useQuery(queries.runOrders(runId));
  const [what, setWhat] = useState("orders");
  const orders = useMemo(() => happenedIn(stretch, data?.orders ?? [], ({ submittedTime }) => submittedTime), [stretch, data]);
  const fills = useMemo(() => {
    const numbered = (data?.fills ?? []).map((fill, k): NumberedFill => ({ ...fill, id: k + 1 }));
    return happenedIn(stretch, numbered, ({ timeMs }) => timeMs);
  }, [stretch, data]);
  const options = useMemo(() => ({ zone, decimals, onLine }), [zone, decimals, onLine]);
  const ofOrders = useMemo(() => orderColumns(options), [options]);
  const ofFills = useMemo(() => fillColumns(options), [options]);
  if (error) return <Failure error={error} />;
  if (!data) return <Loading what="orders" />;
  if (data.orders.length === 0) return <Empty title="No orders">The plan sent none.</Empty>;
  const choice = (
    <Select aria-label="What is listed" className="w-auto" value={what} onChange={(event) => setWhat(event.target.value)}>
      <option value="orders">{count(orders.length, "order")}</option>
      <option value="fills">{count(fills.length, "fill")}</option>
    </Select>
  );
  const save = (make: () => string) => <SaveButton label={`Save ${what}`} name={fileName(title, ` ${what}.csv`)} make={make} />;
  return what === "fills" ? (
    <Listing key="fills" label="Fills" rows={fills} columns={ofFills} choice={choice} save={save(() => fillsCsv({ fills }, exchange))} />
  ) : (
    <Listing
      key="orders"
      label="Orders"
      rows={orders}
      columns={ofOrders}
      titleOf={({ note }) => note}
      choice={choice}
      save={save(() => ordersCsv({ orders }, exchange))}
    />
  );
}

interface ListingProps<Row> extends Omit<GridProps<Row, number>, "grid" | "choice"> {
  readonly rows: readonly Row[];
  readonly columns: readonly GridColumn<Row>[];
  readonly choice: ReactNode;
  readonly save: ReactNode;
}

function Listing<Row extends { readonly id: number }>({ rows, columns, choice, save, ...list }: ListingProps<Row>) {
  const name = list.label.toLowerCase();
  const [search, setSearch] = useState("");
  const [sort, onSort] = useKept<GridSort>(`${name} sort`, FIRST_SORT);
  const wanted = useDeferredValue(search);
  const shown = useMemo(() => rowsWith(wanted, rows, columns), [wanted, rows, columns]);
  const grid = useGrid({ rows: shown, columns, idOf, name, sort, onSort });
  return (
    <div className="flex h-full min-h-0 flex-col">
      <div className="flex flex-wrap items-center gap-2 px-3 pb-1">
        {choice}
        <TextInput
          aria-label={`Filter ${name}`}
          placeholder="Words in any column"
          className="w-56"
          value={search}
          onChange={(event) => setSearch(event.target.value)}
        />
        {shown.length < rows.length ? (
          <span className="text-[13px] text-soft" role="status">
            {number(shown.length)} shown
          </span>
        ) : null}
        <span className="flex-1" />
        <GridTools grid={grid} />
        {save}
      </div>
      <Grid grid={grid} {...list} />
    </div>
  );
}

function orderColumns({ zone, decimals, onLine }: ColumnOptions): GridColumn<Order>[] {
  const doing = ({ side, kind, intent }: Order): string => `${side > 0 ? "buy" : "sell"} ${kind} to ${intent}`;
  return [
    { key: "id", label: "#", width: 50, value: idOf, show: idOf },
    {
      ...{ key: "sent", label: "Sent", width: 140, left: true },
      value: ({ submittedTime }) => submittedTime,
      ...asTime(({ submittedTime }: Order) => submittedTime, zone),
    },
    { key: "order", label: "Order", width: 142, left: true, value: doing, show: doing },
    {
      ...{ key: "price", label: "Price", width: 76 },
      value: ({ price }) => price,
      ...asText(({ kind, price }) => (kind === "market" ? "market" : priceText(price, decimals))),
    },
    {
      ...{ key: "size", label: "Size", width: 42 },
      value: ({ quantity }) => quantity ?? Number.POSITIVE_INFINITY,
      ...asText(({ quantity }) => (quantity === null ? "all" : units(quantity))),
    },
    {
      ...{ key: "state", label: "State, and why", width: 140, left: true },
      value: ({ state, note }) => `${state} ${note}`,
      // Some notes begin with the state itself: "cancelled by the plan".
      show: ({ state, note }) =>
        note.startsWith(state) ? (
          note
        ) : (
          <>
            {state} <span className="text-soft">{note}</span>
          </>
        ),
    },
    {
      ...{ key: "filled", label: "Filled at", width: 76 },
      value: ({ fillPrice }) => fillPrice,
      show: ({ fillPrice }) => priceText(fillPrice, decimals),
    },
    ...tagAndLine<Order>(onLine),
  ];
}

function fillColumns({ zone, decimals, onLine }: ColumnOptions): GridColumn<NumberedFill>[] {
  const what = ({ side, source }: Fill): string => `${side > 0 ? "bought" : "sold"} by ${source}`;
  const cost = (key: "commission" | "spread" | "slippage", label: string, width: number): GridColumn<NumberedFill> => ({
    ...{ key, label, width },
    value: (fill) => fill[key],
    show: (fill) => number(fill[key], 2),
  });
  return [
    { key: "id", label: "#", width: 50, value: idOf, show: idOf },
    { key: "order", label: "Order", width: 50, value: ({ orderId }) => orderId, show: ({ orderId }) => orderId },
    {
      ...{ key: "when", label: "When", width: 140, left: true },
      value: ({ timeMs }) => timeMs,
      ...asTime(({ timeMs }: Fill) => timeMs, zone),
    },
    { key: "what", label: "What", width: 106, left: true, value: what, show: what },
    { key: "size", label: "Size", width: 42, value: ({ quantity }) => quantity, show: ({ quantity }) => units(quantity) },
    { key: "price", label: "Price", width: 76, value: ({ price }) => price, show: ({ price }) => priceText(price, decimals) },
    cost("commission", "Commission", 82),
    cost("spread", "Spread", 58),
    cost("slippage", "Slippage", 66),
    ...tagAndLine<NumberedFill>(onLine),
  ];
}

function tagAndLine<Row extends Pick<Order, "tag" | "line">>(onLine: (line: number) => void): GridColumn<Row>[] {
  return [
    { key: "tag", label: "Tag", width: 64, left: true, value: ({ tag }) => tag, show: ({ tag }) => tag },
    {
      ...{ key: "line", label: "Line", width: 40 },
      value: ({ line }) => line,
      show: ({ line }) => <LineLink line={line} onLine={onLine} />,
    },
  ];
}
