/** How deep the blend could fall in days like these: the falls of resampled days at several shares of the draws. */
import type { BlendSetup } from "@plan-tester/contract";
import { money, number, percent } from "../../lib/format.ts";
import { num, td } from "../../ui/page.tsx";
import type { QuickAnswer, SlowAnswer } from "./blend-work.ts";

const head = "border-rule border-b px-3 py-1.5 text-[13px] font-normal text-soft";

export interface AheadPartProps {
  readonly setup: Pick<BlendSetup, "cash" | "tolerated">;
  readonly quick: Pick<QuickAnswer, "days" | "figures">;
  readonly slow: Pick<SlowAnswer, "ahead"> | null;
}

export function AheadPart({ setup: { cash, tolerated }, quick: { days, figures }, slow }: AheadPartProps) {
  const ahead = slow?.ahead;
  if (!ahead) return null;
  const { bands, deeper, draws } = ahead;
  const limit = (tolerated / 100) * cash;
  return (
    <section className="min-w-72 overflow-x-auto">
      <h2 className="pb-1 font-semibold text-[14px]">How deep it could fall</h2>
      <table className="w-full text-[13px] tabular-nums">
        <caption className="pb-1 text-left text-soft">
          {number(draws)} draws of {number(days)} days, in blocks. It fell by {money(figures.drawdown.money)}: {percent(deeper)} of the
          draws fall by more.
        </caption>
        <thead>
          <tr>
            <th className={`${head} text-left`}>Draws that fall by no more</th>
            <th className={`${head} ${num}`}>Fall</th>
            <th className={`${head} ${num}`}>Of the account</th>
          </tr>
        </thead>
        <tbody>
          {bands.map(({ share, fall }) => (
            <tr key={share} className={share === 0.95 ? "font-semibold" : ""}>
              <th scope="row" className={`${td} text-left ${share === 0.95 ? "font-semibold" : "font-normal"}`}>
                {percent(share, 0)}
              </th>
              <td className={`${td} ${num}`}>{money(fall)}</td>
              <td className={`${td} ${num} ${fall > limit ? "text-loss" : ""}`}>
                {percent(fall / cash)}
                {fall > limit ? <span className="sr-only">, more than tolerated</span> : null}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
