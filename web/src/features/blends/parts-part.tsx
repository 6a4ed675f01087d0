/** The days by which weights were chosen and the later ones apart, beside equal drawdowns; and how much of the gain may be luck. */
import { dayAt, money, number, percent } from "../../lib/format.ts";
import { num, td } from "../../ui/page.tsx";
import type { PartFigures, SlowAnswer } from "./blend-work.ts";

const head = "border-rule border-b px-3 py-1.5 text-[13px] font-normal text-soft";

export function PartsPart({ slow, isChosen }: { readonly slow: SlowAnswer | null; readonly isChosen: boolean }) {
  return (
    <section className="min-w-80 flex-1 overflow-x-auto">
      <h2 className="pb-1 font-semibold text-[14px]">
        {isChosen ? "Chosen on the first days, shown on the later ones" : "First days and later ones"}
      </h2>
      {slow ? <PartsTable slow={slow} isChosen={isChosen} /> : <p className="text-soft">…</p>}
    </section>
  );
}

function PartsTable({ slow: { parts, gain, isPlain }, isChosen }: { readonly slow: SlowAnswer; readonly isChosen: boolean }) {
  const cells = ({ profit, drawdown, returnToDrawdown }: PartFigures) => (
    <>
      <td className={`${td} ${num}`}>{money(profit)}</td>
      <td className={`${td} ${num}`}>{money(drawdown)}</td>
      <td className={`${td} ${num}`}>{number(returnToDrawdown, 2)}</td>
    </>
  );
  return (
    <>
      <table className="w-full text-[13px] tabular-nums">
        <caption className="sr-only">Both parts of the days, at these sizes and at equal drawdowns</caption>
        <thead>
          <tr>
            <th className={`${head} text-left`}>Days</th>
            <th className={`${head} text-left`}>Sizes</th>
            <th className={`${head} ${num}`}>Net profit</th>
            <th className={`${head} ${num}`}>Fell</th>
            <th className={`${head} ${num}`}>Return over drawdown</th>
          </tr>
        </thead>
        <tbody>
          {parts.flatMap(({ from, to, chosen, plain }, k) => [
            <tr key={`${from} chosen`}>
              <th rowSpan={2} scope="rowgroup" className={`${td} text-left align-top font-normal`}>
                {k === 0 ? (isChosen ? "chosen by: " : "first: ") : "later: "}
                {dayAt(from, "UTC")} – {dayAt(to, "UTC")}
              </th>
              <td className={td}>these</td>
              {cells(chosen)}
            </tr>,
            <tr key={`${from} plain`} className="text-soft">
              <td className={td}>equal drawdowns</td>
              {cells(plain)}
            </tr>,
          ])}
        </tbody>
      </table>
      {isPlain ? <p className="pt-2 text-[13px]">No weights did better on the first days than equal drawdowns: these are used.</p> : null}
      {gain ? (
        <p className="pt-2 text-[13px]">
          On the later days the weights bring {number(gain.chosen, 2)} of return over drawdown, equal drawdowns {number(gain.plain, 2)}. In{" "}
          {percent(gain.luck, 0)} of {number(gain.draws)} draws of those days in blocks the weights do no better: the difference lies
          between {number(gain.low, 2)} and {number(gain.high, 2)} in nine of ten.{" "}
          {gain.luck > 0.05 ? "So luck can explain the gain." : "Luck alone hardly explains that."}
        </p>
      ) : null}
    </>
  );
}
