/** Equity with drawdown below it and what one wants beside it. Dragging looks at a period only. */
import type { RunEvidence } from "@plan-tester/contract";
import { fallsOf, positionColumns, regimeLabels, type Trade } from "@plan-tester/core";
import { useMemo } from "react";
import { CurveKey } from "../../charts/curve-key.tsx";
import { LineLayer, type TokenName } from "../../charts/layers.ts";
import type { Pane, View } from "../../charts/pane-chart.ts";
import { PaneChartView } from "../../charts/pane-chart-view.tsx";
import { stripPanes } from "../../charts/plot-panes.ts";
import { fileName } from "../../lib/files.ts";
import { money, number, rangeDecimals, timeAt } from "../../lib/format.ts";
import { useKept } from "../../lib/kept.ts";
import { Button } from "../../ui/button.tsx";
import { Popover } from "../../ui/popover.tsx";
import { SaveButton } from "../../ui/save-button.tsx";
import { barsOf, type EvidenceData, type Stretch, stretchOfBars, useEvidenceActs } from "../run-view/view.ts";
import { REGIME_KINDS, stateStrips } from "../trust/market-states.ts";
import { regimeQuestion } from "../trust/regime-question.ts";
import { equityCsv } from "./exports.ts";

const OPTIONS = [
  ["benchmark", "buy and hold"],
  ["sides", "long and short apart"],
  ["instruments", "instruments apart"],
  ["value", "position value"],
  ["margin", "margin used"],
  ["log", "log scale"],
  ["volatility", "the market’s volatility, in thirds"],
  ["trend", "the market’s trend, in thirds"],
] as const;
type Option = (typeof OPTIONS)[number][0];

/** A row of a state beside the weight 3 of the curve. */
const STATE_WEIGHT = 0.24;
const FIRST_OPTIONS: readonly Option[] = ["benchmark"];

export interface EquityChartProps {
  readonly run: RunEvidence;
  readonly data: EvidenceData;
  readonly stretch: Stretch | null;
  readonly className?: string;
}

interface Curve {
  readonly label: string;
  readonly values: Float64Array;
  readonly color: TokenName;
  readonly width: number;
  readonly dash: readonly number[];
}

/** Starting cash and what a part of the trades has brought, at each close. */
function balanceOf(trades: readonly Trade[], closeTime: Float64Array, length: number, capital: number): Float64Array {
  const result = new Float64Array(length);
  let k = 0;
  let balance = capital;
  for (let i = 0; i < length; i++) {
    while (k < trades.length && trades[k]!.exitTime <= closeTime[i]!) balance += trades[k++]!.net;
    result[i] = balance;
  }
  return result;
}

const PART_LOOKS: readonly Pick<Curve, "color" | "width" | "dash">[] = [
  { color: "gain", width: 1.2, dash: [] },
  { color: "loss", width: 1.2, dash: [6, 3] },
  { color: "accent", width: 1.2, dash: [2, 2] },
  { color: "soft", width: 1.2, dash: [8, 2, 2, 2] },
];

function useCurves(run: RunEvidence, { bars, equity }: EvidenceData, options: ReadonlySet<Option>): Curve[] {
  const capital = run.settings.cash;
  return useMemo(() => {
    const curves: Curve[] = [];
    const { closeTime, close, open } = bars;
    if (options.has("benchmark"))
      curves.push({
        label: "buy and hold",
        values: close.subarray(0, equity.length).map((price) => (price / open[0]!) * capital),
        ...{ color: "faint", width: 1, dash: [] },
      });
    const part = (label: string, keep: (trade: Trade) => boolean): void => {
      const values = balanceOf(run.trades.filter(keep), closeTime, equity.length, capital);
      curves.push({ label, values, ...PART_LOOKS[(curves.length - (options.has("benchmark") ? 1 : 0)) % PART_LOOKS.length]! });
    };
    if (options.has("sides")) {
      part("long trades", ({ side }) => side > 0);
      part("short trades", ({ side }) => side < 0);
    }
    if (options.has("instruments"))
      for (const symbol of new Set(run.trades.map((trade) => trade.symbol)))
        part(symbol || run.settings.symbol, (trade) => trade.symbol === symbol);
    curves.push({ label: "equity", values: equity, color: "ink", width: 1.6, dash: [] });
    return curves;
  }, [run, bars, equity, options, capital]);
}

