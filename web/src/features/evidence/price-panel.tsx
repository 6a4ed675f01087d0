/** Price with the plan's own columns, trades, orders and conditions; whatever the pointer stands on in figures; the stepper beside it. */
import type { Market, RunEvidence } from "@plan-tester/contract";
import { DAY_MS, lowerBound, type Mark, STRIP } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo } from "react";
import type { View } from "../../charts/pane-chart.ts";
import { clampView, PaneChartView } from "../../charts/pane-chart-view.tsx";
import { seriesOf } from "../../data/bars.ts";
import { queries } from "../../data/queries.ts";
import { useCommands } from "../../lib/commands.ts";
import { number, priceText, timeAt } from "../../lib/format.ts";
import { useKept } from "../../lib/kept.ts";
import { ownTimeWords } from "../../ui/at.tsx";
import { closedBeforeBar } from "../markets/now-words.ts";
import { useStrips } from "../run-view/use-strips.ts";
import type { EvidenceData } from "../run-view/view.ts";
import { StepperPanel } from "../stepper/stepper-panel.tsx";
import { useStepper } from "../stepper/use-stepper.ts";
import { ChartToolbar } from "./chart-toolbar.tsx";
import { usePricePanes } from "./use-price-panes.ts";

export interface PricePanelProps {
  readonly run: RunEvidence;
  readonly data: EvidenceData;
  readonly market: Market | undefined;
  /** Made by hand. */
  readonly marks: readonly Mark[];
  readonly decimals: number;
  readonly tickSize: number;
  readonly selected: number | null;
  readonly onSelect: (trade: number | null) => void;
  readonly onLine: (line: number) => void;
  readonly onPeek: (line: number) => void;
}

const FIRST_BARS = 160;
const UNSET: View = { from: 0, to: -1 };

