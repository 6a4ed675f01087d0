/** One input of a sweep: whether it varies, and over which values. */
import { type SweepRange, valuesOf } from "@plan-tester/contract";
import type { InputSpec, InputValue } from "@plan-tester/core";
import { useId } from "react";
import { number } from "../../lib/format.ts";
import { TextInput } from "../../ui/field.tsx";

const STEPS = 8;

/** A first guess: some steps around the current value, inside the bounds. */
export function defaultRange(spec: InputSpec, value: InputValue): SweepRange {
  if (spec.kind === "yes-no") return { input: spec.name, values: [false, true] };
  if (spec.kind === "choice") return { input: spec.name, values: [...spec.choices] };
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
  const numbers = range && "from" in range ? range : null;
  const field = (key: "from" | "to" | "step", label: string) =>
    numbers ? (
      <label className="flex items-center gap-1.5 text-[13px] text-soft">
        {label}
        <TextInput
          type="number"
          step="any"
          className="w-20 text-right"
          aria-label={`${spec.label}, ${label}`}
          value={numbers[key]}
          onChange={(event) => {
            const next = Number(event.target.value);
            if (Number.isFinite(next) && (key !== "step" || next > 0)) onChange({ ...numbers, [key]: next });
          }}
        />
      </label>
    ) : null;
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
        <span className="truncate">{spec.label}</span>
      </label>
      {field("from", "from")}
      {field("to", "to")}
      {field("step", "step")}
      {range && !numbers && "values" in range ? <span className="text-[13px]">{range.values.map(String).join(", ")}</span> : null}
      <span className="ml-auto text-[13px] text-soft">{range ? `${number(valuesOf(range).length)} values` : `stays ${String(value)}`}</span>
    </div>
  );
}
