/** Excursions with a stop and a target that can be moved, and what costs would change: answers without a new run. */
import { excursionTicks, type Instrument, isTradeIn, type WhatIf, type WhatIfResult, whatIf } from "@plan-tester/core";
import { useMemo } from "react";
import { ScatterChart } from "../../charts/scatter-chart.tsx";
import { number, signed, signedMoney } from "../../lib/format.ts";
import { useKept } from "../../lib/kept.ts";
import { Button } from "../../ui/button.tsx";
import { NumberInput } from "../../ui/number-field.tsx";
import { num, td, th } from "../../ui/page.tsx";
import { Empty, Loading } from "../../ui/states.tsx";
import { type EvidenceData, type EvidenceView, filterOf, useEvidenceActs } from "../run-view/view.ts";
import { CostsPart } from "./costs-part.tsx";

export interface WhatIfTabProps {
  readonly view: EvidenceView;
  readonly data: EvidenceData | null;
  readonly planId: string;
  /** Runs the plan with these exits laid over it; left out where nothing can be run. */
  readonly onTry?: (levels: WhatIf) => void;
}

const NONE: WhatIf = { stopTicks: null, targetTicks: null };

export function WhatIfTab({ view, data, planId, onTry }: WhatIfTabProps) {
  if (!data) return <Loading what="the paths of the trades" />;
  if (view.trades.length === 0) return <Empty title="No trades">There is nothing to ask of a run without trades.</Empty>;
  return (
    <div className="flex flex-col gap-4 p-3">
      <Excursions view={view} data={data} planId={planId} {...(onTry ? { onTry } : {})} />
      <CostsPart view={view} />
    </div>
  );
}

function Excursions({ view, data, planId, onTry }: WhatIfTabProps & { readonly data: EvidenceData }) {
  const acts = useEvidenceActs();
  const [levels, setLevels] = useKept<WhatIf>(`what if ${planId}`, NONE);
  const instrument = data.source.instruments[0]!;
  const own = useMemo(() => view.trades.filter((trade) => isTradeIn(trade, instrument)), [view.trades, instrument]);
  const points = useMemo(() => pointsOf(own, instrument), [own, instrument]);
  const asRun = useMemo(() => whatIf(own, data.bars, instrument, NONE), [own, data.bars, instrument]);
  const asked = useMemo(() => whatIf(own, data.bars, instrument, levels), [own, data.bars, instrument, levels]);
  const isAsked = levels.stopTicks !== null || levels.targetTicks !== null;
  const pick = (index: number): void => acts.openTrade(own[index]!.id);
  return (
    <section className="flex flex-col gap-2">
      <div className="flex flex-wrap items-baseline justify-between gap-2">
        <h2 className="font-semibold text-[13px]">Your own stop or target, tried on the trades that were made</h2>
        <div className="flex gap-1">
          <Button disabled={!isAsked} onClick={() => setLevels(NONE)}>
            Clear both
          </Button>
          {onTry ? (
            <Button variant="primary" disabled={!isAsked} onClick={() => onTry(levels)}>
              Run with these exits
            </Button>
          ) : null}
        </div>
      </div>
      <div className="grid grid-cols-1 gap-3 md:grid-cols-2">
        {(["stopTicks", "targetTicks"] as const).map((level) => {
          const isStop = level === "stopTicks";
          const xs = isStop ? points.adverse : points.favourable;
          const set = (value: number | null): void =>
            setLevels({ ...levels, [level]: value === null || !(value > 0) ? null : Math.max(1, Math.round(value)) });
          return (
            <div key={level} className="flex flex-col gap-1">
              <ScatterChart
                label={`${isStop ? "Adverse" : "Favourable"} excursion against result, ${own.length} trades; the table below says the same`}
                x={xs}
                y={points.net}
                xTitle={`${isStop ? "adverse" : "favourable"} excursion, ticks`}
                yTitle="net, ticks"
                line={levels[level]}
                onLine={set}
                onPick={pick}
                className="h-52"
              />
              <LevelRow
                label={isStop ? "Stop" : "Target"}
                value={levels[level]}
                most={Math.ceil(xs.reduce((most, value) => Math.max(most, value), 1))}
                onChange={set}
              />
            </div>
          );
        })}
      </div>
      <WhatIfTable asRun={asRun} asked={asked} trades={own.length} />
      {isAsked ? (
        <p className="text-[13px] text-soft">
          {number(asked.stopped)} trades would have met the stop and {number(asked.targeted)} the target.{" "}
          <button
            type="button"
            className="text-accent underline underline-offset-3"
            onClick={() => {
              const changed = new Set(asked.trades.filter(({ by }) => by !== "own").map(({ id }) => id));
              acts.showTrades(
                filterOf(
                  "ended by the asked levels",
                  own.filter(({ id }) => changed.has(id)),
                ),
              );
            }}
          >
            List them
          </button>
          . A run may differ: flat sooner, the plan may enter again; sizes may follow equity or the stop; inside one bar the stop is taken
          to come first.
        </p>
      ) : (
        <p className="text-[13px] text-soft">
          Each mark is a trade: a ring for a gain, a cross for a loss. Move a line by dragging in a chart or with the slider; a click on a
          mark opens its trade.
        </p>
      )}
    </section>
  );
}

