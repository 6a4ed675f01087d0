/** What may stand in place of a word of a rule. */
import type { Market } from "@plan-tester/contract";
import {
  SHEET_CROSSINGS,
  SHEET_MATH,
  SHEET_STANDINGS,
  SHEET_WEEKDAYS,
  type SheetPath,
  type SheetRow,
  type SheetValue,
  type SlotKind,
  studyNamed,
  type Weekday,
  type Where,
} from "@plan-tester/core";
import { asWords, ChoiceList } from "../../ui/choice-list.tsx";
import { Field, TextInput } from "../../ui/field.tsx";
import { NumberField } from "../../ui/number-field.tsx";
import { valueAt, withValueAt } from "./edit-sheet.ts";
import { ValueChoice } from "./value-choice.tsx";
import { WhereChoice } from "./where-choice.tsx";

export interface SlotChoiceProps {
  readonly row: SheetRow;
  readonly slot: { readonly kind: SlotKind; readonly path: SheetPath };
  readonly markets: readonly Market[];
  readonly onChange: (row: SheetRow) => void;
  readonly onClose: () => void;
}

const ENDS_IN_WORDS = {
  both: "both bounds count",
  neither: "neither bound counts",
  lower: "the lower bound counts",
  upper: "the upper bound counts",
};

export function SlotChoice({ row, slot: { kind, path }, markets, onChange, onClose }: SlotChoiceProps) {
  const value = valueAt(row, path);
  const put = (next: unknown): void => onChange(withValueAt(row, path, next));
  const choose = (next: unknown): void => {
    put(next);
    onClose();
  };
  const parent = valueAt(row, path.slice(0, -1)) as Record<string, unknown>;
  switch (kind) {
    case "relation":
      return (
        <div className="flex w-64 flex-col gap-2">
          <ChoiceList label="On the one bar on which it happens" of={asWords(SHEET_CROSSINGS)} value={String(value)} onChoose={choose} />
          <ChoiceList label="While it holds" of={asWords(SHEET_STANDINGS)} value={String(value)} onChoose={choose} />
        </div>
      );
    case "number":
      return <NumberField label="Number" value={value as number} onChange={put} />;
    case "whole":
      return <NumberField label="Bars" whole min={path.at(-1) === "ago" ? 0 : 1} value={value as number} onChange={put} />;
    case "output":
      return (
        <ChoiceList
          label="Which of its columns"
          of={asWords(studyNamed(String(parent.study)).outputs)}
          value={String(value)}
          onChoose={choose}
        />
      );
    case "math":
      return <ChoiceList label="Arithmetic" of={asWords(SHEET_MATH)} value={String(value)} onChoose={choose} />;
    case "ends":
      return <ChoiceList label="Which bounds count" of={ENDS_IN_WORDS} value={String(value)} onChoose={choose} />;
    case "way":
      return parent.kind === "trend" ? (
        <ChoiceList label="Way" of={asWords(["rising", "falling"])} value={String(value)} onChoose={choose} />
      ) : (
        <BarChoice row={row} path={path.slice(0, -1)} onChange={onChange} onClose={onClose} />
      );
    case "where":
      return <WhereChoice where={value as Where} markets={markets} onChange={put} />;
    case "time":
      return (
        <Field label="Exchange time">
          {(id) => <TextInput id={id} type="time" value={String(value)} onChange={({ target }) => target.value && put(target.value)} />}
        </Field>
      );
    case "weekdays":
      return <WeekdayChoice days={value as readonly Weekday[]} onChange={put} />;
    case "value":
      return <ValueChoice value={value as SheetValue} markets={markets} onChange={put} onClose={onClose} />;
  }
}

function BarChoice({ row, path, onChange, onClose }: Pick<SlotChoiceProps, "row" | "onChange" | "onClose"> & { readonly path: SheetPath }) {
  const test = valueAt(row, path) as { readonly way: string; readonly against: string };
  const kinds = ["up against its open", "down against its open", "up against the close before", "down against the close before"];
  return (
    <ChoiceList
      label="Colour of the bar"
      of={asWords(kinds)}
      value={`${test.way} against ${test.against === "open" ? "its open" : "the close before"}`}
      onChoose={(word) => {
        const against = word.endsWith("its open") ? "open" : "close before";
        onChange(withValueAt(row, path, { ...test, way: word.startsWith("up") ? "up" : "down", against }));
        onClose();
      }}
    />
  );
}

function WeekdayChoice({ days, onChange }: { readonly days: readonly Weekday[]; readonly onChange: (days: readonly Weekday[]) => void }) {
  return (
    <fieldset className="flex flex-col gap-1">
      <legend className="pb-0.5 text-[12px] text-soft">Weekdays</legend>
      {SHEET_WEEKDAYS.map((day) => (
        <label key={day} className="flex items-center gap-2">
          <input
            type="checkbox"
            className="size-4 accent-(--accent)"
            checked={days.includes(day)}
            disabled={days.length === 1 && days[0] === day}
            onChange={({ target }) => onChange(SHEET_WEEKDAYS.filter((one) => (one === day ? target.checked : days.includes(one))))}
          />
          {day}
        </label>
      ))}
    </fieldset>
  );
}