export function PricePanel({ run, data, market, marks, decimals, tickSize, selected, onSelect, onLine, onPeek }: PricePanelProps) {
  const { settings } = run;
  const { zone } = data;
  const [timeframe, setTimeframe] = useKept<string>(`chart timeframe ${run.planId}`, "");
  const [withStrips, setWithStrips] = useKept("chart strips", false);
  const [isStepping, setStepping] = useKept("chart stepper", false);
  const isOther = timeframe !== "" && timeframe !== settings.timeframe;
  const other = useQuery({
    ...queries.barsOf(run, timeframe),
    enabled: isOther,
  });
  const shown = useMemo(() => (isOther && other.data ? seriesOf(other.data) : null), [isOther, other.data]);
  const orders = useQuery(queries.runOrders(run.id)).data ?? null;
  const strips = useStrips(run, withStrips || isStepping);
  const stepper = useStepper(run, strips.strips, isStepping);
  const { place, panes, trades, own, plots, plotDecimals } = usePricePanes({
    ...{ run, data, shown, orders, marks, selected, decimals, tickSize },
    strips: withStrips ? strips.strips : NO_STRIPS,
  });
  const { time, closeTime, open, high, low, close, length } = place.bars;
  const key = `chart ${run.planId}:${settings.symbol}:${place.bars.timeframe}:${settings.from}:${settings.to}`;
  const [kept, setView] = useKept<View>(key, UNSET);
  const view = kept.to < 0 ? clampView({ from: length - FIRST_BARS, to: length - 1 }, length) : kept;

  const show = (from: number, to: number): void => {
    const middle = (from + to) / 2;
    const half = Math.max(50, (to - from) * 1.1);
    setView((before) => {
      const current = before.to < 0 ? view : before;
      return from >= current.from && to <= current.to && current.to - current.from < half * 6
        ? current
        : clampView({ from: middle - half, to: middle + half }, length);
    });
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: the view moves when another trade is chosen, and only then
  useEffect(() => {
    const trade = own.find((candidate) => candidate.id === selected);
    if (trade) show(place.toView(trade.entryBar), place.toView(trade.exitBar));
  }, [selected, own, length]);
  const cursor = isStepping && stepper.bar !== null ? place.toView(stepper.bar) : null;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the view follows the stepper
  useEffect(() => {
    if (cursor === null || (cursor > view.from + 4 && cursor < view.to - 4)) return;
    const half = (view.to - view.from) / 2;
    setView(clampView({ from: cursor - half, to: cursor + half }, length));
  }, [cursor]);

  const stepTrade = (direction: 1 | -1): void => {
    const at = own.findIndex((trade) => trade.id === selected);
    const next = at < 0 ? own.findIndex((trade) => place.toView(trade.entryBar) >= view.from) : at + direction;
    const trade = own[Math.max(0, Math.min(own.length - 1, next))];
    if (trade) onSelect(trade.id);
  };
  useCommands([
    { id: "step", label: isStepping ? "Close the stepper" : "Step through this run", keys: "Alt+s", act: () => setStepping(!isStepping) },
    {
      id: "strips",
      label: withStrips ? "Hide condition strips" : "Show condition strips",
      keys: "Alt+c",
      act: () => setWithStrips(!withStrips),
    },
    ...(isStepping
      ? [
          { id: "step-on", label: `Step on to the next ${stepper.jump}`, keys: "Alt+ArrowRight", act: () => stepper.go(1) },
          { id: "step-back", label: `Step back to the ${stepper.jump} before`, keys: "Alt+ArrowLeft", act: () => stepper.go(-1) },
          { id: "event-on", label: "Step on by one event", keys: "Alt+Shift+ArrowRight", act: () => stepper.goEvent(1) },
          { id: "event-back", label: "Step back by one event", keys: "Alt+Shift+ArrowLeft", act: () => stepper.goEvent(-1) },
        ]
      : []),
  ]);
  return (
    <div className="flex h-full min-h-0 flex-col">
      <ChartToolbar
        {...{ run, data, market, decimals, timeframe: place.bars.timeframe, withStrips, isStepping, stepTrade }}
        chosen={run.trades.find((trade) => trade.id === selected) ?? null}
        stripsNote={withStrips ? strips.note : ""}
        onTimeframe={setTimeframe}
        onStrips={setWithStrips}
        onStepping={setStepping}
        onAll={() => setView({ from: 0, to: length - 1 })}
        onDate={(ms) => {
          const at = lowerBound(time, ms);
          const half = (view.to - view.from) / 2;
          setView(clampView({ from: at - half * 0.2, to: at + half * 1.8 }, length));
          if (isStepping) stepper.goTo(lowerBound(data.bars.time, ms));
        }}
      />
      <div className="flex min-h-0 flex-1">
        <PaneChartView
          label={`Price of ${settings.symbol}`}
          panes={panes}
          time={time}
          zone={zone}
          view={view}
          onView={setView}
          cursor={cursor}
          className="min-h-0 min-w-0 flex-1"
          onPick={(index, px, x) => {
            onSelect(trades.at(px, { x, from: Math.floor(view.from), to: Math.ceil(view.to) })?.id ?? null);
            if (isStepping) stepper.goTo(Math.max(0, place.toRun(Math.max(0, Math.min(length - 1, index)))));
          }}
          readout={(i) => (
            <>
              {timeAt(time[i], zone)}
              {ownTimeWords(time[i]!, zone)}
              {closeTime[i]! - time[i]! > DAY_MS ? ` – ${timeAt(closeTime[i], zone)}` : ""} · O {priceText(open[i], decimals)} H{" "}
              {priceText(high[i], decimals)} L {priceText(low[i], decimals)} C <strong>{priceText(close[i], decimals)}</strong>
              {run.plots.map((plot, p) => (
                <span key={plot.label}>
                  {" "}
                  · {plot.label} {number(plots[p]?.[i], plotDecimals[p])}
                </span>
              ))}
              {withStrips ? holding(strips.strips, place.toRun(i)) : ""}
              {closedBeforeBar(market?.instrument.calendar, time, i)}
            </>
          )}
        />
        {isStepping ? <StepperPanel {...{ run, stepper, zone, decimals, onLine, onPeek }} strips={strips.strips} bars={data.bars} /> : null}
      </div>
    </div>
  );
}

const NO_STRIPS: readonly never[] = [];

function holding(strips: ReturnType<typeof useStrips>["strips"], bar: number): string {
  const labels = strips.filter(({ values }) => values[bar] === STRIP.yes).map(({ label }) => label);
  return labels.length > 0 ? ` · holds: ${labels.join(", ")}` : " · nothing holds";
}
