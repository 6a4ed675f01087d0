/** The deepest falls of the blend, and what each member lost in them. */
import { dayAt, money } from "../../lib/format.ts";
import { Amount } from "../../ui/amount.tsx";
import { num, td } from "../../ui/page.tsx";
import type { QuickAnswer } from "./blend-work.ts";

const head = "border-rule border-b px-3 py-1.5 text-[13px] font-normal text-soft";

export function FallsPart({
  quick: { falls, fallTimes },
  labels,
  zone,
}: {
  readonly quick: QuickAnswer;
  readonly labels: readonly string[];
  readonly zone: string;
}) {
  if (falls.length === 0) return null;
  return (
    <section className="min-w-80 flex-1 overflow-x-auto">
      <h2 className="pb-1 font-semibold text-[14px]">Shared falls</h2>
      <table className="w-full text-[13px] tabular-nums">
        <caption className="sr-only">The deepest falls, with what each member gained or lost from peak to low</caption>
        <thead>
          <tr>
            <th className={`${head} text-left`}>From peak to low</th>
            <th className={`${head} text-left`}>Recovered</th>
            <th className={`${head} ${num}`}>Fell</th>
            {labels.map((label, k) => (
              <th key={label} scope="col" className={`${head} ${num}`} title={label}>
                {k + 1}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {falls.map(({ depth, parts, low }, i) => {
            const { start, low: lowMs, recovery } = fallTimes[i]!;
            return (
              <tr key={low}>
                <td className={td}>
                  {start === null ? "the beginning" : dayAt(start, zone)} – {dayAt(lowMs, zone)}
                </td>
                <td className={td}>{recovery === null ? "not yet" : dayAt(recovery, zone)}</td>
                <td className={`${td} ${num} font-semibold`}>{money(depth)}</td>
                {parts.map((part, k) => (
                  <td key={labels[k]} className={`${td} ${num}`}>
                    <Amount value={-part || 0} />
                  </td>
                ))}
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}
