/** When one side is entered: at any time, by the clock, or by bars of the session. */
import type { KitWindow } from "@plan-tester/core";
import { Field, Select, TextInput } from "../../ui/field.tsx";
import { NumberField } from "../../ui/number-field.tsx";

export interface WindowFieldsProps {
  readonly label?: string;
  readonly window: KitWindow | null;
  readonly onChange: (window: KitWindow | null) => void;
}

export function WindowFields({ label = "Entries", window, onChange }: WindowFieldsProps) {
  return (
    <div className="flex w-72 max-w-full flex-col gap-2">
      <Field label={label}>
        {(id) => (
          <Select
            id={id}
            value={window?.by ?? "any"}
            onChange={({ target }) =>
              onChange(
                target.value === "clock"
                  ? { by: "clock", from: "09:00", to: "16:00" }
                  : target.value === "bars"
                    ? { by: "bars", from: 1, to: 20 }
                    : null,
              )
            }
          >
            <option value="any">at any time</option>
            <option value="clock">by the clock of the exchange</option>
            <option value="bars">by bars of the session</option>
          </Select>
        )}
      </Field>
      {window?.by === "clock" ? (
        <div className="grid grid-cols-2 gap-2">
          {(["from", "to"] as const).map((end) => (
            <Field key={end} label={end === "from" ? "From" : "To"}>
              {(id) => (
                <TextInput
                  id={id}
                  type="time"
                  value={window[end]}
                  onChange={({ target }) => target.value && onChange({ ...window, [end]: target.value })}
                />
              )}
            </Field>
          ))}
        </div>
      ) : null}
      {window?.by === "bars" ? (
        <div className="grid grid-cols-2 gap-2">
          <NumberField label="From bar" whole min={0} value={window.from} onChange={(from) => onChange({ ...window, from })} />
          <NumberField label="To bar" whole min={0} value={window.to} onChange={(to) => onChange({ ...window, to })} />
        </div>
      ) : null}
    </div>
  );
}
