import { Field, TextInput } from "../../ui/field.tsx";

/** The currency in which an instrument's price moves are paid. */
export function CurrencyField({ value, onChange }: { readonly value: string; readonly onChange: (currency: string) => void }) {
  return (
    <Field label="Currency">
      {(id) => (
        <TextInput
          id={id}
          value={value}
          maxLength={8}
          aria-invalid={value === ""}
          onChange={(event) => onChange(event.target.value.trim().toUpperCase())}
        />
      )}
    </Field>
  );
}
