/** A run's settings as one sentence whose words are the controls. */
import type { Market, RunSettings } from "@plan-tester/contract";
import { COMMON_TIMEFRAMES, nominalMs, timeframeLabel } from "@plan-tester/core";
import { Popover } from "radix-ui";
import { type ReactNode, useState } from "react";
import { dateWords, number } from "../../lib/format.ts";
import { cx } from "../../ui/cx.ts";
import { Field, TextInput } from "../../ui/field.tsx";
import { CostsForm } from "./costs-form.tsx";

export interface SettingsSentenceProps {
  readonly settings: RunSettings;
  readonly markets: readonly Market[];
  readonly readOnly?: boolean;
  readonly onChange: (settings: RunSettings) => void;
}

export function SettingsSentence({ settings, markets, readOnly = false, onChange }: SettingsSentenceProps) {
  const market = markets.find(({ instrument }) => instrument.symbol === settings.symbol);
  const set = (change: Partial<RunSettings>): void => onChange({ ...settings, ...change });
  const word = (label: string, text: string, children: (close: () => void) => ReactNode) => (
    <Word label={label} text={text} readOnly={readOnly}>
      {children}
    </Word>
  );
  const costs = settings.costs === "market" ? "market costs" : settings.costs === "none" ? "no costs" : "own costs";
  return (
    <p className="text-[14px] leading-6">
      On{" "}
      {word("Instrument", settings.symbol, (close) => (
        <ul className="max-h-80 w-72 overflow-auto" aria-label="Instruments">
          {markets.map(({ instrument, timeframe }) => (
            <li key={instrument.symbol}>
              <button
                type="button"
                className={cx(
                  "flex w-full items-baseline gap-2 rounded px-2 py-1 text-left hover:bg-sunk",
                  instrument.symbol === settings.symbol && "font-semibold",
                )}
                onClick={() => {
                  const finest = nominalMs(timeframe) > nominalMs(settings.timeframe) ? { timeframe } : {};
                  set({ symbol: instrument.symbol, ...finest });
                  close();
                }}
              >
                <span className="w-18 font-semibold">{instrument.symbol}</span>
                <span className="truncate text-soft">{instrument.name}</span>
              </button>
            </li>
          ))}
        </ul>
      ))}{" "}
      in{" "}
      {word("Timeframe", timeframeLabel(settings.timeframe), (close) => (
        <ul className="grid w-48 grid-cols-2" aria-label="Timeframes">
          {COMMON_TIMEFRAMES.filter((timeframe) => nominalMs(timeframe) >= nominalMs(market?.timeframe ?? "1m")).map((timeframe) => (
            <li key={timeframe}>
              <button
                type="button"
                className={cx("w-full rounded px-2 py-1 text-left hover:bg-sunk", timeframe === settings.timeframe && "font-semibold")}
                onClick={() => {
                  set({ timeframe });
                  close();
                }}
              >
                {timeframeLabel(timeframe)}
              </button>
            </li>
          ))}
        </ul>
      ))}{" "}
      bars from{" "}
      {word("First day", dateWords(settings.from), () => (
        <DateField label="First session" value={settings.from} market={market} onChange={(from) => set({ from })} />
      ))}{" "}
      to{" "}
      {word("Last day", dateWords(settings.to), () => (
        <DateField label="Last session" value={settings.to} market={market} onChange={(to) => set({ to })} />
      ))}
      , with{" "}
      {word("Starting cash", number(settings.cash), () => (
        <NumberField
          label={`Starting cash, ${market?.instrument.currency ?? ""}`}
          value={settings.cash}
          onChange={(cash) => cash > 0 && set({ cash })}
        />
      ))}{" "}
      {market?.instrument.currency === "XSC" ? "crowns" : market?.instrument.currency},{" "}
      {word("Costs", costs, () => (
        <CostsForm settings={settings} market={market} set={set} />
      ))}
      ,{" "}
      {word("Path inside a bar", settings.path === "finer" ? "finer-bar" : "assumed", (close) => (
        <div className="flex w-72 flex-col gap-1">
          {(
            [
              ["assumed", "Assumed", "The nearer extreme of each bar comes first."],
              ["finer", "Finer bars", "The order of high and low is read from the 1-minute bars inside."],
            ] as const
          ).map(([path, name, text]) => (
            <button
              key={path}
              type="button"
              className={cx("rounded px-2 py-1 text-left hover:bg-sunk", settings.path === path && "bg-sunk")}
              onClick={() => {
                set({ path });
                close();
              }}
            >
              <span className="font-semibold">{name}</span>
              <span className="block text-soft">{text}</span>
            </button>
          ))}
        </div>
      ))}{" "}
      paths
    </p>
  );
}

interface WordProps {
  readonly label: string;
  readonly text: string;
  readonly readOnly: boolean;
  readonly children: (close: () => void) => ReactNode;
}

function Word({ label, text, readOnly, children }: WordProps) {
  const [open, setOpen] = useState(false);
  if (readOnly) return <strong className="font-semibold">{text}</strong>;
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        className="rounded-xs border-soft border-b border-dotted font-semibold hover:bg-sunk data-[state=open]:bg-sunk"
        aria-label={`${label}: ${text}`}
      >
        {text}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content align="start" sideOffset={6} className="z-50 rounded-md border border-rule bg-sheet p-2 shadow-(--shadow)">
          {children(() => setOpen(false))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function DateField({
  label,
  value,
  market,
  onChange,
}: {
  readonly label: string;
  readonly value: string;
  readonly market: Market | undefined;
  readonly onChange: (value: string) => void;
}) {
  return (
    <Field label={label} hint={market ? `Bars from ${dateWords(market.firstDate)} to ${dateWords(market.lastDate)}.` : ""}>
      {(id) => (
        <TextInput
          id={id}
          type="date"
          value={value}
          min={market?.firstDate}
          max={market?.lastDate}
          onChange={(event) => event.target.value && onChange(event.target.value)}
        />
      )}
    </Field>
  );
}

function NumberField({
  label,
  value,
  onChange,
  step = "any",
}: {
  readonly label: string;
  readonly value: number;
  readonly onChange: (value: number) => void;
  readonly step?: string;
}) {
  return (
    <Field label={label}>
      {(id) => (
        <TextInput
          id={id}
          type="number"
          step={step}
          min={0}
          defaultValue={value}
          onChange={(event) => event.target.value !== "" && onChange(Number(event.target.value))}
        />
      )}
    </Field>
  );
}
