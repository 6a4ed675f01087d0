/** Runs rescaled to a common drawdown, each at a size that can be traded: exact where money is in proportion to size, else run. */
import { costsOfRun, type RunEvidence, withUnits } from "@plan-tester/contract";
import { entrySizes, type Instrument, type Rescaled, rescaleProblem, toDrawdown } from "@plan-tester/core";
import { useState } from "react";
import { useNavigate } from "react-router";
import { accountCurrency, currencyWord, useMarkets } from "../../data/markets.ts";
import { money, number, percent, units } from "../../lib/format.ts";
import { useKept } from "../../lib/kept.ts";
import { Amount } from "../../ui/amount.tsx";
import { Button } from "../../ui/button.tsx";
import { NumberInput } from "../../ui/number-field.tsx";
import { num, td, tdText } from "../../ui/page.tsx";
import { useStartBatch } from "../queue/use-start-batch.ts";
import { instrumentsOfRun } from "../run-view/view.ts";
import { nameOf } from "./names.ts";

interface Row {
  readonly run: RunEvidence;
  readonly rescaled: Rescaled | null;
  /** Why it has to be run; "" where it is exact. */
  readonly problem: string;
  readonly base: number;
}

/** @param tolerated percent of the run's own account */
export function rescaledRow(run: RunEvidence, instruments: readonly Instrument[], tolerated: number): Row {
  const { settings, figures, trades, source } = run;
  const [instrument] = instruments;
  const { least, most } = entrySizes(trades);
  const maxDrawdown = figures.maxDrawdown ?? 0;
  const one = { base: most, netProfit: figures.netProfit ?? 0, maxDrawdown };
  const rescaled = instrument && least === most ? toDrawdown(one, instrument, (tolerated / 100) * settings.cash) : null;
  if (!instrument) return { run, rescaled: null, problem: "its instrument is not in this workspace", base: most };
  const facts = {
    ...{
      trades,
      source,
      kit: settings.kit,
      margin: settings.margin,
      limits: settings.limits ?? null,
      cash: settings.cash,
      instruments: instruments.length,
    },
    costs: costsOfRun(settings, instrument),
    // No close was lower than that: equity fell no further below its peaks, none of which is under the cash.
    leastEquity: settings.cash - maxDrawdown,
  };
  return { run, rescaled, problem: rescaleProblem(facts, rescaled?.factor ?? 1), base: most };
}

export function ToDrawdown({ runs }: { readonly runs: readonly RunEvidence[] }) {
  const markets = useMarkets();
  const navigate = useNavigate();
  const start = useStartBatch();
  const [tolerated, setTolerated] = useKept("common drawdown", 20);
  const [isOpen, setOpen] = useState(false);
  const rows = isOpen ? runs.map((run) => rescaledRow(run, instrumentsOfRun(run, markets), tolerated)) : [];
  const tradable = rows.filter(({ rescaled }) => rescaled && rescaled.units > 0);
  const runAll = async (): Promise<void> => {
    const batch = await start({
      name: `To a drawdown of ${tolerated} %`,
      runs: tradable.map(({ run, rescaled }) => ({
        ...{ planId: run.planId, source: run.source, inputs: run.inputs },
        settings: withUnits(run.settings, rescaled!.units),
        label: `${run.title}, ${units(rescaled!.units)} units`,
      })),
    });
    if (batch) void navigate(`/compare?batch=${batch}`);
  };
  return (
    <section className="flex flex-col gap-2" aria-label="To a common drawdown">
      <div className="flex flex-wrap items-center gap-2">
        <Button aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
          {isOpen ? "Hide the common drawdown" : "To a common drawdown"}
        </Button>
        {isOpen ? (
          <span className="flex items-center gap-1.5">
            of
            <NumberInput
              aria-label="Common drawdown, % of the account"
              className="w-16 text-right"
              value={tolerated}
              above={0}
              max={100}
              onChange={setTolerated}
            />
            % of each account
          </span>
        ) : null}
      </div>
      {isOpen ? (
        <>
          <div className="overflow-x-auto">
            <table className="w-full max-w-5xl text-[13px] tabular-nums">
              <caption className="sr-only">Each run at the size at which it falls as deep</caption>
              <thead>
                <tr>
                  {["Run", "Ran with", "Fell", "Size to trade", "Would fall", "Off", "Net profit", "How sure"].map((label, i) => (
                    <th
                      key={label}
                      className={`border-rule border-b px-3 py-1.5 font-normal text-[13px] text-soft ${i > 0 && i < 7 ? num : "text-left"}`}
                    >
                      {label}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {rows.map((row) => (
                  <RescaledRow key={row.run.id} {...row} currency={currencyWord(accountCurrency(row.run.settings, markets))} />
                ))}
              </tbody>
            </table>
          </div>
          <p className="max-w-3xl text-[12px] text-soft">
            Sizes are rounded down to what the instrument lets one trade, so no run falls deeper than asked for; off says how far short of
            it that leaves each. Where money is in proportion to size the figures are those of a run at that size.
          </p>
          <div>
            <Button disabled={tradable.length === 0} onClick={() => void runAll()}>
              Run {tradable.length} at these sizes and compare
            </Button>
          </div>
        </>
      ) : null}
    </section>
  );
}

function RescaledRow({ run, rescaled, problem, base, currency }: Row & { readonly currency: string }) {
  const { figures, settings } = run;
  const fell = figures.maxDrawdown ?? null;
  return (
    <tr>
      <td className={tdText}>{nameOf(run)}</td>
      <td className={`${td} ${num}`}>{units(base)}</td>
      <td className={`${td} ${num}`}>
        {money(fell)} <span className="text-soft">{percent(fell === null ? null : fell / settings.cash)}</span>
      </td>
      {rescaled ? (
        <>
          <td className={`${td} ${num} font-semibold`}>{rescaled.units > 0 ? units(rescaled.units) : "too small"}</td>
          <td className={`${td} ${num}`}>
            {money(rescaled.maxDrawdown)} <span className="text-soft">{percent(rescaled.maxDrawdown / settings.cash)}</span>
          </td>
          <td className={`${td} ${num}`}>{percent(rescaled.off)}</td>
          <td className={`${td} ${num}`}>
            <Amount value={rescaled.netProfit} />
          </td>
        </>
      ) : (
        <td colSpan={4} className={`${td} text-soft`}>
          {fell === 0 ? "it never fell" : "no one size to scale"}
        </td>
      )}
      <td className={tdText}>
        {problem
          ? `to be run: ${problem}`
          : rescaled && rescaled.units > 0
            ? "exact"
            : `on ${number(settings.cash)} ${currency} not even its smallest size`}
      </td>
    </tr>
  );
}
