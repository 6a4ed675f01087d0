/** Figures of several runs, the best of each marked, and by how much the others fall short of the first. */
import type { RunEvidence } from "@plan-tester/contract";
import type { RunFigures } from "@plan-tester/core";
import { Check } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { number, signed } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { num, td, th } from "../../ui/page.tsx";
import { FIGURES, figureNamed } from "../evidence/definitions.ts";
import { headsOf, nameOf } from "./names.ts";

/** Figures of which more, or less, is better; of others no best is marked. */
const BETTER: Partial<Record<keyof RunFigures, 1 | -1>> = {
  ...{
    netProfit: 1,
    totalReturn: 1,
    cagr: 1,
    averageTrade: 1,
    averageTradeTicks: 1,
    averageTradeR: 1,
    returnToDrawdown: 1,
    calmar: 1,
    martinRatio: 1,
  },
  ...{ sharpe: 1, sortino: 1, profitFactor: 1, payoffRatio: 1, winRate: 1, sqn: 1, edgeRatio: 1, alpha: 1 },
  ...{ maxDrawdown: -1, maxDrawdownShare: -1, closedTradeDrawdown: -1, longestDrawdownDays: -1, ulcerIndex: -1, volatility: -1 },
  ...{ costs: -1, costShare: -1, giveBack: -1, longestLosingStreak: -1, pathDependentTrades: -1 },
};

const MAIN: readonly (keyof RunFigures)[] = [
  ...(["netProfit", "totalReturn", "maxDrawdown", "maxDrawdownShare", "returnToDrawdown", "sharpe", "trades", "winRate"] as const),
  ...(["profitFactor", "averageTradeTicks", "costPerTradeTicks", "sqn", "longestDrawdownDays", "exposure", "pathDependentTrades"] as const),
];

const isAlike = (a: number | null, b: number | null): boolean =>
  a === b || (Number.isFinite(a) && Number.isFinite(b) && Math.abs(a! - b!) <= 1e-9 * Math.max(Math.abs(a!), Math.abs(b!)));

function bestOf(values: readonly (number | null)[], sign: 1 | -1 | undefined): number {
  if (!sign) return -1;
  let best = -1;
  values.forEach((value, k) => {
    if (value !== null && (best < 0 || value * sign > values[best]! * sign)) best = k;
  });
  // Where all are alike, but for rounding, there is no best.
  return best >= 0 && values.some((value) => !isAlike(value, values[best]!)) ? best : -1;
}

export function FiguresCompared({ runs }: { readonly runs: readonly RunEvidence[] }) {
  const [all, setAll] = useState(false);
  const heads = headsOf(runs);
  const names = all ? FIGURES.map(({ key }) => key) : MAIN;
  return (
    <section className="overflow-x-auto">
      <table className="text-[13px]">
        <thead>
          <tr>
            <th className={th}>Figure</th>
            {runs.map((run, k) => (
              <th key={run.id} className={`${th} ${num} max-w-44 truncate`} scope="col">
                <span aria-hidden>{k + 1} · </span>
                <Link to={`/runs/${run.id}`} className="hover:underline" title={nameOf(run)}>
                  {heads[k]}
                </Link>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {names.map((name) => {
            const { label, text, definition } = figureNamed(name);
            const values = runs.map((run) => run.figures[name]);
            const best = bestOf(values, BETTER[name]);
            return (
              <tr key={name} className="hover:bg-sunk">
                <th scope="row" className={`${td} text-left font-normal`} title={definition}>
                  {label}
                </th>
                {values.map((value, k) => (
                  <td key={runs[k]!.id} className={`${td} ${num} ${k === best ? "bg-accent-wash font-semibold" : ""}`}>
                    {k === best ? <Check size={12} className="mr-1 inline text-accent" aria-label="best" /> : null}
                    {text(value)}
                    {k > 0 ? <span className="ml-1 text-[11px] text-soft">{difference(values[0], value)}</span> : null}
                  </td>
                ))}
              </tr>
            );
          })}
        </tbody>
      </table>
      <Button variant="quiet" onClick={() => setAll(!all)}>
        {all ? "Main figures only" : `All ${number(FIGURES.length)} figures`}
      </Button>
    </section>
  );
}

/** How far from the first run, in percent of it. */
function difference(first: number | null | undefined, value: number | null): string {
  if (first === null || first === undefined || value === null || isAlike(first, value)) return "";
  if (Math.abs(first) < 1e-12) return "";
  const share = ((value - first) / Math.abs(first)) * 100;
  return `${signed(share, Math.abs(share) < 10 ? 1 : 0)} %`;
}
