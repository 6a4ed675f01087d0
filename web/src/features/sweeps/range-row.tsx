/** One input of a sweep: whether it varies, and over which values. */
import { type SweepRange, TIMEFRAME_AXIS, valuesOf } from "@plan-tester/contract";
import type { InputSpec, InputValue } from "@plan-tester/core";
import { useId, useState } from "react";
import { number } from "../../lib/format.ts";
import { TextInput } from "../../ui/field.tsx";
import { NumberInput } from "../../ui/number-field.tsx";

const STEPS = 8;
/** So many choices around the present one are taken at first; of timeframes fewer, since the shortest take long. */
const FIRST_CHOICES = 7;
const FIRST_TIMEFRAMES = 3;

/** A first guess: some steps around the current value, inside the bounds. */
export function defaultRange(spec: InputSpec, value: InputValue): SweepRange {
  if (spec.kind === "yes-no") return { input: spec.name, values: [false, true] };
  if (spec.kind === "choice") {
    const count = spec.name === TIMEFRAME_AXIS ? FIRST_TIMEFRAMES : FIRST_CHOICES;
    const from = Math.max(0, spec.choices.indexOf(String(value)) - Math.floor(count / 2));
    return { input: spec.name, values: spec.choices.slice(from, from + count) };
  }
  if (spec.kind !== "whole" && spec.kind !== "decimal") return { input: spec.name, values: [value] };
  const centre = Number(value);
  const least = spec.min ?? centre / 2;
  const most = spec.max ?? centre * 2;
  const unit = spec.step ?? (spec.kind === "whole" ? 1 : 0.1);
  const reach = Math.min(Math.max(centre / 2, unit), most - least);
  const round = (x: number): number => Number((Math.round(x / unit) * unit).toPrecision(12));
  const step = Math.max(unit, round((2 * reach) / STEPS));
  const from = Math.max(spec.min ?? Number.NEGATIVE_INFINITY, round(centre - reach));
  return { input: spec.name, from, to: Math.min(most, Number((from + STEPS * step).toPrecision(12))), step };
}

export interface RangeRowProps {
  readonly spec: InputSpec;
  readonly value: InputValue;
  readonly range: SweepRange | null;
  readonly onChange: (range: SweepRange | null) => void;
}

export function RangeRow({ spec, value, range, onChange }: RangeRowProps) {
  const id = useId();
  return (
    <div className="flex min-h-9 flex-wrap items-center gap-3 border-rule border-b py-0.5">
      <label htmlFor={id} className="flex w-52 items-center gap-2">
        <input
          id={id}
          type="checkbox"
          className="size-4 accent-(--accent)"
          checked={range !== null}
          onChange={(event) => onChange(event.target.checked ? defaultRange(spec, value) : null)}
        />
        <span className="truncate" title={spec.help || spec.label}>
          {spec.label} {spec.unit ? <span className="text-[12px] text-soft">{spec.unit}</span> : null}
        </span>
      </label>
      {range && "from" in range ? <Steps spec={spec} range={range} onChange={onChange} /> : null}
      {range && "values" in range ? <Values spec={spec} values={range.values} onChange={onChange} /> : null}
      <span className="ml-auto text-[13px] text-soft">{range ? `${number(valuesOf(range).length)} values` : `stays ${String(value)}`}</span>
    </div>
  );
}

interface StepsProps extends Pick<RangeRowProps, "spec" | "onChange"> {
  readonly range: Extract<SweepRange, { from: number }>;
}

function Steps({ spec, range, onChange }: StepsProps) {
  return (
    <>
      {(["from", "to", "step"] as const).map((key) => (
        <label key={key} className="flex items-center gap-1.5 text-[13px] text-soft">
          {key}
          <NumberInput
            className="w-20 text-right"
            aria-label={`${spec.label}, ${key}`}
            value={range[key]}
            {...(key === "step" ? { above: 0 } : {})}
            onChange={(next) => onChange({ ...range, [key]: next })}
          />
        </label>
      ))}
    </>
  );
}

interface ValuesProps extends Pick<RangeRowProps, "spec" | "onChange"> {
  readonly values: readonly InputValue[];
}

/** Choices as boxes to tick; times, texts and the like as a list to write. */
function Values({ spec, values, onChange }: ValuesProps) {
  const [text, setText] = useState(values.map(String).join(", "));
  if (spec.kind === "yes-no") return <span className="text-[13px]">no, yes</span>;
  if (spec.kind !== "choice")
    return (
      <TextInput
        className="w-64"
        aria-label={`${spec.label}, values`}
        placeholder="values, commas between them"
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          const next = event.target.value.split(",").map((part) => part.trim());
          const written = [...new Set(next.filter(Boolean))];
          if (written.length > 0) onChange({ input: spec.name, values: written });
        }}
      />
    );
  return (
    <fieldset className="flex min-w-0 flex-1 flex-wrap gap-x-3 gap-y-0.5 text-[13px]">
      <legend className="sr-only">{spec.label}, values</legend>
      {spec.choices.map((choice) => (
        <label key={choice} className="flex items-center gap-1">
          <input
            type="checkbox"
            className="accent-(--accent)"
            checked={values.includes(choice)}
            onChange={(event) => {
              const next = spec.choices.filter((other) => (other === choice ? event.target.checked : values.includes(other)));
              onChange(next.length > 0 ? { input: spec.name, values: next } : null);
            }}
          />
          {choice}
        </label>
      ))}
    </fieldset>
  );
}
