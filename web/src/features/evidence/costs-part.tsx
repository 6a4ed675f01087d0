/** The average trade against what it costs, and what would be left at other costs. */
import { costStress } from "@plan-tester/core";
import { useMemo } from "react";
import { money, number, signedMoney } from "../../lib/format.ts";
import { num, td, th } from "../../ui/page.tsx";
import type { EvidenceView } from "../run-view/view.ts";

export function CostsPart({ view }: { readonly view: EvidenceView }) {
  const { figures } = view;
  const { steps, breakEven } = useMemo(() => costStress(view.trades), [view.trades]);
  const most = Math.max(1, ...steps.map(({ net }) => Math.abs(net)));
  const { averageTradeTicks: made, costPerTradeTicks: paid } = figures;
  return (
    <section className="flex flex-col gap-1">
      <h2 className="font-semibold text-[13px]">Costs</h2>
      <p className="text-[13px]">
        A trade makes <strong>{number(made, 2)}</strong> ticks after costs of <strong>{number(paid, 2)}</strong> ticks
        {made !== null && paid !== null && paid > 0 && made > 0 ? `: ${number(made / paid, 1)} times what it costs` : ""}.{" "}
        {breakEven === null
          ? ""
          : breakEven > 1
            ? `Nothing is left at ${number(breakEven, 2)} times the costs.`
            : "Costs took more than there was."}
      </p>
      <table className="w-full max-w-xl text-[13px]">
        <caption className="sr-only">Net profit at multiples of the costs</caption>
        <thead>
          <tr>
            <th className={th}>Costs</th>
            <th className={`${th} ${num}`}>Net</th>
            <th className={`${th} w-1/2`}>
              <span className="sr-only">Net as a bar</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {steps.map(({ multiple, net }) => (
            <tr key={multiple} className={multiple === 1 ? "bg-accent-wash" : ""}>
              <td className={td}>{multiple === 0 ? "none" : `× ${number(multiple, 1)}`}</td>
              <td className={`${td} ${num} ${net >= 0 ? "text-gain" : "text-loss"}`}>{signedMoney(net)}</td>
              <td className={td} aria-hidden>
                <div
                  className={`h-2.5 ${net >= 0 ? "bg-gain" : "border border-loss bg-loss-wash"}`}
                  style={{ width: `${(Math.abs(net) / most) * 100}%` }}
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="text-[13px] text-soft">
        Commission {money(figures.commission)}, spread {money(figures.spread)}, slippage {money(figures.slippage)}, financing{" "}
        {money(figures.financing)}. The same trades are taken at every multiple.
      </p>
    </section>
  );
}
