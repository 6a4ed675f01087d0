/** A run's settings as one sentence whose words are the controls. */
import type { Market, RunSettings } from "@plan-tester/contract";
import { nominalMs, timeframeLabel } from "@plan-tester/core";
import type { ReactNode } from "react";
import { accountCurrency, coveredPeriod, currencyWord, marketOf, offeredTimeframes } from "../../data/markets.ts";
import { dateWords, number } from "../../lib/format.ts";
import { BOUNDS } from "../../lib/setting-bounds.ts";
import { costsWords } from "../../lib/settings-words.ts";
import { cx } from "../../ui/cx.ts";
import { DateField } from "../../ui/date-field.tsx";
import { Field } from "../../ui/field.tsx";
import { NumberField } from "../../ui/number-field.tsx";
import { Word } from "../../ui/word.tsx";
import { noSessionWords } from "../markets/now-words.ts";
import { offeredMarkets } from "../markets/shown-markets.ts";
import { AccountForm, accountWords } from "./account-form.tsx";
import { BasketForm, basketWords } from "./basket-form.tsx";
import { CostsForm } from "./costs-form.tsx";
import { KitForm, kitWords } from "./kit-form.tsx";
import { PathChoice, pathWords } from "./path-choice.tsx";
import { PeriodForm, periodWords } from "./period-form.tsx";
import { TestPositionForm, testPositionWords } from "./test-position-form.tsx";

export interface SettingsSentenceProps {
  readonly settings: RunSettings;
  readonly markets: readonly Market[];
  readonly readOnly?: boolean;
  readonly onChange: (settings: RunSettings) => void;
}

export function SettingsSentence({ settings, markets, readOnly = false, onChange }: SettingsSentenceProps) {
  const market = marketOf(markets, settings.symbol);
  const currency = accountCurrency(settings, markets);
  const set = (change: Partial<RunSettings>): void => onChange({ ...settings, ...change });
  const word = (label: string, text: string, children: (close: () => void) => ReactNode) => (
    <Word label={label} text={text} readOnly={readOnly}>
      {children}
    </Word>
  );
  return (
    <p className="text-[14px] leading-6">
      On{" "}
      {word("Instrument", settings.symbol, (close) => (
        <ul className="max-h-80 w-72 overflow-auto" aria-label="Instruments">
          {offeredMarkets(markets, [settings.symbol]).map(({ instrument, timeframe, firstDate, lastDate }) => (
            <li key={instrument.symbol}>
              <button
                type="button"
                className={cx(
                  "flex w-full items-baseline gap-2 rounded px-2 py-1 text-left hover:bg-sunk",
                  instrument.symbol === settings.symbol && "font-semibold",
                )}
                onClick={() => {
                  const finest = nominalMs(timeframe) > nominalMs(settings.timeframe) ? { timeframe } : {};
                  const { symbol } = instrument;
                  const alsoOn = settings.alsoOn.filter((other) => other !== symbol);
                  set({ symbol, alsoOn, ...finest, ...coveredPeriod(settings, { firstDate, lastDate }) });
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
      {settings.alsoOn.length > 0 || !readOnly ? (
        <>
          {word("Further instruments", basketWords(settings), () => (
            <BasketForm settings={settings} markets={offeredMarkets(markets, settings.alsoOn)} set={set} />
          ))}{" "}
        </>
      ) : null}
      in{" "}
      {word("Timeframe", timeframeLabel(settings.timeframe), (close) => (
        <ul className="grid w-48 grid-cols-2" aria-label="Timeframes">
          {offeredTimeframes(market).map((timeframe) => (
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
      bars{" "}
      {word("Period", periodWords(settings.period), (close) => (
        <PeriodForm period={settings.period} onChange={(period) => set({ period })} onDone={close} />
      ))}{" "}
      {word("First day", dateWords(settings.from), () => (
        <SessionField
          label="First session"
          value={settings.from}
          market={market}
          onChange={(from) => set({ from, ...(settings.period !== "to the end" && { period: null }) })}
        />
      ))}{" "}
      to{" "}
      {word("Last day", dateWords(settings.to), () => (
        <SessionField label="Last session" value={settings.to} market={market} onChange={(to) => set({ to, period: null })} />
      ))}
      , with{" "}
      {word("Starting cash", number(settings.cash), () => (
        <NumberField label={`Starting cash, ${currency}`} value={settings.cash} {...BOUNDS.cash} onChange={(cash) => set({ cash })} />
      ))}{" "}
      {currencyWord(currency)},{" "}
      {word("Costs", costsWords(settings), () => (
        <CostsForm
          settings={settings}
          market={market}
          others={settings.alsoOn.flatMap((symbol) => marketOf(markets, symbol) ?? [])}
          set={set}
        />
      ))}
      ,{" "}
      {word("Path inside a bar", pathWords(settings.path), (close) => (
        <PathChoice
          path={settings.path}
          onChange={(path) => {
            set({ path });
            close();
          }}
        />
      ))}{" "}
      paths,{" "}
      {word("Account", accountWords(settings), () => (
        <AccountForm settings={settings} markets={markets} set={set} />
      ))}{" "}
      and{" "}
      {word("Exit kit", kitWords(settings), () => (
        <KitForm settings={settings} markets={markets} set={set} />
      ))}
      {settings.testPosition ? (
        <>
          {" "}
          and a test position:{" "}
          {word("Test position", testPositionWords(settings.testPosition), () => (
            <TestPositionForm position={settings.testPosition!} set={set} />
          ))}
        </>
      ) : null}
    </p>
  );
}

function SessionField({
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
    <Field
      label={label}
      hint={
        market
          ? `Bars from ${dateWords(market.firstDate)} to ${dateWords(market.lastDate)}. ${noSessionWords(market.instrument.calendar, value)}`
          : ""
      }
    >
      {(id) => <DateField id={id} value={value} min={market?.firstDate} max={market?.lastDate} onChange={onChange} />}
    </Field>
  );
}
