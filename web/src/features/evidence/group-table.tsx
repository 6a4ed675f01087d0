/** Trades by what they have in common: as a table and as bars to both sides of nothing. */
import type { TradeGroup } from "@plan-tester/core";
import { number, percent, signedMoney } from "../../lib/format.ts";
import { cx } from "../../ui/cx.ts";
import { num, td, th } from "../../ui/page.tsx";
import { filterOf, useEvidenceActs } from "../run-view/view.ts";

export function GroupTable({
  groups,
  head,
  caption,
}: {
  readonly groups: readonly TradeGroup[];
  readonly head: string;
  readonly caption: string;
}) {
  const acts = useEvidenceActs();
  const most = Math.max(1, ...groups.map(({ net }) => Math.abs(net)));
  return (
    <table className="w-full text-[13px]">
      <caption className="sr-only">{caption}</caption>
      <thead>
        <tr>
          <th className={th}>{head}</th>
          <th className={`${th} ${num}`}>Trades</th>
          <th className={`${th} ${num}`}>Won</th>
          <th className={`${th} ${num}`}>Average</th>
          <th className={`${th} ${num}`}>Net</th>
          <th className={`${th} w-2/5`}>
            <span className="sr-only">Net as a bar</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {groups.map(({ label, trades, net, wins }) => (
          <tr key={label} className="hover:bg-sunk">
            <td className={td}>
              <button
                type="button"
                className="decoration-dotted underline-offset-3 hover:underline"
                onClick={() => acts.showTrades(filterOf(label, trades))}
              >
                {label}
              </button>
            </td>
            <td className={`${td} ${num}`}>{number(trades.length)}</td>
            <td className={`${td} ${num}`}>{percent(wins / trades.length, 0)}</td>
            <td className={`${td} ${num}`}>{signedMoney(net / trades.length)}</td>
            <td className={cx(td, num, "font-semibold", net >= 0 ? "text-gain" : "text-loss")}>{signedMoney(net)}</td>
            <td className={td} aria-hidden>
              <div className="relative h-3 border-rule border-l" style={{ marginLeft: "50%" }}>
                <div
                  className={cx("absolute top-0 h-3", net >= 0 ? "left-0 bg-gain" : "right-0 bg-loss")}
                  style={{ width: `${(Math.abs(net) / most) * 100}%`, ...(net >= 0 ? {} : { right: "100%" }) }}
                />
              </div>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
