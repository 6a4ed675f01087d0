/** What to put to work: each member with its instrument, inputs, exit kit and size. */
import { type BlendSetup, withUnits } from "@plan-tester/contract";
import { timeframeLabel } from "@plan-tester/core";
import { useState } from "react";
import { delimited } from "../../lib/cells.ts";
import { fileName, saveFile } from "../../lib/files.ts";
import { number, units } from "../../lib/format.ts";
import { Button } from "../../ui/button.tsx";
import { num, td, tdText } from "../../ui/page.tsx";
import { SaveButton } from "../../ui/save-button.tsx";
import { kitWords } from "../compare/kit-words.ts";
import { WatchDialog } from "../watches/watch-dialog.tsx";
import { startOf, type WatchStart } from "../watches/watch-starts.ts";
import type { QuickAnswer, SlowAnswer } from "./blend-work.ts";
import type { MemberFacts } from "./use-members.ts";

export interface SettingsToTradeProps {
  readonly id: string;
  readonly name: string;
  readonly setup: BlendSetup;
  readonly fingerprint: string;
  readonly names: readonly string[];
  readonly facts: readonly (MemberFacts | null)[];
  readonly quick: QuickAnswer;
  readonly slow: SlowAnswer | null;
  readonly onReport: () => void;
}

export interface TradeRow {
  readonly member: string;
  readonly runId: string;
  readonly plan: string;
  readonly planId: string;
  readonly instrument: string;
  readonly timeframe: string;
  readonly inputs: Readonly<Record<string, unknown>>;
  readonly kit: unknown;
  readonly kitWords: string;
  readonly size: number;
  readonly step: number;
  readonly balancePerStep: number | null;
}

export function tradeRows({
  setup,
  names,
  facts,
  quick,
  slow,
}: Omit<SettingsToTradeProps, "id" | "name" | "fingerprint" | "onReport">): TradeRow[] {
  return setup.members.flatMap(({ runId }, k) => {
    const one = facts[k];
    const size = quick.units[k] ?? 0;
    if (!one || size === 0) return [];
    const { run, step } = one;
    return [
      {
        ...{ member: names[k]!, runId, plan: run.title, planId: run.planId },
        ...{ instrument: run.settings.symbol, timeframe: run.settings.timeframe, inputs: run.inputs },
        ...{ kit: run.settings.kit, kitWords: kitWords(run.settings.kit) },
        ...{ size, step: step.quantityStep, balancePerStep: slow?.sizes.balances[k] ?? null },
      },
    ];
  });
}

export const inputsText = (inputs: TradeRow["inputs"]): string =>
  Object.entries(inputs)
    .map(([name, value]) => `${name} ${String(value)}`)
    .join(", ");

const head = "border-rule border-b px-3 py-1.5 text-left text-[13px] font-normal text-soft";

/** Each member as it is to be set to watch: with its size, whatever its plan would make of the account, on the blend's account where that keeps its money. */
export function watchStarts({
  setup,
  names,
  facts,
  quick,
}: Pick<SettingsToTradeProps, "setup" | "names" | "facts" | "quick">): WatchStart[] {
  return setup.members.flatMap((_member, k) => {
    const one = facts[k];
    const size = quick.units[k] ?? 0;
    if (!one || size === 0) return [];
    const { run, base, currency } = one;
    const settings = withUnits(run.settings, base === null ? null : size);
    const cash = currency === setup.currency ? setup.cash : settings.cash;
    return [{ ...startOf(run), name: names[k]!.slice(0, 80), settings: { ...settings, cash, limits: setup.limits ?? undefined } }];
  });
}

export function SettingsToTrade(props: SettingsToTradeProps) {
  const [starts, setStarts] = useState<readonly WatchStart[] | null>(null);
  const { name, setup, fingerprint } = props;
  const rows = tradeRows(props);
  const csv = (): string =>
    delimited(
      ["member", "plan", "instrument", "timeframe", "inputs", "exit kit", "size", "size step", "balance per step"],
      rows.map((row) => [
        ...[row.member, row.plan, row.instrument, row.timeframe, inputsText(row.inputs), row.kitWords],
        ...[row.size, row.step, row.balancePerStep],
      ]),
    );
  const json = (): string =>
    `${JSON.stringify({ kind: "plan-tester settings to trade", version: 1, blend: name, fingerprint, account: { cash: setup.cash, currency: setup.currency, limits: setup.limits ?? null }, members: rows }, null, 2)}\n`;
  if (rows.length === 0) return null;
  return (
    <section className="overflow-x-auto">
      <div className="flex items-center gap-2 pb-1">
        <h2 className="mr-auto font-semibold text-[14px]">Settings to trade</h2>
        <SaveButton label="CSV" name={fileName(name, " settings.csv")} make={csv} />
        <Button variant="quiet" onClick={() => saveFile(fileName(name, " settings.json"), json(), "application/json")}>
          JSON
        </Button>
        <Button onClick={() => setStarts(watchStarts(props))}>Set to watch …</Button>
        <Button variant="quiet" onClick={props.onReport}>
          Printable report
        </Button>
      </div>
      {starts && starts.length > 0 ? (
        <WatchDialog
          title={name}
          starts={starts}
          chosenFirst={starts.length}
          account={`blend-${props.id}`}
          onClose={() => setStarts(null)}
        />
      ) : null}
      <table className="w-full text-[13px] tabular-nums">
        <caption className="sr-only">Plans, instruments, inputs and sizes to trade</caption>
        <thead>
          <tr>
            {["Plan", "On", "Inputs", "Exit kit"].map((label) => (
              <th key={label} className={head}>
                {label}
              </th>
            ))}
            {["Size", "Step", "Balance per step"].map((label) => (
              <th key={label} className={`${head} ${num}`}>
                {label}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.runId}>
              <td className={td}>{row.plan}</td>
              <td className={td}>
                {row.instrument} {timeframeLabel(row.timeframe)}
              </td>
              <td className={`${tdText} max-w-96 break-words font-mono text-[12px]`}>{inputsText(row.inputs) || "none"}</td>
              <td className={tdText}>{row.kitWords}</td>
              <td className={`${td} ${num} font-semibold`}>{units(row.size)}</td>
              <td className={`${td} ${num}`}>{units(row.step)}</td>
              <td className={`${td} ${num}`}>{number(row.balancePerStep)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
