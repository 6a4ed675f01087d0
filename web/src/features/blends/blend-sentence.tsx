/** The terms of a blend as one sentence whose words are the controls. */
import { accountLimitsWords, BLEND_DAYS, BLEND_FALLS, type BlendSetup, type BlendWeighting } from "@plan-tester/contract";
import { WEIGHTINGS } from "@plan-tester/core";
import type { ReactNode } from "react";
import { currencyWord } from "../../data/markets.ts";
import { number } from "../../lib/format.ts";
import { ChoiceList } from "../../ui/choice-list.tsx";
import { LimitFields } from "../../ui/limit-fields.tsx";
import { NumberField } from "../../ui/number-field.tsx";
import { Word } from "../../ui/word.tsx";
import { BLEND_DAYS_WORDS, BLEND_FALL_WORDS, WEIGHTING_WORDS } from "./blend-words.ts";

export interface BlendSentenceProps {
  readonly setup: BlendSetup;
  /** Currencies of members' accounts other than the blend's. */
  readonly foreign: readonly string[];
  readonly onChange: (change: Partial<BlendSetup>) => void;
}

const word = (label: string, text: string, children: (close: () => void) => ReactNode) => (
  <Word label={label} text={text} readOnly={false}>
    {children}
  </Word>
);

export function BlendSentence({ setup, foreign, onChange }: BlendSentenceProps) {
  const { cash, currency, limits, rates, tolerated, allowance, fall, weighting, chosenBy } = setup;
  const money = currencyWord(currency);
  const isChosen = weighting !== "by hand" && weighting !== "as they ran";
  return (
    <p className="text-[14px] leading-6">
      On an account of{" "}
      {word("Account", number(cash), () => (
        <NumberField label={`Account, ${money}`} value={cash} min={1} max={1e12} onChange={(next) => onChange({ cash: next })} />
      ))}{" "}
      {money} with{" "}
      {word("Account limits", accountLimitsWords(limits) || "no limits", () => (
        <div className="grid w-96 grid-cols-2 gap-2">
          <LimitFields limits={limits ?? null} cash={cash} onChange={(next) => onChange({ limits: next ?? undefined })} />
        </div>
      ))}
      , sized{" "}
      {word("Weights", WEIGHTING_WORDS[weighting], (close) => (
        <ChoiceList<BlendWeighting>
          label="Sizes are set"
          of={
            Object.fromEntries((["by hand", ...WEIGHTINGS] as const).map((one) => [one, WEIGHTING_WORDS[one]])) as Record<
              BlendWeighting,
              string
            >
          }
          value={weighting}
          onChoose={(next) => {
            onChange({ weighting: next });
            close();
          }}
        />
      ))}
      {isChosen ? (
        <>
          , chosen on the first{" "}
          {word("Chosen by", `${number(chosenBy)} %`, () => (
            <NumberField
              label="Days by which weights are chosen, % of all"
              value={chosenBy}
              min={10}
              max={90}
              onChange={(next) => onChange({ chosenBy: next })}
            />
          ))}{" "}
          of the days
        </>
      ) : null}
      , tolerating a fall of{" "}
      {word("Tolerated fall", `${number(tolerated, tolerated % 1 === 0 ? 0 : 1)} %`, () => (
        <NumberField
          label="Tolerated fall, % of the account"
          value={tolerated}
          min={0.1}
          max={100}
          onChange={(next) => onChange({ tolerated: next })}
        />
      ))}{" "}
      {word("Fall", BLEND_FALL_WORDS[fall], (close) => (
        <ChoiceList
          label="The fall that counts"
          of={Object.fromEntries(BLEND_FALLS.map((one) => [one, BLEND_FALL_WORDS[one]])) as Record<(typeof BLEND_FALLS)[number], string>}
          value={fall}
          onChoose={(next) => {
            onChange({ fall: next });
            close();
          }}
        />
      ))}
      {", over "}
      {word("Days", BLEND_DAYS_WORDS[setup.days], (close) => (
        <ChoiceList
          label="Days that count"
          of={Object.fromEntries(BLEND_DAYS.map((one) => [one, BLEND_DAYS_WORDS[one]])) as Record<(typeof BLEND_DAYS)[number], string>}
          value={setup.days}
          onChoose={(days) => {
            onChange({ days });
            close();
          }}
        />
      ))}
      {", with "}
      {word("Allowance", `${number(allowance)} %`, () => (
        <NumberField
          label="Added for a worse future, %"
          value={allowance}
          min={0}
          max={500}
          onChange={(next) => onChange({ allowance: next })}
        />
      ))}{" "}
      added for a worse future
      {foreign.map((other) => (
        <span key={other}>
          , {other} at{" "}
          {word(`Rate of ${other}`, other in rates ? String(rates[other]) : "a rate to be given", () => (
            <NumberField
              label={`${money} for one ${other}`}
              value={rates[other] ?? null}
              above={0}
              onChange={(rate) => onChange({ rates: { ...rates, [other]: rate } })}
            />
          ))}
        </span>
      ))}
      .
    </p>
  );
}
