/** What a change did, trade by trade: which are the same, which ended otherwise, and which only one run has. */
import type { RunEvidence } from "@plan-tester/contract";
import { matchTrades, type Trade } from "@plan-tester/core";
import { useMemo, useState } from "react";
import { number, signedMoney, timeAt } from "../../lib/format.ts";
import { At } from "../../ui/at.tsx";
import { num, td, th } from "../../ui/page.tsx";
import { nameOf } from "./names.ts";

const MOST_ROWS = 300;
const sum = (trades: readonly Trade[]): number => trades.reduce((total, { net }) => total + net, 0);

interface Row {
  readonly a: Trade | null;
  readonly b: Trade | null;
}

export function TradesCompared({ a, b, zone }: { readonly a: RunEvidence; readonly b: RunEvidence; readonly zone: string }) {
  const match = useMemo(() => matchTrades(a.trades, b.trades), [a, b]);
  const groups: readonly { readonly label: string; readonly rows: readonly Row[] }[] = [
    { label: "ended otherwise", rows: match.otherwise },
    { label: `only in 1 · ${nameOf(a)}`, rows: match.onlyA.map((trade) => ({ a: trade, b: null })) },
    { label: `only in 2 · ${nameOf(b)}`, rows: match.onlyB.map((trade) => ({ a: null, b: trade })) },
    { label: "the same in both", rows: match.same },
  ];
  const [shown, setShown] = useState(0);
  const rows = groups[shown]!.rows;
  const netOf = (list: readonly Row[], side: "a" | "b"): number => sum(list.flatMap((row) => (row[side] ? [row[side]!] : [])));
  return (
    <section className="flex flex-col gap-2">
      <h2 className="font-semibold text-[13px]">What the change did, trade by trade</h2>
      <table className="w-full max-w-2xl text-[13px]">
        <thead>
          <tr>
            <th className={th}>Trades</th>
            <th className={`${th} ${num}`}>Count</th>
            <th className={`${th} ${num}`}>Net in 1</th>
            <th className={`${th} ${num}`}>Net in 2</th>
            <th className={`${th} ${num}`}>Effect</th>
          </tr>
        </thead>
        <tbody>
          {groups.map(({ label, rows: list }, k) => (
            <tr key={label} className={k === shown ? "bg-accent-wash" : "hover:bg-sunk"}>
              <td className={td}>
                <button type="button" className="hover:underline" aria-pressed={k === shown} onClick={() => setShown(k)}>
                  {label}
                </button>
              </td>
              <td className={`${td} ${num}`}>{number(list.length)}</td>
              <td className={`${td} ${num}`}>{signedMoney(netOf(list, "a"))}</td>
              <td className={`${td} ${num}`}>{signedMoney(netOf(list, "b"))}</td>
              <td className={`${td} ${num} font-semibold`}>{signedMoney(netOf(list, "b") - netOf(list, "a"))}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="max-h-80 overflow-auto">
        <table className="w-full text-[13px]">
          <caption className="sr-only">{groups[shown]!.label}</caption>
          <thead>
            <tr>
              <th className={th}>Entry</th>
              <th className={th}>Side</th>
              <th className={th}>End in 1</th>
              <th className={`${th} ${num}`}>Net in 1</th>
              <th className={th}>End in 2</th>
              <th className={`${th} ${num}`}>Net in 2</th>
            </tr>
          </thead>
          <tbody>
            {rows.slice(0, MOST_ROWS).map((row) => {
              const one = (row.a ?? row.b)!;
              return (
                <tr key={`${row.a?.id} ${row.b?.id}`}>
                  <td className={td}>
                    <At ms={one.entryTime} zone={zone} />
                  </td>
                  <td className={td}>
                    {one.side > 0 ? "long" : "short"} {one.entryTag}
                  </td>
                  <td className={td}>{row.a ? `${row.a.reason}, ${timeAt(row.a.exitTime, zone)}` : "–"}</td>
                  <td className={`${td} ${num}`}>{signedMoney(row.a?.net)}</td>
                  <td className={td}>{row.b ? `${row.b.reason}, ${timeAt(row.b.exitTime, zone)}` : "–"}</td>
                  <td className={`${td} ${num}`}>{signedMoney(row.b?.net)}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
        {rows.length > MOST_ROWS ? (
          <p className="p-2 text-soft">
            The first {number(MOST_ROWS)} of {number(rows.length)}.
          </p>
        ) : null}
      </div>
    </section>
  );
}
