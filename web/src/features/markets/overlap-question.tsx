/** Bars that come and differ from those there are, side by side, with the choice of which stay. */
import type { BarPrices, Overlap, OverlapChoice } from "@plan-tester/core";
import { number, timeAt } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";

const PRICES = ["open", "high", "low", "close", "volume"] as const;

function Prices({ bar, other }: { readonly bar: BarPrices; readonly other: BarPrices }) {
  return PRICES.map((name) => (
    <td key={name} className={`px-2 text-right tabular-nums ${bar[name] === other[name] ? "" : "bg-accent-wash font-semibold"}`}>
      {bar[name]}
    </td>
  ));
}

export interface OverlapQuestionProps {
  readonly symbol: string;
  readonly file: string;
  readonly overlap: Overlap;
  readonly onAnswer: (choice: OverlapChoice) => void;
  readonly onCancel: () => void;
}

export function OverlapQuestion({ symbol, file, overlap, onAnswer, onCancel }: OverlapQuestionProps) {
  const { same, differs, fresh, examples } = overlap;
  return (
    <div role="group" aria-label="Bars that differ" className="flex flex-col gap-3">
      <p>
        <strong>
          {number(differs)} of the bars of {file} differ from those of {symbol}.
        </strong>{" "}
        {number(same)} are the same, {number(fresh)} are new. Nothing has been changed yet.
      </p>
      <div className="max-h-72 overflow-auto border-rule border-y">
        <table className="w-full text-[13px]">
          <thead className="sticky top-0 bg-sheet text-left text-soft">
            <tr>
              <th className="px-2 font-normal">Time, UTC</th>
              <th className="px-2 font-normal">bar</th>
              {PRICES.map((name) => (
                <th key={name} className="px-2 text-right font-normal">
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {examples.flatMap(({ timeMs, there, given }) => [
              <tr key={`there ${timeMs}`} className="border-rule/60 border-t">
                <td className="px-2">{timeAt(timeMs, "UTC")}</td>
                <td className="px-2 text-soft">there</td>
                <Prices bar={there} other={given} />
              </tr>,
              <tr key={`given ${timeMs}`}>
                <td />
                <td className="px-2 text-soft">new</td>
                <Prices bar={given} other={there} />
              </tr>,
            ])}
          </tbody>
        </table>
      </div>
      {differs > examples.length ? <p className="text-[13px] text-soft">The first {examples.length} of them.</p> : null}
      <div className="flex justify-end gap-2">
        <Button onClick={onCancel}>Cancel</Button>
        <Button onClick={() => onAnswer("keep")}>Keep those there are, add the new</Button>
        <Button variant="primary" onClick={() => onAnswer("replace")}>
          Take those of the file
        </Button>
      </div>
    </div>
  );
}
