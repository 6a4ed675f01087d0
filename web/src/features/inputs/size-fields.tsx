/** How much is traded at an entry. */
import type { SheetSize } from "@plan-tester/core";
import { Field, Select } from "../../ui/field.tsx";
import { NumberField } from "../../ui/number-field.tsx";

export interface SizeFieldsProps {
  /** null: what `unset` says; without that one unit. */
  readonly size: SheetSize | null;
  /** The choice that leaves it to somebody else, in words. */
  readonly unset?: string;
  readonly onChange: (size: SheetSize | null) => void;
}

export function SizeFields({ size, unset, onChange }: SizeFieldsProps) {
  const value = size?.value ?? 1;
  const make = (by: string, next: number): void =>
    onChange(
      by === ""
        ? null
        : by === "balance step"
          ? { by, value: next, step: size?.by === "balance step" ? size.step : 10_000 }
          : ({ by, value: next } as SheetSize),
    );
  const isSet = size !== null || unset === undefined;
  return (
    <div className="flex w-72 max-w-full flex-col gap-2">
      <Field label="Size">
        {(id) => (
          <Select id={id} value={size?.by ?? (unset === undefined ? "units" : "")} onChange={({ target }) => make(target.value, value)}>
            {unset === undefined ? null : <option value="">{unset}</option>}
            <option value="units">a number of units</option>
            <option value="equity percent">percent of equity</option>
            <option value="risk percent">risk, percent of equity</option>
            <option value="risk money">risk, money</option>
            <option value="balance step">units for every full balance of</option>
          </Select>
        )}
      </Field>
      {isSet ? <NumberField label="Amount" above={0} value={value} onChange={(next) => make(size?.by ?? "units", next)} /> : null}
      {size?.by === "balance step" ? (
        <NumberField label="Balance" above={0} value={size.step} onChange={(step) => onChange({ ...size, step })} />
      ) : null}
    </div>
  );
}
