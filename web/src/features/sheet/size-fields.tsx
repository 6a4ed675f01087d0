/** How much a sheet enters with. */
import type { RuleSheet } from "@plan-tester/core";
import { Field, Select } from "../../ui/field.tsx";
import { NumberField } from "../../ui/number-field.tsx";

export function SizeFields({ size, onChange }: { readonly size: RuleSheet["size"]; readonly onChange: (size: RuleSheet["size"]) => void }) {
  const value = size?.value ?? 1;
  const make = (by: string, next: number): void =>
    onChange(
      by === "balance step"
        ? { by, value: next, step: size?.by === "balance step" ? size.step : 10_000 }
        : ({ by, value: next } as NonNullable<RuleSheet["size"]>),
    );
  return (
    <div className="flex w-72 flex-col gap-2">
      <Field label="Size">
        {(id) => (
          <Select id={id} value={size?.by ?? "units"} onChange={({ target }) => make(target.value, value)}>
            <option value="units">a number of units</option>
            <option value="equity percent">percent of equity</option>
            <option value="risk percent">risk, percent of equity</option>
            <option value="risk money">risk, money</option>
            <option value="balance step">units for every full balance of</option>
          </Select>
        )}
      </Field>
      <NumberField label="Amount" above={0} value={value} onChange={(next) => make(size?.by ?? "units", next)} />
      {size?.by === "balance step" ? (
        <NumberField label="Balance" above={0} value={size.step} onChange={(step) => onChange({ ...size, step })} />
      ) : null}
    </div>
  );
}
