/** What it made, what it cost in pain, how sure one can be; then the curve. */
import type { RunEvidence } from "@plan-tester/contract";
import { number, percent, signed } from "../../lib/format.ts";
import { cx } from "../../ui/cx.ts";
import { EquityChart } from "./equity-chart.tsx";
import { FigureRow } from "./figure.tsx";
import { Periods } from "./periods.tsx";

export function Summary({ run, currency }: { readonly run: RunEvidence; readonly currency: string }) {
  const { figures, benchmarkFigures } = run;
  const unit = currency === "XSC" ? "crowns" : currency;
  return (
    <div className="flex min-h-full flex-col gap-3 p-3">
      <div className="grid grid-cols-1 gap-y-3 sm:grid-cols-3 sm:divide-x sm:divide-rule [&>section]:sm:px-4 [&>section:first-child]:sm:pl-0 [&>section:last-child]:sm:pr-0">
        <section>
          <h2 className="font-semibold text-[13px] text-soft">What it made</h2>
          <p className="whitespace-nowrap">
            <strong className={cx("font-bold text-[22px]", figures.netProfit > 0 ? "text-gain" : figures.netProfit < 0 ? "text-loss" : "")}>
              {signed(figures.netProfit)}
            </strong>{" "}
            <span className="text-soft">{unit} net</span>
          </p>
          <FigureRow figures={figures} name="totalReturn" />
          <FigureRow figures={figures} name="cagr" />
          <div className="flex items-baseline justify-between gap-3">
            <span className="text-soft">buy and hold</span>
            <span className="font-semibold">{percent(benchmarkFigures.totalReturn)}</span>
          </div>
          <FigureRow figures={figures} name="averageTradeTicks" />
        </section>
        <section>
          <h2 className="font-semibold text-[13px] text-soft">What it cost in pain</h2>
          <p className="whitespace-nowrap">
            <strong className="font-bold text-[22px]">{figures.maxDrawdown > 0 ? number(-figures.maxDrawdown) : "0"}</strong>{" "}
            <span className="text-soft">{percent(figures.maxDrawdownShare)} deepest</span>
          </p>
          <FigureRow figures={figures} name="returnToDrawdown" />
          <FigureRow figures={figures} name="longestDrawdownDays" />
          <FigureRow figures={figures} name="costPerTradeTicks" />
          <FigureRow figures={figures} name="costShare" text="costs took" />
        </section>
        <section>
          <h2 className="font-semibold text-[13px] text-soft">How sure one can be</h2>
          <p className="whitespace-nowrap">
            <strong className="font-bold text-[22px]">{number(figures.sharpe, 2)}</strong>{" "}
            <span className="text-soft">Sharpe · held {number(benchmarkFigures.sharpe, 2)}</span>
          </p>
          <FigureRow figures={figures} name="trades" />
          <FigureRow figures={figures} name="winRate" />
          <FigureRow figures={figures} name="profitFactor" />
          <FigureRow figures={figures} name="sqn" text="SQN" />
        </section>
      </div>
      <EquityChart run={run} className="min-h-56 flex-1" />
      <Periods run={run} />
    </div>
  );
}
