/** A number that may be left empty where the field allows it. */
import { Field, TextInput } from "../../ui/field.tsx";

export interface NumberFieldProps {
  readonly label: string;
  readonly value: number | null;
  readonly hint?: string;
  readonly min?: number;
  readonly whole?: boolean;
  readonly placeholder?: string;
  readonly disabled?: boolean;
  /** Gets null when the field is emptied. */
  readonly onChange: (value: number | null) => void;
}

export function NumberField({ label, value, hint, min = 0, whole = false, placeholder, disabled, onChange }: NumberFieldProps) {
  return (
    <Field label={label} {...(hint === undefined ? {} : { hint })}>
      {(id) => (
        <TextInput
          id={id}
          type="number"
          step={whole ? 1 : "any"}
          min={min}
          disabled={disabled}
          placeholder={placeholder}
          defaultValue={value ?? ""}
          onChange={({ target }) => {
            if (target.value === "") return onChange(null);
            const next = Number(target.value);
            if (next >= min && (!whole || Number.isInteger(next))) onChange(next);
          }}
        />
      )}
    </Field>
  );
}
