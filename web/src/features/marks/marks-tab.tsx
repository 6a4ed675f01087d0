/** Marks made by hand against a run's trades: which were met, which missed and why, which trades nobody marked. */
import type { RunEvidence } from "@plan-tester/contract";
import { compareMarks, isTradeIn, type Mark, type MetMark } from "@plan-tester/core";
import { type ReactNode, useContext, useMemo, useState } from "react";
import { count, number, priceText, timeAt } from "../../lib/format.ts";
import { useKept } from "../../lib/kept.ts";
import { Button } from "../../ui/button.tsx";
import { Select } from "../../ui/field.tsx";
import { EvidenceContext, type EvidenceData, filterOf } from "../run-view/view.ts";
import { MissedMark } from "./missed-mark.tsx";

const TOLERANCES = [0, 1, 2, 3, 5, 10, 20] as const;

export interface MarksTabProps {
  readonly run: RunEvidence;
  readonly data: EvidenceData;
  /** Those that are about this run. */
  readonly marks: readonly Mark[];
  readonly decimals: number;
  readonly onStep: (bar: number) => void;
}

const apart = (bars: number): string => (bars === 0 ? "on its bar" : `${count(Math.abs(bars), "bar")} ${bars > 0 ? "later" : "earlier"}`);

export function MarksTab({ run, data, marks, decimals, onStep }: MarksTabProps) {
  const [within, setWithin] = useKept("marks within", 2);
  const [open, setOpen] = useState<string | null>(null);
  const { openTrade, showTrades } = useContext(EvidenceContext);
  const trades = useMemo(
    () =>
      run.trades
        .filter((trade) => isTradeIn(trade, run.settings))
        .map(({ id, side, entryTime, exitTime }) => ({ id, side, entryMs: entryTime, exitMs: exitTime })),
    [run],
  );
  const { met, missed, unmarked } = useMemo(
    () => compareMarks(marks, trades, data.bars.time, within),
    [marks, trades, data.bars.time, within],
  );
  const words = ({ side, entryMs, entryPrice, note }: Mark): string =>
    `${side > 0 ? "long" : "short"}, ${timeAt(entryMs, data.zone)} at ${priceText(entryPrice, decimals)}${note === "" ? "" : `, ${note}`}`;
  const meeting = ({ entryBars, exitBars }: MetMark): string =>
    `in ${apart(entryBars)}${exitBars === null ? "" : `, out ${apart(exitBars)}`}`;
  return (
    <div className="flex flex-col gap-4 p-3">
      <p className="flex flex-wrap items-center gap-2">
        <strong>
          {met.length} of {count(marks.length, "mark")} met
        </strong>
        by a trade of the same side within
        <Select
          aria-label="Bars between mark and trade"
          className="w-auto"
          value={within}
          onChange={({ target }) => setWithin(Number(target.value))}
        >
          {TOLERANCES.map((bars) => (
            <option key={bars} value={bars}>
              {count(bars, "bar")}
            </option>
          ))}
        </Select>
        <span className="text-soft">
          {number(unmarked.length)} of {count(trades.length, "trade")} nobody marked.
        </span>
      </p>
      <Part title="Missed" none="Every mark was met.">
        {missed.map((mark) => (
          <li key={mark.id} className="border-rule/60 border-b py-1">
            <div className="flex flex-wrap items-center gap-2">
              <span>{words(mark)}</span>
              <Button variant="quiet" aria-expanded={open === mark.id} onClick={() => setOpen(open === mark.id ? null : mark.id)}>
                What stood in the way?
              </Button>
            </div>
            {open === mark.id ? <MissedMark {...{ run, data, mark, onStep }} /> : null}
          </li>
        ))}
      </Part>
      <Part title="Met" none="No mark was met.">
        {met.map((one) => (
          <li key={one.mark.id} className="flex flex-wrap items-center gap-2 border-rule/60 border-b py-1">
            <span>{words(one.mark)}</span>
            <Button variant="quiet" onClick={() => openTrade(one.tradeId)}>
              Trade {number(one.tradeId)}
            </Button>
            <span className="text-soft">{meeting(one)}</span>
          </li>
        ))}
      </Part>
      {unmarked.length > 0 ? (
        <p>
          <Button
            onClick={() =>
              showTrades(
                filterOf(
                  "nobody marked",
                  run.trades.filter(({ id }) => unmarked.includes(id)),
                ),
              )
            }
          >
            Show the {count(unmarked.length, "trade")} that nobody marked
          </Button>
        </p>
      ) : null}
    </div>
  );
}

function Part({ title, none, children }: { readonly title: string; readonly none: string; readonly children: readonly ReactNode[] }) {
  return (
    <section aria-label={title}>
      <h3 className="font-semibold">
        {title} <span className="font-normal text-soft">{number(children.length)}</span>
      </h3>
      {children.length === 0 ? <p className="text-soft">{none}</p> : <ul className="text-[13px]">{children}</ul>}
    </section>
  );
}
