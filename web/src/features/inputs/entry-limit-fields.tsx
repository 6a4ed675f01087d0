/** Whether entries are sent at a limit, how far from the price, and how long they work there. */
import type { EntryLimit } from "@plan-tester/core";
import { BOUNDS } from "../../lib/setting-bounds.ts";
import { NumberField } from "../../ui/number-field.tsx";

export interface EntryLimitFieldsProps {
  /** null for entries as the plan sends them. */
  readonly limit: EntryLimit | null;
  readonly onChange: (limit: EntryLimit | null) => void;
}

export function EntryLimitFields({ limit, onChange }: EntryLimitFieldsProps) {
  return (
    <>
      <NumberField
        label="Entries at a limit, ticks better"
        {...BOUNDS.entryTicks}
        placeholder="as the plan says"
        value={limit?.ticks ?? null}
        onChange={(ticks) => onChange({ ticks, bars: limit?.bars ?? 1 })}
        onEmpty={() => onChange(null)}
      />
      <NumberField
        label="Limits work for, bars"
        {...BOUNDS.entryBars}
        whole
        disabled={!limit}
        value={limit?.bars ?? null}
        onChange={(bars) => limit && onChange({ ...limit, bars })}
      />
    </>
  );
}
