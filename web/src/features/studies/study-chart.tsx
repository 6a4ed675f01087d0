/** A study on bars of one of the workspace's markets, over the prices or below them. */
import type { Market } from "@plan-tester/contract";
import { evaluateStudy, expressionOf, type StudyDefinition, timeframeLabel } from "@plan-tester/core";
import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { CandleLayer } from "../../charts/layers.ts";
import type { Pane, View } from "../../charts/pane-chart.ts";
import { clampView, PaneChartView } from "../../charts/pane-chart-view.tsx";
import { type Plot, plotPanes } from "../../charts/plot-panes.ts";
import { seriesOf } from "../../data/bars.ts";
import { offeredTimeframes } from "../../data/markets.ts";
import { queries } from "../../data/queries.ts";
import { number, priceText, rangeDecimals, timeAt } from "../../lib/format.ts";
import { useKept } from "../../lib/kept.ts";
import { Select } from "../../ui/field.tsx";
import { Failure, Loading } from "../../ui/states.tsx";

const SHOWN = 220;
/** Sessions that are read: enough for the longest warm-up of a study as it usually is. */
const DAYS = 400;
const DAY_MS = 86_400_000;

export interface StudyChartProps {
  readonly study: StudyDefinition;
  readonly markets: readonly Market[];
}

export function StudyChart({ study, markets }: StudyChartProps) {
  const [symbol, setSymbol] = useKept("studies market", markets[0]!.instrument.symbol);
  const [wanted, setTimeframe] = useKept("studies timeframe", "1h");
  const market = markets.find(({ instrument }) => instrument.symbol === symbol) ?? markets[0]!;
  const offered = offeredTimeframes(market);
  const timeframe = offered.includes(wanted) ? wanted : (offered[0] ?? market.timeframe);
  const from = new Date(Math.max(Date.parse(market.firstDate), Date.parse(market.lastDate) - DAYS * DAY_MS)).toISOString().slice(0, 10);
  const packed = useQuery(queries.bars(market.instrument.symbol, timeframe, from, market.lastDate));
  const bars = useMemo(() => packed.data && seriesOf(packed.data), [packed.data]);
  return (
    <section aria-label="On a chart" className="flex min-h-96 flex-1 flex-col gap-1">
      <div className="flex items-center gap-2 text-[13px]">
        <Select aria-label="Market" value={market.instrument.symbol} onChange={({ target }) => setSymbol(target.value)} className="w-auto">
          {markets.map(({ instrument }) => (
            <option key={instrument.symbol} value={instrument.symbol}>
              {instrument.symbol}
            </option>
          ))}
        </Select>
        <Select aria-label="Timeframe" value={timeframe} onChange={({ target }) => setTimeframe(target.value)} className="w-auto">
          {offered.map((option) => (
            <option key={option} value={option}>
              {timeframeLabel(option)}
            </option>
          ))}
        </Select>
        <span className="text-soft">{expressionOf(study)}</span>
      </div>
      {packed.error ? <Failure error={packed.error} /> : null}
      {bars ? (
        <Chart key={`${market.instrument.symbol} ${timeframe}`} study={study} market={market} bars={bars} zone={packed.data!.meta.zone} />
      ) : packed.error ? null : (
        <Loading what="bars" />
      )}
    </section>
  );
}

interface ChartProps {
  readonly study: StudyDefinition;
  readonly market: Market;
  readonly bars: ReturnType<typeof seriesOf>;
  readonly zone: string;
}

function Chart({ study, market, bars, zone }: ChartProps) {
  const { decimals, tickSize } = market.instrument;
  const { time, open, high, low, close, length } = bars;
  const [view, setView] = useState<View>(() => clampView({ from: length - SHOWN, to: length - 1 }, length));
  const columns = useMemo(
    () => study.outputs.map((output) => ({ output, values: evaluateStudy(expressionOf(study, output), bars).values })),
    [study, bars],
  );
  const panes = useMemo<Pane[]>(() => {
    const plots = columns.map(({ values }): Plot => {
      const digits = study.pane === "price" ? decimals : rangeDecimals(values.filter((value) => !Number.isNaN(value)));
      return { pane: study.pane, shift: 0, values, format: (value) => number(value, digits) };
    });
    const { over, below } = plotPanes(plots);
    const layers = [new CandleLayer({ open, high, low, close }), ...over];
    return [{ id: "price", weight: 2, format: (value) => priceText(value, decimals), grid: tickSize, layers }, ...joined(below)];
  }, [columns, study, open, high, low, close, decimals, tickSize]);
  return (
    <PaneChartView
      label={`${study.name} on ${market.instrument.symbol}`}
      {...{ panes, time, zone, view }}
      onView={setView}
      className="min-h-80 min-w-0 flex-1"
      readout={(i) => (
        <>
          {timeAt(time[i], zone)} · C {priceText(close[i], decimals)}
          {columns.map(({ output, values }) => ` · ${output} ${number(values[i], 4)}`).join("")}
        </>
      )}
    />
  );
}

/** Outputs of one study share a pane: they are of one unit. */
const joined = (panes: readonly Pane[]): Pane[] =>
  panes.length === 0 ? [] : [{ ...panes[0]!, weight: 1, layers: panes.flatMap(({ layers }) => layers) }];
