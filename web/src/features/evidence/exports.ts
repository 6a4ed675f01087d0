/** What a run holds as CSV. Times are ISO 8601 in UTC, money is account currency, a value that is undefined is empty. */
import type { RunEvidence, RunOrders } from "@plan-tester/contract";
import { fallsOf, positionColumns } from "@plan-tester/core";
import Papa from "papaparse";
import type { EvidenceData } from "./view.ts";

type Cell = string | number | boolean | null;

const iso = (ms: number): string => (Number.isFinite(ms) ? new Date(ms).toISOString() : "");
const value = (given: number | null | undefined): number | null => (typeof given === "number" && Number.isFinite(given) ? given : null);
// Tags and notes are words of a plan, which may be another's: a spreadsheet must not take them for a formula.
const csv = (fields: readonly string[], data: readonly (readonly Cell[])[]): string =>
  `${Papa.unparse({ fields: [...fields], data: data.map((row) => [...row]) }, { newline: "\n", escapeFormulae: true })}\n`;

/** Every field of a closed trade, but for the rails of a chart. */
export function tradesCsv(trades: RunEvidence["trades"]): string {
  return csv(
    [
      "id",
      "symbol",
      "side",
      "quantity",
      "entryTime",
      "entryPrice",
      "entryTag",
      "entryLine",
      "exitTime",
      "exitPrice",
      "exitTag",
      "reason",
    ].concat([
      "gross",
      "commission",
      "spread",
      "slippage",
      "financing",
      "net",
      "barsHeld",
      "mae",
      "mfe",
      "risk",
      "r",
      "pathDependent",
      "atStake",
    ]),
    trades.map((t) => [
      ...[t.id, t.symbol ?? "", t.side > 0 ? "long" : "short", t.quantity, iso(t.entryTime), t.entryPrice, t.entryTag, t.entryLine],
      ...[iso(t.exitTime), t.exitPrice, t.exitTag, t.reason, t.gross, t.commission, t.spread, t.slippage, value(t.financing), t.net],
      ...[t.barsHeld, t.mae, t.mfe, value(t.risk), value(t.r), t.pathDependent, t.atStake],
    ]),
  );
}

export function ordersCsv({ orders }: Pick<RunOrders, "orders">): string {
  return csv(
    ["id", "side", "kind", "intent", "quantity", "price", "tag", "group", "line", "sent", "state", "note", "filled", "fillPrice"],
    orders.map((o) => [
      ...[o.id, o.side > 0 ? "buy" : "sell", o.kind, o.intent, value(o.quantity), value(o.price), o.tag, o.group, o.line],
      ...[iso(o.submittedTime), o.state, o.note, iso(o.fillTime), value(o.fillPrice)],
    ]),
  );
}

export function fillsCsv({ fills }: Pick<RunOrders, "fills">): string {
  return csv(
    ["order", "time", "side", "source", "quantity", "price", "commission", "spread", "slippage", "tag", "line"],
    fills.map((f) => [
      ...[f.orderId, iso(f.timeMs), f.side > 0 ? "buy" : "sell", f.source, f.quantity, f.price],
      ...[f.commission, f.spread, f.slippage, f.tag, f.line],
    ]),
  );
}

/** Columns by name, one row a bar. `time` holds UTC milliseconds; a column may end before the others. */
export function columnsCsv(time: Float64Array, columns: Readonly<Record<string, Float64Array>>): string {
  const names = Object.keys(columns);
  const rows: Cell[][] = [];
  for (let i = 0; i < time.length; i++) rows.push([iso(time[i]!), ...names.map((name) => value(columns[name]![i]))]);
  return csv(["time", ...names], rows);
}

/** Equity, drawdown and position at each bar close. */
export function equityCsv(run: RunEvidence, { bars, equity, source }: EvidenceData): string {
  const { units, value } = positionColumns(run.trades, bars, source.instruments);
  const drawdown = fallsOf(equity, run.settings.cash).map((fall) => -fall);
  return columnsCsv(bars.closeTime.subarray(0, equity.length), { equity, drawdown, units, positionValue: value });
}

/** A name that any file system takes, e.g. "Kelp fade trades.csv". */
export const fileName = (title: string, ending: string): string => `${title.replace(/[^\w -]+/g, "").trim() || "run"}${ending}`;

/** Hands a text to the browser as a file. */
export function saveFile(name: string, text: string, type = "text/csv"): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([text], { type: `${type};charset=utf-8` }));
  link.download = name;
  link.click();
  URL.revokeObjectURL(link.href);
}
