/** The columns of the desk: what a watch is, how it stands, and how late it hears. */
import type { WatchSummary } from "@plan-tester/contract";
import { timeframeLabel } from "@plan-tester/core";
import { Link } from "react-router";
import { DASH, duration, money, number, timeAt } from "../../lib/format.ts";
import { Amount } from "../../ui/amount.tsx";
import { At } from "../../ui/at.tsx";
import type { GridColumn } from "../../ui/grid/use-grid.ts";
import { positionText } from "./position-text.ts";
import { StateBadge } from "./state-badge.tsx";

const positionsText = (positions: WatchSummary["positions"], decimalsOf: (symbol: string) => number): string =>
  positions.map((position) => positionText(position, decimalsOf(position.symbol))).join(", ");

/** @param zone in which times are shown @param decimalsOf decimals of an instrument's prices */
export const deskColumns = (zone: string, decimalsOf: (symbol: string) => number): readonly GridColumn<WatchSummary>[] => [
  {
    ...{ key: "name", label: "Watch", width: 170, left: true, grows: true, isFixed: true },
    value: ({ name }) => name,
    show: ({ id, name, planTitle }) => (
      <Link to={`/watches/${id}`} className="font-semibold hover:underline" title={planTitle}>
        {name}
      </Link>
    ),
  },
  {
    ...{ key: "market", label: "Market", width: 120, left: true },
    value: ({ settings }) => `${settings.symbol} ${settings.timeframe}`,
    show: ({ settings }) => (
      <>
        {[settings.symbol, ...settings.alsoOn].join(", ")} <span className="text-soft">{timeframeLabel(settings.timeframe)}</span>
      </>
    ),
  },
  {
    ...{ key: "state", label: "State", width: 118, left: true },
    value: ({ state }) => state,
    show: ({ state, endReason }) => (
      <span title={endReason}>
        <StateBadge state={state} />
      </span>
    ),
  },
  { ...{ key: "mode", label: "Mode", width: 84, left: true }, value: ({ options }) => options.mode, show: ({ options }) => options.mode },
  {
    ...{ key: "position", label: "Position", width: 192, left: true },
    value: ({ positions }) => positionsText(positions, decimalsOf),
    show: ({ positions }) => positionsText(positions, decimalsOf) || DASH,
  },
  {
    ...{ key: "openProfit", label: "Open profit", width: 96, downFirst: true },
    value: ({ openProfit }) => openProfit,
    show: ({ openProfit, positions }) => (positions.length > 0 ? <Amount value={openProfit} /> : DASH),
  },
  {
    ...{ key: "netToday", label: "Today", width: 84, downFirst: true },
    value: ({ netToday }) => netToday,
    show: ({ netToday }) => (netToday === 0 ? DASH : <Amount value={netToday} />),
  },
  {
    ...{ key: "net", label: "Closed net", width: 96, downFirst: true },
    value: ({ net }) => net,
    show: ({ net, trades }) => (trades > 0 ? <Amount value={net} /> : DASH),
  },
  { ...{ key: "trades", label: "Trades", width: 60, downFirst: true }, value: ({ trades }) => trades, show: ({ trades }) => trades },
  {
    ...{ key: "equity", label: "Equity", width: 96, downFirst: true },
    value: ({ equity }) => equity,
    show: ({ equity }) => money(equity),
  },
  {
    ...{ key: "lag", label: "Lag", name: "Lag (95 of 100 answers)", width: 76, downFirst: true },
    value: ({ slowLagMs }) => slowLagMs,
    show: ({ slowLagMs, ageMs }) => (
      <span title={ageMs === null ? "" : `the last bar was ${duration(ageMs)} old, of the venue's clock`}>
        {slowLagMs === null ? DASH : `${number(slowLagMs)} ms`}
      </span>
    ),
  },
  {
    ...{ key: "alerts", label: "Alerts", name: "Alerts that were sent, and that failed", width: 64, downFirst: true },
    value: ({ alerts }) => alerts.sent + alerts.failed,
    text: ({ alerts: { sent, failed } }) => (failed > 0 ? `${sent}, ${failed} failed` : String(sent)),
    show: ({ id, alerts: { sent, failed } }) =>
      sent + failed === 0 ? (
        DASH
      ) : (
        <Link
          to={`/watches/alerts?tab=outcomes&watch=${id}`}
          className={failed > 0 ? "text-warn hover:underline" : "hover:underline"}
          title={`${number(sent)} sent${failed > 0 ? `, ${number(failed)} failed or left out` : ""}`}
        >
          {number(sent)}
          {failed > 0 ? ` + ${number(failed)}!` : ""}
        </Link>
      ),
  },
  {
    ...{ key: "signal", label: "Last order", width: 150, downFirst: true },
    value: ({ lastSignalMs }) => lastSignalMs,
    text: ({ lastSignalMs }) => timeAt(lastSignalMs, zone),
    show: ({ lastSignalMs }) => (lastSignalMs ? <At ms={lastSignalMs} zone={zone} /> : DASH),
  },
];
