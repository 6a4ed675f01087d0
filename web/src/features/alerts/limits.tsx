/** Quiet hours, how much a channel may send, and where web calls may go. */

import { type AlertSetup, alertSetupSchema } from "@plan-tester/contract";
import { boundsOf } from "../../lib/read-number.ts";
import { ZONES } from "../../lib/zones.ts";
import { TextInput } from "../../ui/field.tsx";
import { NumberInput } from "../../ui/number-field.tsx";
import type { SetupPart } from "./use-setup.ts";

const clockPattern = alertSetupSchema.properties.quiet.properties.from.pattern.slice(1, -1);

export function Limits({ setup, onChange }: { readonly setup: AlertSetup; readonly onChange: (part: SetupPart) => void }) {
  const { quiet, perMinute, allowsPrivate } = setup;
  const change = (part: Partial<AlertSetup["quiet"]>): void => onChange({ quiet: { ...quiet, ...part } });
  const time = (end: "from" | "to", label: string) => (
    <TextInput
      key={`${end} ${quiet[end]}`}
      aria-label={label}
      className="w-16"
      required
      pattern={clockPattern}
      title="Hours and minutes, as 22:00"
      disabled={!quiet.isOn}
      defaultValue={quiet[end]}
      onBlur={({ target }) => {
        if (target.value !== quiet[end] && target.reportValidity()) change({ [end]: target.value });
      }}
    />
  );
  return (
    <section aria-label="Limits" className="flex flex-col gap-3">
      <h2 className="font-semibold">Limits</h2>
      <div className="flex flex-wrap items-center gap-2">
        <label className="flex items-center gap-2">
          <input type="checkbox" checked={quiet.isOn} onChange={({ target }) => change({ isOn: target.checked })} />
          Quiet hours
        </label>
        from {time("from", "Quiet from")} to {time("to", "Quiet to")}
        <input
          aria-label="Zone of the quiet hours"
          list="alert-zones"
          className="h-7 w-44 rounded border border-rule bg-sheet px-2 disabled:bg-sunk disabled:text-soft"
          disabled={!quiet.isOn}
          key={quiet.zone}
          defaultValue={quiet.zone}
          onBlur={({ target }) => target.value !== quiet.zone && change({ zone: target.value })}
        />
        <datalist id="alert-zones">
          {ZONES.map((zone) => (
            <option key={zone} value={zone} />
          ))}
        </datalist>
        <label className="flex items-center gap-2">
          <input type="checkbox" disabled={!quiet.isOn} checked={quiet.lets} onChange={({ target }) => change({ lets: target.checked })} />
          but let through what has level “alert”
        </label>
        <span className="text-[13px] text-soft">E-mails and web calls wait until they are over; the screen shows everything.</span>
      </div>
      <div className="flex flex-wrap items-center gap-2">
        A channel sends at most
        <NumberInput
          aria-label="Most in a minute"
          className="w-16"
          whole
          {...boundsOf(alertSetupSchema.properties.perMinute)}
          value={perMinute}
          onChange={(next) => onChange({ perMinute: next })}
        />
        alerts in a minute; others wait their turn.
      </div>
      <label className="flex items-center gap-2">
        <input type="checkbox" checked={allowsPrivate} onChange={({ target }) => onChange({ allowsPrivate: target.checked })} />
        Web calls may go to this machine and to private networks
      </label>
    </section>
  );
}
