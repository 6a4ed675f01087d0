/** An instrument's chart with the studies, marks and measures of one who looks before coding. */
import type { Market } from "@plan-tester/contract";
import { lowerBound, type Mark } from "@plan-tester/core";
import { useCallback, useMemo, useState } from "react";
import type { Drawn } from "../../charts/chart-boxes.tsx";
import { CandleLayer } from "../../charts/layers.ts";
import { MarkLayer } from "../../charts/mark-layer.ts";
import type { Pane, View } from "../../charts/pane-chart.ts";
import { clampView, PaneChartView } from "../../charts/pane-chart-view.tsx";
import { SpanLayer } from "../../charts/span-layer.ts";
import { useCommands } from "../../lib/commands.ts";
import { number, priceText, rangeDecimals, timeAt } from "../../lib/format.ts";
import { useKept } from "../../lib/kept.ts";
import { ownTimeWords } from "../../ui/at.tsx";
import { Button } from "../../ui/button.tsx";
import { MarksPanel } from "../marks/marks-panel.tsx";
import { useMarks } from "../marks/use-marks.ts";
import type { BarColumns } from "./bars-list.tsx";
import { distanceWords, markOf } from "./measure.ts";
import { closedBeforeBar } from "./now-words.ts";
import { studyPanes } from "./study-panes.ts";
import { useDataSpans } from "./use-data-spans.ts";
import type { StudyColumn } from "./use-study-columns.ts";

/** Bars on the chart at first. */
const SHOWN = 200;

const TOOLS = [
  ["look", "Look", "moves"],
  ["measure", "Measure", "measures"],
  ["long", "Mark long", "marks"],
  ["short", "Mark short", "marks"],
] as const;
type Tool = (typeof TOOLS)[number][0];

export interface MarketChartProps {
  readonly market: Market;
  readonly bars: BarColumns;
  readonly zone: string;
  readonly studies: readonly StudyColumn[];
  /** When the bar begins that is shown first; NaN for the last. */
  readonly at: number;
}

export function MarketChart({ market, bars, zone, studies, at }: MarketChartProps) {
  const { instrument } = market;
  const { symbol, decimals, tickSize } = instrument;
  const { time, open, high, low, close, volume } = bars;
  const [view, setView] = useState<View>(() => {
    const last = Number.isNaN(at) ? time.length - 1 : lowerBound(time, at) + SHOWN / 2;
    return clampView({ from: last - SHOWN + 1, to: last }, time.length);
  });
  const [tool, setTool] = useKept<Tool>("market tool", "look");
  const [measured, setMeasured] = useState<Drawn | null>(null);
  const [selected, setSelected] = useState<string | null>(null);
  const marks = useMarks(symbol);
  const spans = useDataSpans(symbol);
  const choose = (next: Tool): void => {
    setTool(next);
    setMeasured(null);
  };
  useCommands([
    { id: "measure", label: "Measure on the chart", keys: "Alt+m", act: () => choose(tool === "measure" ? "look" : "measure") },
    { id: "mark-long", label: "Mark longs on the chart", keys: "Alt+l", act: () => choose(tool === "long" ? "look" : "long") },
    { id: "mark-short", label: "Mark shorts on the chart", keys: "Alt+s", act: () => choose(tool === "short" ? "look" : "short") },
  ]);
  const { over, below } = useMemo(() => studyPanes(studies, { high, low }, decimals), [studies, high, low, decimals]);
  const panes = useMemo<Pane[]>(() => {
    const layers = [
      new CandleLayer({ open, high, low, close }),
      ...over,
      new SpanLayer(spans, time),
      new MarkLayer(marks.marks, time, selected),
    ];
    return [{ id: "price", weight: 3, format: (value) => priceText(value, decimals), grid: tickSize, layers }, ...below];
  }, [open, high, low, close, time, decimals, tickSize, over, below, spans, marks.marks, selected]);

  const show = (mark: Mark): void => {
    setSelected(mark.id);
    const bar = lowerBound(time, mark.entryMs);
    if (bar >= view.from && bar <= view.to) return;
    const half = (view.to - view.from) / 2;
    setView(clampView({ from: bar - half, to: bar + half }, time.length));
  };
  const add = (drawn: Drawn, side: 1 | -1): void => {
    const mark = { id: crypto.randomUUID().slice(0, 12), ...markOf(drawn, side, time, instrument) };
    setSelected(mark.id);
    marks.put(mark);
  };
  const words = useCallback((drawn: Drawn) => distanceWords(drawn, time, instrument), [time, instrument]);
  const numbers = useMemo(
    () =>
      studies.flatMap(({ study, kind, values }) =>
        values ? [{ study, kind, values, digits: Math.max(decimals, rangeDecimals(values)) }] : [],
      ),
    [studies, decimals],
  );
  const isMarking = tool === "long" || tool === "short" || marks.marks.length > 0;
  const drawing =
    tool === "look"
      ? {}
      : {
          drawnWords: words,
          onDraw: (drawn: Drawn) => (tool === "measure" ? setMeasured(drawn) : add(drawn, tool === "long" ? 1 : -1)),
        };
  return (
    <div className="flex min-h-72 min-w-0 flex-1 flex-col">
      <div className="flex items-center gap-2 border-rule border-b px-3 py-1">
        {TOOLS.map(([name, label]) => (
          <Button
            key={name}
            variant="quiet"
            className="h-6 aria-pressed:bg-accent-wash"
            aria-pressed={tool === name}
            onClick={() => choose(name)}
          >
            {label}
          </Button>
        ))}
        <span className="text-[13px] text-soft">
          {tool === "look" ? "Drag to move, wheel to zoom." : `A drag ${TOOLS.find(([name]) => name === tool)![2]}; with Shift it moves.`}
        </span>
      </div>
      <PaneChartView
        label={`Price of ${symbol}`}
        panes={panes}
        time={time}
        zone={zone}
        view={view}
        onView={setView}
        {...drawing}
        drawn={tool === "measure" ? measured : null}
        className="min-h-60 min-w-0 flex-1"
        readout={(i) => (
          <>
            {timeAt(time[i], zone)}
            {ownTimeWords(time[i]!, zone)} · O {priceText(open[i], decimals)} H {priceText(high[i], decimals)} L{" "}
            {priceText(low[i], decimals)} C <strong>{priceText(close[i], decimals)}</strong> · volume {number(volume[i])}
            {numbers.map(({ study, kind, values, digits }) => (
              <span key={study}>
                {" "}
                · {study}{" "}
                {kind === "number" ? number(values[i], digits) : Number.isNaN(values[i]!) ? "not known" : values[i] === 1 ? "yes" : "no"}
              </span>
            ))}
            {closedBeforeBar(instrument.calendar, time, i)}
          </>
        )}
      />
      {isMarking ? (
        <MarksPanel
          {...marks}
          {...{ instrument, bars, zone, selected }}
          onSelect={show}
          onAdd={(side) => {
            const index = Math.max(0, Math.min(time.length - 1, Math.floor(view.to)));
            const point = { index, value: close[index]! };
            add({ from: point, to: point }, side);
          }}
        />
      ) : null}
    </div>
  );
}
