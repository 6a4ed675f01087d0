/** The deepest falls of equity, each from its peak to where it was back. */
import { DAY_MS, drawdownTable } from "@plan-tester/core";
import { useMemo } from "react";
import { count, dayAt, number, percent } from "../../lib/format.ts";
import { num, td, th } from "../../ui/page.tsx";
import { type EvidenceData, stretchOfBars, useEvidenceActs } from "../run-view/view.ts";

const MOST_ROWS = 10;

export interface DrawdownListProps {
  readonly data: EvidenceData;
  readonly within: { readonly from: number; readonly to: number } | null;
  readonly cash: number;
}

export function DrawdownList({ data, within, cash }: DrawdownListProps) {
  const { bars, equity, zone } = data;
  const acts = useEvidenceActs();
  const from = within?.from ?? 0;
  const to = within?.to ?? equity.length - 1;
  const rows = useMemo(
    () => drawdownTable(equity.subarray(from, to + 1), from > 0 ? equity[from - 1]! : cash, MOST_ROWS),
    [equity, from, to, cash],
  );
  if (rows.length === 0) return null;
  const timeOf = (index: number): number => (from + index < 0 ? bars.time[0]! : bars.closeTime[from + index]!);
  return (
    <section>
      <h2 className="pb-1 font-semibold text-[13px]">
        {rows.length < MOST_ROWS ? "Drawdowns, the deepest first" : `The ${MOST_ROWS} deepest drawdowns`}
      </h2>
      <table className="text-[13px]">
        <thead>
          <tr>
            {["Depth", "Of the peak", "Peak", "Low", "Recovered", "Length"].map((head, k) => (
              <th key={head} className={k < 2 || k === 5 ? `${th} ${num}` : th}>
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ start, low, recovery, depth, share }) => (
            <tr key={start}>
              <td className={`${td} ${num}`}>
                <button
                  type="button"
                  className="min-h-6 rounded-xs hover:underline"
                  title="Look at this period only"
                  onClick={() => acts.showStretch(stretchOfBars(Math.max(0, from + start), recovery === null ? to : from + recovery, data))}
                >
                  {number(-depth)}
                </button>
              </td>
              <td className={`${td} ${num}`}>{percent(share)}</td>
              <td className={td}>{dayAt(timeOf(start), zone)}</td>
              <td className={td}>{dayAt(timeOf(low), zone)}</td>
              <td className={td}>{recovery === null ? "not yet" : dayAt(timeOf(recovery), zone)}</td>
              <td className={`${td} ${num}`}>
                {count(Math.max(1, Math.round((timeOf(recovery ?? to - from) - timeOf(start)) / DAY_MS)), "day")}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
