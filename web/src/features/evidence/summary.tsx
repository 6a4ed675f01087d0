/** What it made, what it cost in pain, how sure one can be; then the curve. */
import type { FirstFigures, RunEvidence } from "@plan-tester/contract";
import { drawdowns } from "@plan-tester/core";
import { type ReactNode, useMemo } from "react";
import { currencyWord } from "../../data/markets.ts";
import { money, number, percent, signedMoney } from "../../lib/format.ts";
import { cx } from "../../ui/cx.ts";
import { type EvidenceData, type EvidenceView, type Stretch, stretchOfBars, useEvidenceActs } from "../run-view/view.ts";
import { contradictions } from "./contradictions.ts";
import { EquityChart } from "./equity-chart.tsx";
import { FigureRow } from "./figure.tsx";
import { standing } from "./standing.ts";

export interface SummaryProps {
  readonly run: RunEvidence;
  readonly view: EvidenceView;
  readonly data: EvidenceData | null;
  readonly stretch: Stretch | null;
  /** What the run that is being made came to: its figures take the place of the last ones, the rest stays until it is there. */
  readonly next: FirstFigures | null;
  readonly currency: string;
}

function Headline({ value, tone, children }: { readonly value: string; readonly tone?: string; readonly children: ReactNode }) {
  return (
    <p className="truncate">
      <strong className={cx("font-bold text-[22px]", tone)}>{value}</strong> <span className="text-[13px] text-soft">{children}</span>
    </p>
  );
}

const NOTHING_BEHIND = { trades: [], daily: { dates: [], equity: [] } };

export function Summary({ run, view: whole, data, stretch, next, currency }: SummaryProps) {
  // Trades and days of the last run don't stand behind figures of the next.
  const view = next ? { ...whole, ...next, ...NOTHING_BEHIND } : whole;
  const { figures, benchmarkFigures } = view;
  const acts = useEvidenceActs();
  const isBasket = run.settings.alsoOn.length > 0;
  const unit = currencyWord(currency);
  const deepest = useMemo(() => {
    if (!data) return null;
    const { bars, equity } = data;
    const { start, low } = drawdowns(equity, run.settings.cash, bars.closeTime, bars.time[0]!).money;
    return low < 0 ? null : { from: Math.max(0, start), to: low };
  }, [data, run.settings.cash]);
  const endMs = stretch ? stretch.toMs : run.lastMs;
  const sentences = useMemo(() => [...standing(whole, endMs), ...contradictions(whole)], [whole, endMs]);
  return (
    <div className="flex min-h-full flex-col gap-2 p-3">
      <div className="grid grid-cols-1 gap-y-3 sm:grid-cols-3 sm:divide-x sm:divide-rule [&>section]:sm:px-4 [&>section:first-child]:sm:pl-0 [&>section:last-child]:sm:pr-0">
        <section>
          <h2 className="font-semibold text-[13px] text-soft">What it made</h2>
          <Headline
            value={signedMoney(figures.netProfit)}
            tone={figures.netProfit > 0 ? "text-gain" : figures.netProfit < 0 ? "text-loss" : ""}
          >
            {unit} net
          </Headline>
          <FigureRow view={view} name="totalReturn" />
          <FigureRow view={view} name="cagr" />
          <div className="flex items-baseline justify-between gap-3">
            <span className="text-soft">buy and hold{isBasket ? ` of ${run.settings.symbol}` : ""}</span>
            <span className="font-semibold">{percent(benchmarkFigures.totalReturn)}</span>
          </div>
          <FigureRow view={view} name="averageTradeTicks" {...(isBasket ? { text: "average trade, own ticks" } : {})} />
        </section>
        <section>
          <h2 className="font-semibold text-[13px] text-soft">What it cost in pain</h2>
          <Headline value={figures.maxDrawdown > 0 ? money(-figures.maxDrawdown) : "0"}>
            {deepest && data && !stretch && !next ? (
              <button
                type="button"
                className="underline decoration-dotted underline-offset-3 hover:text-accent"
                title="Look at the period from its peak to its low"
                onClick={() => acts.showStretch(stretchOfBars(deepest.from, deepest.to, data))}
              >
                {percent(figures.maxDrawdownShare)} deepest
              </button>
            ) : (
              `${percent(figures.maxDrawdownShare)} deepest`
            )}
          </Headline>
          <FigureRow view={view} name="returnToDrawdown" />
          <FigureRow view={view} name="longestDrawdownDays" />
          <FigureRow view={view} name="costPerTradeTicks" />
          <FigureRow view={view} name="costShare" text="costs took" />
        </section>
        <section>
          <h2 className="font-semibold text-[13px] text-soft">How reliable it is</h2>
          <Headline value={number(figures.sharpe, 2)}>Sharpe · buy and hold {number(benchmarkFigures.sharpe, 2)}</Headline>
          <FigureRow view={view} name="trades" />
          <FigureRow view={view} name="winRate" />
          <FigureRow view={view} name="profitFactor" />
          <FigureRow view={view} name="sqn" text="SQN" />
        </section>
      </div>
      <p className={cx("text-[13px] text-soft", next && "opacity-70")}>{sentences.join(" ")}</p>
      {data ? <EquityChart run={run} data={data} stretch={stretch} className={cx("min-h-64 flex-1", next && "opacity-70")} /> : null}
    </div>
  );
}
