import type { Market, RunEvidence } from "@plan-tester/contract";
import { type Trade, timeframeLabel } from "@plan-tester/core";
import { offeredTimeframes } from "../../data/markets.ts";
import { fileName } from "../../lib/files.ts";
import { priceText, signedMoney, units } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { DateField } from "../../ui/date-field.tsx";
import { Select } from "../../ui/field.tsx";
import { SaveButton } from "../../ui/save-button.tsx";
import { type EvidenceData, exchangeOf } from "../run-view/view.ts";
import { columnsCsv } from "./exports.ts";

export interface ChartToolbarProps {
  readonly run: RunEvidence;
  readonly data: EvidenceData;
  readonly market: Market | undefined;
  readonly decimals: number;
  readonly chosen: Trade | null;
  /** Of the bars that are shown. */
  readonly timeframe: string;
  readonly withStrips: boolean;
  readonly isStepping: boolean;
  readonly stripsNote: string;
  readonly stepTrade: (direction: 1 | -1) => void;
  readonly onTimeframe: (timeframe: string) => void;
  readonly onStrips: (on: boolean) => void;
  readonly onStepping: (on: boolean) => void;
  readonly onAll: () => void;
  readonly onDate: (ms: number) => void;
}

export function ChartToolbar(props: ChartToolbarProps) {
  const { run, data, market, decimals, chosen, timeframe, withStrips, isStepping, stripsNote, stepTrade } = props;
  const { bars, equity, plots } = data;
  const { settings } = run;
  const none = run.trades.length === 0;
  const frames = new Set([...offeredTimeframes(market), settings.timeframe]);
  return (
    <div className="flex min-h-9 flex-wrap items-center gap-x-1.5 px-3 text-[13px]">
      <Button variant="quiet" className="px-1.5" onClick={() => stepTrade(-1)} disabled={none}>
        ‹ Trade
      </Button>
      <Button variant="quiet" className="px-1.5" onClick={() => stepTrade(1)} disabled={none}>
        Trade ›
      </Button>
      <Button variant="quiet" className="px-1.5" onClick={props.onAll}>
        All bars
      </Button>
      <Select
        aria-label="Timeframe of the chart"
        className="h-6 w-auto"
        value={timeframe}
        onChange={(event) => props.onTimeframe(event.target.value)}
      >
        {[...frames].map((frame) => (
          <option key={frame} value={frame}>
            {timeframeLabel(frame)}
            {frame === settings.timeframe ? " (the run's)" : ""}
          </option>
        ))}
      </Select>
      <DateField
        aria-label="Jump to a date"
        placeholder="jump to a date"
        className="w-36"
        value=""
        min={settings.from}
        max={settings.to}
        onChange={(date) => props.onDate(Date.parse(`${date}T00:00:00Z`))}
      />
      <Button
        variant="quiet"
        className="px-1.5"
        aria-pressed={withStrips}
        title="What the plan's conditions were on every bar (Alt+C)"
        onClick={() => props.onStrips(!withStrips)}
      >
        {withStrips ? "Hide conditions" : "Conditions"}
      </Button>
      <Button
        variant="quiet"
        className="px-1.5"
        aria-pressed={isStepping}
        title="Walk through the run bar by bar (Alt+S)"
        onClick={() => props.onStepping(!isStepping)}
      >
        {isStepping ? "Close stepper" : "Step"}
      </Button>
      <SaveButton
        label="Save bars"
        name={fileName(run.title, " bars.csv")}
        make={() =>
          columnsCsv(
            bars.time,
            {
              ...{ open: bars.open, high: bars.high, low: bars.low, close: bars.close, volume: bars.volume },
              ...Object.fromEntries(run.plots.map((plot, p) => [plot.label, plots[`plot${p}`] ?? new Float64Array(0)])),
              equity,
            },
            exchangeOf(data),
          )
        }
      />
      {stripsNote ? <span className="text-soft">{stripsNote}</span> : null}
      {chosen ? (
        <span data-testid="chosen-trade">
          {chosen.side > 0 ? "Long" : "Short"} {units(chosen.quantity)} {chosen.entryTag ? `“${chosen.entryTag}” ` : ""}
          {priceText(chosen.entryPrice, decimals)} → {priceText(chosen.exitPrice, decimals)} by {chosen.reason},{" "}
          <strong>{signedMoney(chosen.net)}</strong>
        </span>
      ) : null}
    </div>
  );
}