export function EquityChart({ run, data, stretch, className }: EquityChartProps) {
  const { bars, equity, zone } = data;
  const acts = useEvidenceActs();
  const [chosen, setChosen] = useKept<readonly Option[]>("equity options", FIRST_OPTIONS);
  const options = useMemo(() => new Set(chosen), [chosen]);
  const [view, setView] = useKept<View>(`equity view ${run.id}`, WHOLE);
  const shown = view.to < 0 ? { from: 0, to: equity.length - 1 } : view;
  const curves = useCurves(run, data, options);
  const drawdown = useMemo(() => fallsOf(equity, run.settings.cash), [equity, run.settings.cash]);
  const wantsValue = options.has("value") || options.has("margin");
  const value = useMemo(
    () => (wantsValue ? positionColumns(run.trades, bars, data.source.instruments).value.subarray(0, equity.length) : null),
    [wantsValue, run, bars, data, equity],
  );
  const margin = useMemo(() => (options.has("margin") && value ? marginOf(run, data, value) : null), [options, run, data, value]);
  const states = useMemo(() => {
    const kinds = REGIME_KINDS.filter((kind) => options.has(kind));
    const question = kinds.length > 0 ? regimeQuestion(run, bars, 1) : null;
    return question ? kinds.flatMap((kind) => stateStrips(regimeLabels(question, kind), kind, run.daily.dates, bars)) : [];
  }, [options, run, bars]);
  const panes = useMemo<Pane[]>(() => {
    const isLog = options.has("log") && curves.every(({ values }) => values.every((v) => v > 0));
    const layers = curves.map(({ values, ...look }) => new LineLayer(isLog ? values.map(Math.log10) : values, look));
    const decimals = rangeDecimals(equity);
    const axis = (v: number): string => number(v, decimals);
    const below = (id: string, values: Float64Array): Pane => ({
      id,
      weight: 1,
      format: axis,
      layers: [new LineLayer(values, { color: "accent", width: 1, fillTo: 0, fill: "accent-wash" })],
    });
    return [
      { id: "equity", weight: 3, format: (v) => axis(isLog ? 10 ** v : v), layers },
      {
        id: "drawdown",
        weight: 1,
        max: 0,
        format: axis,
        layers: [new LineLayer(drawdown, { color: "loss", width: 1, fillTo: 0, fill: "loss-wash" })],
      },
      ...(options.has("value") && value ? [below("value", value)] : []),
      ...(margin ? [below("margin", margin)] : []),
      ...stripPanes(states, STATE_WEIGHT),
    ];
  }, [curves, drawdown, value, margin, states, options, equity]);
  const marked = stretch ? barsOf(stretch, data) : null;
  const time = useMemo(() => bars.closeTime.subarray(0, equity.length), [bars, equity]);
  return (
    <div className={`relative flex flex-col ${className ?? ""}`}>
      <div className="flex flex-wrap items-center gap-x-4 text-[12px] text-soft">
        {curves.map(({ label, color, dash }) => (
          <CurveKey key={label} {...{ color, dash }}>
            {label}
          </CurveKey>
        ))}
        <span className="before:mr-1.5 before:inline-block before:size-2 before:border before:border-loss before:bg-loss-wash">
          drawdown
        </span>
        <span className="flex-1" />
        <Popover
          align="end"
          trigger={
            <Button variant="quiet" className="h-6 px-1.5">
              Curves
            </Button>
          }
        >
          <fieldset className="flex flex-col gap-1">
            <legend className="font-semibold">Shown with equity</legend>
            {OPTIONS.map(([option, label]) => (
              <label key={option} className="flex items-center gap-2">
                <input
                  type="checkbox"
                  checked={options.has(option)}
                  onChange={(event) => setChosen(event.target.checked ? [...chosen, option] : chosen.filter((other) => other !== option))}
                />
                {label}
                {option === "margin" && !run.settings.margin ? " (the run sets none)" : ""}
              </label>
            ))}
          </fieldset>
        </Popover>
        <SaveButton label="Save equity" name={fileName(run.title, " equity.csv")} make={() => equityCsv(run, data)} />
      </div>
      <PaneChartView
        label="Equity, drawdown and buy and hold. Dragging looks at a period only"
        panes={panes}
        time={time}
        zone={zone}
        view={shown}
        onView={setView}
        marked={marked}
        onBrush={(from, to) => to > from && acts.showStretch(stretchOfBars(from, to, data))}
        className="min-h-0 flex-1"
        readout={(i) => (
          <>
            {timeAt(time[i], zone)} · drawdown {money(drawdown[i])}
            {curves.map(({ label, values }) => (
              <span key={label}>
                {" "}
                · {label} <strong>{money(values[i])}</strong>
              </span>
            ))}
            {options.has("value") ? <> · position {money(value?.[i])}</> : null}
          </>
        )}
      />
    </div>
  );
}

const WHOLE: View = { from: 0, to: -1 };

/** Margin that open positions took, by the run's own rule; null where it sets none. */
function marginOf({ settings }: RunEvidence, { bars, source }: EvidenceData, value: Float64Array): Float64Array | null {
  const { margin } = settings;
  if (!margin) return null;
  const { pointValue } = source.instruments[0]!;
  return value.map((worth, i) =>
    margin.by === "leverage" ? worth / margin.value : (worth / (bars.close[i]! * pointValue)) * margin.value,
  );
}
