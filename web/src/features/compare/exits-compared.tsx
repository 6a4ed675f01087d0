/** What each exit closed in several runs: how many trades, with what result. */
import type { RunEvidence } from "@plan-tester/contract";
import { EXIT_REASONS, type ExitReason } from "@plan-tester/core";
import { number } from "../../lib/format.ts";
import { Amount } from "../../ui/amount.tsx";
import { num, td, th } from "../../ui/page.tsx";

interface Closed {
  readonly trades: number;
  readonly net: number;
}

/** By the reason of each trade's end. */
export function closedBy(trades: RunEvidence["trades"]): ReadonlyMap<ExitReason, Closed> {
  const closed = new Map<ExitReason, Closed>();
  for (const { reason, net } of trades) {
    const before = closed.get(reason) ?? { trades: 0, net: 0 };
    closed.set(reason, { trades: before.trades + 1, net: before.net + net });
  }
  return closed;
}

export function ExitsCompared({ runs }: { readonly runs: readonly RunEvidence[] }) {
  const columns = runs.map(({ trades }) => closedBy(trades));
  const reasons = EXIT_REASONS.filter((reason) => columns.some((column) => column.has(reason)));
  if (reasons.length === 0) return null;
  return (
    <section className="overflow-x-auto">
      <h2 className="pb-1 font-semibold text-[13px]">What each exit closed</h2>
      <table className="text-[13px]">
        <thead>
          <tr>
            <th className={th}>Closed by</th>
            {runs.map((run, k) => (
              <th key={run.id} className={`${th} ${num}`} scope="col">
                {k + 1}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {reasons.map((reason) => (
            <tr key={reason} className="hover:bg-sunk">
              <th scope="row" className={`${td} text-left font-normal`}>
                {reason}
              </th>
              {columns.map((column, k) => {
                const closed = column.get(reason);
                return (
                  <td key={runs[k]!.id} className={`${td} ${num}`}>
                    {closed ? (
                      <>
                        {number(closed.trades)} <span className="text-soft">·</span> <Amount value={closed.net} />
                      </>
                    ) : (
                      "–"
                    )}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
