/** The live chart of a watch: follows the last bar until one looks back; further back there is more. */
import type { WatchDetail } from "@plan-tester/contract";
import { lowerBound } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import type { View } from "../../charts/pane-chart.ts";
import { clampView, PaneChartView } from "../../charts/pane-chart-view.tsx";
import { instrumentOf, useMarkets } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { number, priceText, timeAt } from "../../lib/format.ts";
import { useKept } from "../../lib/kept.ts";
import { ownTimeWords } from "../../ui/at.tsx";
import { Button } from "../../ui/button.tsx";
import { closedBeforeBar } from "../markets/now-words.ts";
import { type BarsRead, FIRST_BARS, MAX_BARS, readNext } from "./chart-window.ts";
import { levelsOf, watchPanes } from "./watch-panes.ts";

export interface WatchChartProps {
  readonly watch: WatchDetail;
  readonly zone: string;
  readonly decimals: number;
  readonly tickSize: number;
}

const FIRST_SPAN = 110;
/** Room at the right of the last bar. */
const AHEAD = 6;

/** Where one looks: so many bars that end with the last one, or at a time. */
interface Looking {
  readonly span: number;
  readonly endMs: number | null;
}

export function WatchChart({ watch, zone, decimals, tickSize }: WatchChartProps) {
  const { id, settings } = watch;
  const [read, setRead] = useState<BarsRead>({ bars: FIRST_BARS, until: 0 });
  const [looking, setLooking] = useState<Looking>({ span: FIRST_SPAN, endMs: null });
  const [withStrips, setWithStrips] = useKept("watch chart strips", false);
  const { data: chart, isPlaceholderData } = useQuery(queries.watchChart(id, read.bars, read.until));
  const calendar = instrumentOf(useMarkets(), settings.symbol)?.calendar;
  const trades = useQuery(queries.watchTrades(id, watch.trades)).data;
  // Of a watch that is told anew several times a second only what is drawn matters.
  const levelsText = JSON.stringify(levelsOf(watch, decimals));
  const panes = useMemo(
    () =>
      chart
        ? watchPanes({
            chart,
            trades: trades ?? [],
            symbol: settings.symbol,
            levels: JSON.parse(levelsText),
            withStrips,
            decimals,
            tickSize,
          })
        : [],
    [chart, trades, settings.symbol, levelsText, withStrips, decimals, tickSize],
  );
  const time = chart?.columns.time;
  const length = time?.length ?? 0;
  const to = !time || looking.endMs === null ? length - 1 + AHEAD : lowerBound(time, looking.endMs);
  const view: View = { from: to - looking.span, to };
  useEffect(() => {
    if (chart && time && !isPlaceholderData) setRead((now) => readNext(now, { time, ...chart.meta }, view, looking.endMs === null));
  });
  if (!chart || !time) return <p className="p-4 text-soft">The chart comes as soon as the plan has started.</p>;
  const look = ({ from, to: end }: View): void => {
    const next = clampView({ from, to: end }, length + AHEAD);
    const follows = chart.meta.isLast && next.to >= length - 1.5;
    setLooking({
      span: next.to - next.from,
      endMs: follows ? null : (time[Math.min(length - 1, Math.max(0, Math.round(next.to)))] ?? null),
    });
  };
  const follow = (): void => {
    setLooking({ ...looking, endMs: null });
    // What was looked back to need not be read again every second.
    setRead({ bars: Math.min(MAX_BARS, Math.max(FIRST_BARS, 2 * Math.ceil(looking.span))), until: 0 });
  };
  const { open, high, low, close } = chart.columns;
  return (
    <div className="flex h-full min-h-0 flex-col">
      <div className="flex items-center gap-2 px-3 py-1 text-[13px]">
        <span className="flex-1 text-soft">
          {looking.endMs === null ? "Follows the last bar" : "Looking back"}
          {looking.endMs === null && chart.meta.isForming ? "; it is still forming" : ""}
        </span>
        {chart.meta.strips.length > 0 ? (
          <Button variant="quiet" className="h-6" aria-pressed={withStrips} onClick={() => setWithStrips(!withStrips)}>
            {withStrips ? "Hide conditions" : "Conditions"}
          </Button>
        ) : null}
        <Button variant="quiet" className="h-6" disabled={looking.endMs === null} onClick={follow}>
          To the last bar
        </Button>
      </div>
      <PaneChartView
        label={`Live price of ${settings.symbol}`}
        {...{ panes, time, zone, view }}
        onView={look}
        className="min-h-0 flex-1"
        readout={(i) => (
          <>
            {timeAt(time[i], zone)}
            {ownTimeWords(time[i]!, zone)} · O {priceText(open?.[i], decimals)} H {priceText(high?.[i], decimals)} L{" "}
            {priceText(low?.[i], decimals)} C <strong>{priceText(close?.[i], decimals)}</strong>
            {chart.meta.isForming && i === length - 1 ? " so far" : ""}
            {chart.meta.plots.map(({ label }, k) => (
              <span key={label}>
                {" "}
                · {label} {number(chart.columns[`plot${k}`]?.[i], decimals)}
              </span>
            ))}
            {closedBeforeBar(calendar, time, i)}
          </>
        )}
      />
    </div>
  );
}
