/** Orders with what became of them, and the line that sent each. */
import type { Fill, Order } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { number, timeAt, units } from "../../lib/format.ts";
import { queries } from "../../lib/queries.ts";
import { Select } from "../../ui/field.tsx";
import { num, td, th } from "../../ui/page.tsx";
import { Empty, Failure, Loading } from "../../ui/states.tsx";
import { fileName, fillsCsv, ordersCsv } from "./exports.ts";
import { LineLink } from "./line-link.tsx";
import { SaveButton } from "./save-button.tsx";
import { happenedIn, type Stretch } from "./view.ts";

const MOST_ROWS = 2000;

export function OrdersTable({
  runId,
  title,
  stretch,
  zone,
  decimals,
  onLine,
}: {
  readonly runId: string;
  /** Of the plan, for the name of a saved file. */
  readonly title: string;
  /** Only what was sent or filled in it is listed. */
  readonly stretch: Stretch | null;
  readonly zone: string;
  readonly decimals: number;
  readonly onLine: (line: number) => void;
}) {
  const { data, error } = useQuery(queries.runOrders(runId));
  const [what, setWhat] = useState("orders");
  if (error) return <Failure error={error} />;
  if (!data) return <Loading what="orders" />;
  if (data.orders.length === 0) return <Empty title="No orders">The plan sent none.</Empty>;
  const orders = happenedIn(stretch, data.orders, ({ submittedTime }) => submittedTime);
  const fills = happenedIn(stretch, data.fills, ({ timeMs }) => timeMs);
  return (
    <>
      <div className="flex items-center justify-between px-3">
        <Select aria-label="What is listed" className="w-auto" value={what} onChange={(event) => setWhat(event.target.value)}>
          <option value="orders">{number(orders.length)} orders</option>
          <option value="fills">{number(fills.length)} fills</option>
        </Select>
        <SaveButton
          label={`Save ${what}`}
          name={fileName(title, ` ${what}.csv`)}
          make={() => (what === "fills" ? fillsCsv({ fills }) : ordersCsv({ orders }))}
        />
      </div>
      {what === "fills" ? (
        <FillsTable fills={fills} {...{ zone, decimals, onLine }} />
      ) : (
        <OrdersPart orders={orders} {...{ zone, decimals, onLine }} />
      )}
    </>
  );
}

interface PartProps {
  readonly zone: string;
  readonly decimals: number;
  readonly onLine: (line: number) => void;
}

function OrdersPart({ orders, zone, decimals, onLine }: PartProps & { readonly orders: readonly Order[] }) {
  return (
    <>
      <OnlyFirst rows={orders.length} of="orders" />
      <table className="w-full text-[13px]">
        <thead>
          <tr>
            {["#", "Sent", "Order", "Price", "Size", "State", "Filled at", "Tag", "Line", "Why"].map((head, i) => (
              <th key={head} className={`${th} ${[0, 3, 4, 6, 8].includes(i) ? num : ""}`}>
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {orders.slice(0, MOST_ROWS).map((order) => (
            <OrderRow key={order.id} order={order} zone={zone} decimals={decimals} onLine={onLine} />
          ))}
        </tbody>
      </table>
    </>
  );
}

function OnlyFirst({ rows, of }: { readonly rows: number; readonly of: string }) {
  if (rows <= MOST_ROWS) return null;
  return (
    <p className="px-3 py-1 text-soft">
      The first {number(MOST_ROWS)} of {number(rows)} {of}; the saved file has them all.
    </p>
  );
}

function OrderRow({
  order,
  zone,
  decimals,
  onLine,
}: {
  readonly order: Order;
  readonly zone: string;
  readonly decimals: number;
  readonly onLine: (line: number) => void;
}) {
  return (
    <tr title={order.note || undefined}>
      <td className={`${td} ${num}`}>{order.id}</td>
      <td className={td}>{timeAt(order.submittedTime, zone)}</td>
      <td className={td}>
        {order.side > 0 ? "buy" : "sell"} {order.kind} to {order.intent}
      </td>
      <td className={`${td} ${num}`}>{order.kind === "market" ? "market" : number(order.price, decimals)}</td>
      <td className={`${td} ${num}`}>{order.quantity === null ? "all" : units(order.quantity)}</td>
      <td className={td}>{order.state}</td>
      <td className={`${td} ${num}`}>{number(order.fillPrice, decimals)}</td>
      <td className={td}>{order.tag}</td>
      <td className={`${td} ${num}`}>
        <LineLink line={order.line} onLine={onLine} />
      </td>
      <td className={`${td} max-w-64 truncate text-soft`}>{order.note}</td>
    </tr>
  );
}

function FillsTable({ fills, zone, decimals, onLine }: PartProps & { readonly fills: readonly Fill[] }) {
  return (
    <>
      <OnlyFirst rows={fills.length} of="fills" />
      <table className="w-full text-[13px]">
        <thead>
          <tr>
            {["Order", "When", "What", "Size", "Price", "Commission", "Spread", "Slippage", "Tag", "Line"].map((head, i) => (
              <th key={head} className={`${th} ${[0, 3, 4, 5, 6, 7, 9].includes(i) ? num : ""}`}>
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {fills.slice(0, MOST_ROWS).map((fill, k) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: fills have no number of their own, and never change place
            <tr key={k}>
              <td className={`${td} ${num}`}>{fill.orderId}</td>
              <td className={td}>{timeAt(fill.timeMs, zone)}</td>
              <td className={td}>
                {fill.side > 0 ? "bought" : "sold"} by {fill.source}
              </td>
              <td className={`${td} ${num}`}>{units(fill.quantity)}</td>
              <td className={`${td} ${num}`}>{number(fill.price, decimals)}</td>
              {[fill.commission, fill.spread, fill.slippage].map((cost, c) => (
                <td key={["commission", "spread", "slippage"][c]} className={`${td} ${num}`}>
                  {number(cost, 2)}
                </td>
              ))}
              <td className={td}>{fill.tag}</td>
              <td className={`${td} ${num}`}>
                <LineLink line={fill.line} onLine={onLine} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
