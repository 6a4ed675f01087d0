/** How a watch may go about its orders. */
import { type WatchOptions, watchOptionsSchema } from "@plan-tester/contract";
import { boundsOf } from "../../lib/read-number.ts";
import { Field, Select, TextInput } from "../../ui/field.tsx";
import { NumberField } from "../../ui/number-field.tsx";
import { MODES } from "./watch-actions.tsx";

const { properties } = watchOptionsSchema;

export interface WatchOptionsFieldsProps {
  readonly options: WatchOptions;
  readonly onChange: (part: Partial<WatchOptions>) => void;
}

export function WatchOptionsFields({ options, onChange }: WatchOptionsFieldsProps) {
  return (
    <>
      <Field label="Mode">
        {(id) => (
          <Select id={id} value={options.mode} onChange={(event) => onChange({ mode: event.target.value as WatchOptions["mode"] })}>
            {MODES.map((mode) => (
              <option key={mode}>{mode}</option>
            ))}
          </Select>
        )}
      </Field>
      {options.mode === "ask first" ? (
        <>
          <NumberField
            label="A prompt lapses after, minutes"
            {...boundsOf(properties.promptMinutes)}
            value={options.promptMinutes}
            onChange={(promptMinutes) => onChange({ promptMinutes })}
          />
          <label className="flex items-center gap-2 self-end pb-1">
            <input type="checkbox" checked={options.asksExits} onChange={(event) => onChange({ asksExits: event.target.checked })} />
            Ask before exits too
          </label>
        </>
      ) : null}
      <NumberField
        label="Rounds"
        hint="An entry and its exit each; empty for endless."
        whole
        {...{ min: 1, max: 100_000 }}
        value={options.rounds}
        onChange={(rounds) => onChange({ rounds })}
        onEmpty={() => onChange({ rounds: null })}
      />
      <NumberField
        label="Oldest bar that sends entries, seconds"
        hint="Of the venue's clock; empty for half a bar."
        {...{ min: 1, max: 1e7 }}
        value={options.patienceSeconds}
        onChange={(patienceSeconds) => onChange({ patienceSeconds })}
        onEmpty={() => onChange({ patienceSeconds: null })}
      />
      <NumberField
        label="Tell when drift is beyond"
        hint="Money, against the backtest of the same bars; empty for never."
        {...{ min: 0.01, max: 1e12 }}
        value={options.driftLimit}
        onChange={(driftLimit) => onChange({ driftLimit })}
        onEmpty={() => onChange({ driftLimit: null })}
      />
      <Field label="Account at the venue" hint="Empty for one of its own; plans that share one touch only their own lots.">
        {(id) => (
          <TextInput
            id={id}
            value={options.account}
            pattern="[A-Za-z0-9_-]*"
            maxLength={40}
            aria-invalid={!/^[A-Za-z0-9_-]*$/.test(options.account)}
            onChange={(event) => onChange({ account: event.target.value })}
          />
        )}
      </Field>
    </>
  );
}