function pointsOf(trades: EvidenceView["trades"], instrument: Instrument) {
  const adverse = new Float64Array(trades.length);
  const favourable = new Float64Array(trades.length);
  const net = new Float64Array(trades.length);
  trades.forEach((trade, i) => {
    const excursion = excursionTicks(trade, instrument);
    adverse[i] = excursion.adverse;
    favourable[i] = excursion.favourable;
    net[i] = trade.net / (trade.quantity * instrument.tickSize * instrument.pointValue);
  });
  return { adverse, favourable, net };
}

interface LevelRowProps {
  readonly label: string;
  readonly value: number | null;
  readonly most: number;
  readonly onChange: (value: number | null) => void;
}

function LevelRow({ label, value, most, onChange }: LevelRowProps) {
  return (
    <div className="flex items-center gap-2 text-[13px]">
      <span className="w-12 text-soft">{label}</span>
      <input
        type="range"
        aria-label={`${label}, ticks, slider`}
        className="min-w-0 flex-1 accent-(--accent)"
        min={0}
        max={most}
        value={value ?? 0}
        onChange={(event) => onChange(Number(event.target.value))}
      />
      <NumberInput
        aria-label={`${label}, ticks`}
        className="w-20 text-right"
        placeholder="none"
        value={value}
        min={0}
        onChange={onChange}
        onEmpty={() => onChange(null)}
      />
      <span className="text-soft">ticks</span>
    </div>
  );
}

function WhatIfTable({ asRun, asked, trades }: { readonly asRun: WhatIfResult; readonly asked: WhatIfResult; readonly trades: number }) {
  const rows: readonly (readonly [string, number, number, (value: number) => string])[] = [
    ["Net profit", asRun.net, asked.net, signed],
    ["Winning trades", asRun.wins, asked.wins, number],
    ["Average trade", asRun.net / trades, asked.net / trades, signed],
    ["Closed-trade drawdown", asRun.closedTradeDrawdown, asked.closedTradeDrawdown, number],
  ];
  return (
    <table className="w-full max-w-xl text-[13px]">
      <thead>
        <tr>
          <th className={th}>{number(trades)} trades</th>
          <th className={`${th} ${num}`}>As run</th>
          <th className={`${th} ${num}`}>Asked</th>
          <th className={`${th} ${num}`}>Change</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(([label, before, now, show]) => (
          <tr key={label}>
            <th scope="row" className={`${td} text-left font-normal`}>
              {label}
            </th>
            <td className={`${td} ${num}`}>{show(before)}</td>
            <td className={`${td} ${num} font-semibold`} data-testid={label === "Net profit" ? "what-if-net" : undefined}>
              {show(now)}
            </td>
            <td className={`${td} ${num} ${now >= before === (label !== "Closed-trade drawdown") ? "text-gain" : "text-loss"}`}>
              {now === before ? "" : signedMoney(now - before)}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
