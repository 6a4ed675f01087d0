/** A value in place of another: written as a sentence would say it, or taken from the list; where it is read from; how far back. */
import type { Market } from "@plan-tester/contract";
import { readValue, SHEET_PRICES, type SheetValue, STUDIES, spokenStudy, valueText } from "@plan-tester/core";
import { useState } from "react";
import { TextInput } from "../../ui/field.tsx";
import { NumberField } from "../../ui/number-field.tsx";
import { WhereChoice } from "./where-choice.tsx";

export interface ValueChoiceProps {
  readonly value: SheetValue;
  readonly markets: readonly Market[];
  readonly onChange: (value: SheetValue) => void;
  readonly onClose: () => void;
}

const WORDS: readonly { readonly text: string; readonly about: string }[] = [
  ...SHEET_PRICES.map((price) => ({ text: price, about: "price" })),
  ...STUDIES.flatMap(({ name, outputs, summary }) =>
    outputs.map((output) => ({ text: `the ${spokenStudy(name)}${outputs.length > 1 ? ` ${output}` : ""}`, about: summary })),
  ),
];

/** The list's words that hold all that is written, in any order. */
const matching = (written: string): typeof WORDS => {
  const parts = written.toLowerCase().split(/\s+/).filter(Boolean);
  return WORDS.filter(({ text, about }) => parts.every((part) => `${text} ${about}`.toLowerCase().includes(part)));
};

export function ValueChoice({ value, markets, onChange, onClose }: ValueChoiceProps) {
  const [written, setWritten] = useState("");
  const [problem, setProblem] = useState("");
  const found = matching(written);
  const take = (text: string): void => {
    try {
      onChange(readValue(text));
      onClose();
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <div className="flex w-96 flex-col gap-2">
      <TextInput
        aria-label="Value in words"
        placeholder={valueText(value)}
        value={written}
        maxLength={400}
        onChange={({ target }) => {
          setWritten(target.value);
          setProblem("");
        }}
        onKeyDown={(event) => {
          if (event.key !== "Enter" || written.trim() === "") return;
          event.preventDefault();
          take(found.length === 1 && found[0] ? found[0].text : written);
        }}
      />
      {problem ? (
        <p role="alert" className="text-[12px] text-loss">
          {problem}
        </p>
      ) : null}
      <ul className="max-h-56 overflow-auto" aria-label="Prices and studies">
        {found.map(({ text, about }) => (
          <li key={text}>
            <button
              type="button"
              className="flex w-full items-baseline gap-2 rounded px-2 py-0.5 text-left hover:bg-sunk"
              onClick={() => take(text)}
            >
              <span className="whitespace-nowrap font-semibold">{text}</span>
              <span className="truncate text-[12px] text-soft">{about}</span>
            </button>
          </li>
        ))}
      </ul>
      {value.kind === "price" || (value.kind === "study" && value.sources.length === 0) ? (
        <WhereChoice where={value.on} markets={markets} onChange={(on) => onChange({ ...value, on })} />
      ) : null}
      {value.kind === "number" ? null : (
        <NumberField
          label="Bars ago"
          whole
          min={0}
          placeholder="now"
          value={value.ago}
          onChange={(ago) => onChange({ ...value, ago })}
          onEmpty={() => onChange({ ...value, ago: null })}
        />
      )}
    </div>
  );
}
