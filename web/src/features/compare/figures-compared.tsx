/** Figures of several runs, the best of each marked, and by how much the others fall short of the first. */
import type { RunEvidence } from "@plan-tester/contract";
import type { RunFigures } from "@plan-tester/core";
import { Check } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { number, signed } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { num, td, tdText, th } from "../../ui/page.tsx";
import { FIGURES, figureNamed } from "../evidence/definitions.ts";
import { standingWords } from "../evidence/standing.ts";
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
  ...([
    "profitFactor",
    "averageTrade",
    "averageTradeTicks",
    "costPerTradeTicks",
    "sqn",
    "longestDrawdownDays",
    "exposure",
    "pathDependentTrades",
  ] as const),
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

/** More than these do not fit beside one another with their names. */
const FULL_COLUMNS = 5;

export function FiguresCompared({ runs }: { readonly runs: readonly RunEvidence[] }) {
  const [all, setAll] = useState(false);
  const heads = headsOf(runs);
  // Of many runs each has a narrow column: its number stands for its name, and how far it is from the first is a hint.
  const isNarrow = runs.length > FULL_COLUMNS;
  const names = all ? FIGURES.map(({ key }) => key) : MAIN;
  return (
    <section className="overflow-x-auto">
      <table className="text-[13px]">
        <thead>
          <tr>
            <th className={th}>Figure</th>
            {runs.map((run, k) => (
              <th key={run.id} className={`${th} ${num} max-w-44 truncate ${isNarrow ? "px-2" : ""}`} scope="col">
                {isNarrow ? null : <span aria-hidden>{k + 1} · </span>}
                <Link
                  to={`/runs/${run.id}`}
                  className="hover:underline"
                  title={nameOf(run)}
                  aria-label={isNarrow ? nameOf(run) : undefined}
                >
                  {isNarrow ? k + 1 : heads[k]}
                </Link>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr className="align-top">
            <th
              scope="row"
              className={`${td} text-left font-normal`}
              title="Whether it still trades at the end of the period, and how far equity is below its peak"
            >
              Standing
            </th>
            {runs.map((run) => (
              <td key={run.id} className={`${tdText} ${num} ${isNarrow ? "max-w-28 px-2" : "max-w-44"}`}>
                {standingWords(run)}
              </td>
            ))}
          </tr>
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
                  <td
                    key={runs[k]!.id}
                    className={`${td} ${num} ${isNarrow ? "px-2" : ""} ${k === best ? "bg-accent-wash font-semibold" : ""}`}
                    title={isNarrow && k > 0 ? difference(values[0], value) || undefined : undefined}
                  >
                    {k === best ? <Check size={12} className="mr-1 inline text-accent" aria-label="best" /> : null}
                    {text(value)}
                    {k > 0 && !isNarrow ? <span className="ml-1 text-[11px] text-soft">{difference(values[0], value)}</span> : null}
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
