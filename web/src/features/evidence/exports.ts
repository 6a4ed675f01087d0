/**
 * What a run holds as CSV. Times stand twice, in UTC and at the exchange, the zone named in the head; money is account
 * currency; numbers are without the tails of sums; a value that is undefined is empty.
 */
import type { RunEvidence, RunOrders } from "@plan-tester/contract";
import { fallsOf, positionColumns } from "@plan-tester/core";
import { type Cell, delimited } from "../../lib/cells.ts";
import { type EvidenceData, exchangeOf } from "../run-view/view.ts";

/** Writes a time twice: in UTC and at the exchange, unless that keeps UTC. */
function timesIn(zone: string) {
  if (zone === "UTC")
    return {
      heads: (name: string): string[] => [`${name} (UTC)`],
      cells: (ms: number): string[] => [Number.isFinite(ms) ? new Date(ms).toISOString() : ""],
    };
  const format = new Intl.DateTimeFormat("sv-SE", { timeZone: zone, dateStyle: "short", timeStyle: "medium" });
  return {
    heads: (name: string): string[] => [`${name} (UTC)`, `${name} (${zone})`],
    cells: (ms: number): string[] => (Number.isFinite(ms) ? [new Date(ms).toISOString(), format.format(ms)] : ["", ""]),
  };
}
/** Every field of a closed trade, but for the rails of a chart. */
export function tradesCsv(trades: RunEvidence["trades"], zone: string): string {
  const { heads, cells } = timesIn(zone);
  const results = ["gross", "commission", "spread", "slippage", "financing", "net", "barsHeld", "mae", "mfe", "risk", "r", "pathDependent"];
  return delimited(
    [
      ...["id", "symbol", "side", "quantity", ...heads("entryTime"), "entryPrice", "entryTag", "entryLine"],
      ...[...heads("exitTime"), "exitPrice", "exitTag", "reason", ...results, "atStake"],
    ],
    trades.map((t) => [
      ...[t.id, t.symbol ?? "", t.side > 0 ? "long" : "short", t.quantity, ...cells(t.entryTime), t.entryPrice, t.entryTag, t.entryLine],
      ...[...cells(t.exitTime), t.exitPrice, t.exitTag, t.reason, t.gross, t.commission, t.spread, t.slippage, t.financing, t.net],
      ...[t.barsHeld, t.mae, t.mfe, t.risk, t.r, t.pathDependent, t.atStake],
    ]),
  );
}

export function ordersCsv({ orders }: Pick<RunOrders, "orders">, zone: string): string {
  const { heads, cells } = timesIn(zone);
  return delimited(
    [
      ...["id", "side", "kind", "intent", "quantity", "price", "tag", "group", "line", ...heads("sent")],
      ...["state", "note", ...heads("filled"), "fillPrice"],
    ],
    orders.map((o) => [
      ...[o.id, o.side > 0 ? "buy" : "sell", o.kind, o.intent, o.quantity, o.price, o.tag, o.group, o.line],
      ...[...cells(o.submittedTime), o.state, o.note, ...cells(o.fillTime), o.fillPrice],
    ]),
  );
}

export function fillsCsv({ fills }: Pick<RunOrders, "fills">, zone: string): string {
  const { heads, cells } = timesIn(zone);
  return delimited(
    ["order", ...heads("time"), "side", "source", "quantity", "price", "commission", "spread", "slippage", "tag", "line"],
    fills.map((f) => [
      ...[f.orderId, ...cells(f.timeMs), f.side > 0 ? "buy" : "sell", f.source, f.quantity, f.price],
      ...[f.commission, f.spread, f.slippage, f.tag, f.line],
    ]),
  );
}

/** Columns by name, one row a bar. `time` holds UTC milliseconds; a column may end before the others. */
export function columnsCsv(time: Float64Array, columns: Readonly<Record<string, Float64Array>>, zone: string): string {
  const names = Object.keys(columns);
  const { heads, cells } = timesIn(zone);
  const rows: (Cell | undefined)[][] = [];
  for (let i = 0; i < time.length; i++) rows.push([...cells(time[i]!), ...names.map((name) => columns[name]![i])]);
  return delimited([...heads("time"), ...names], rows);
}

/** Equity, drawdown and position at each bar close. */
export function equityCsv(run: RunEvidence, data: EvidenceData): string {
  const { bars, equity, source } = data;
  const { units, value } = positionColumns(run.trades, bars, source.instruments);
  const drawdown = fallsOf(equity, run.settings.cash).map((fall) => -fall);
  return columnsCsv(bars.closeTime.subarray(0, equity.length), { equity, drawdown, units, positionValue: value }, exchangeOf(data));
}
