/** Every figure with its definition, all trades beside long and short. */
import type { RunEvidence } from "@plan-tester/contract";
import { money, number, percent, signedMoney } from "../../lib/format.ts";
import { num, td, th } from "../../ui/page.tsx";
import type { EvidenceView } from "../run-view/view.ts";
import { FIGURES } from "./definitions.ts";
import { FigureLabel } from "./figure.tsx";

/** Buy and hold of the plan's own instrument, beside the plan. */
const BENCHMARK: readonly (readonly [string, (figures: EvidenceView["benchmarkFigures"]) => string, string])[] = [
  [
    "Buy and hold, net",
    ({ netProfit }) => signedMoney(netProfit),
    "The same cash in the first instrument from the first to the last bar, fractional units, no costs.",
  ],
  ["Buy and hold, annual return", ({ cagr }) => percent(cagr), "(end / start)^(365.25 / calendar days) - 1."],
  ["Buy and hold, Sharpe", ({ sharpe }) => number(sharpe, 2), "As that of the plan."],
  ["Buy and hold, deepest drawdown", ({ maxDrawdown }) => money(maxDrawdown), "In money, at bar closes."],
  ["Buy and hold, deepest drawdown, share", ({ maxDrawdownShare }) => percent(maxDrawdownShare), "Of the peak so far."],
];

export function FiguresTable({
  view,
  own,
}: {
  readonly view: EvidenceView /** What the plan worked out itself. */;
  readonly own: RunEvidence["ownFigures"];
}) {
  const sides: readonly EvidenceView["long"][] = [view.long, view.short];
  return (
    <table className="w-full text-[13px]">
      <thead>
        <tr>
          <th className={th}>Figure</th>
          <th className={`${th} ${num}`}>All</th>
          <th className={`${th} ${num}`}>Long</th>
          <th className={`${th} ${num}`}>Short</th>
          <th className={th}>Definition</th>
        </tr>
      </thead>
      <tbody>
        {own.map(({ label, value, unit }) => (
          <tr key={label}>
            <td className={td}>{label}</td>
            <td className={`${td} ${num} font-semibold`}>
              {number(value, Number.isInteger(value) ? 0 : 2)} {unit}
            </td>
            <td className={td} colSpan={2} />
            <td className="border-rule/60 border-b px-3 py-1 text-soft">The plan's own.</td>
          </tr>
        ))}
        {FIGURES.map(({ key, label, text, definition, source }) => (
          <tr key={key}>
            <td className={td}>
              <FigureLabel name={key} text={label} view={view} />
            </td>
            <td className={`${td} ${num} font-semibold`}>{text(view.figures[key])}</td>
            {sides.map((side, i) => (
              <td key={i === 0 ? "long" : "short"} className={`${td} ${num}`}>
                {key in side ? text(side[key as keyof EvidenceView["long"]]) : number(null)}
              </td>
            ))}
            <td className="border-rule/60 border-b px-3 py-1 text-soft">
              {definition}
              {source ? ` ${source}.` : ""}
            </td>
          </tr>
        ))}
        {BENCHMARK.map(([label, text, definition]) => (
          <tr key={label}>
            <td className={td}>{label}</td>
            <td className={`${td} ${num} font-semibold`}>{text(view.benchmarkFigures)}</td>
            <td className={td} colSpan={2} />
            <td className="border-rule/60 border-b px-3 py-1 text-soft">{definition}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
