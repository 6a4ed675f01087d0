/** Size and kind of the entries of a watch. */
import type { Instrument } from "@plan-tester/core";
import { units } from "../../lib/format.ts";
import { BOUNDS } from "../../lib/setting-bounds.ts";
import { NumberField } from "../../ui/number-field.tsx";
import { EntryLimitFields } from "../inputs/entry-limit-fields.tsx";
import type { EntryChoice } from "./watch-starts.ts";

export interface EntryFieldsProps {
  readonly entries: EntryChoice;
  /** The one that it trades; undefined where there are several. */
  readonly instrument: Instrument | undefined;
  readonly onChange: (entries: EntryChoice) => void;
}

const steps = ({ minQuantity, quantityStep }: Instrument): string =>
  `At least ${units(minQuantity)}, in steps of ${units(quantityStep)}; empty for the plan's own size.`;

export function EntryFields({ entries, instrument, onChange }: EntryFieldsProps) {
  const { units: many, limit } = entries;
  return (
    <>
      <NumberField
        label="Units of each entry"
        hint={instrument ? steps(instrument) : "Rounded down to each instrument's step; empty for the plan's own size."}
        {...{ min: instrument?.minQuantity ?? BOUNDS.maxQuantity.min ?? 0, max: BOUNDS.maxQuantity.max ?? 1e12 }}
        placeholder="the plan's own"
        value={many}
        onChange={(next) => onChange({ ...entries, units: next })}
        onEmpty={() => onChange({ ...entries, units: null })}
      />
      <EntryLimitFields limit={limit} onChange={(next) => onChange({ ...entries, limit: next })} />
    </>
  );
}
