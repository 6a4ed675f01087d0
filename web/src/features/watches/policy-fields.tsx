/** What a watch does when something fails, in sentences. */
import { type WatchOptions, watchOptionsSchema } from "@plan-tester/contract";
import { boundsOf } from "../../lib/read-number.ts";
import { Select } from "../../ui/field.tsx";
import { NumberInput } from "../../ui/number-field.tsx";

export interface PolicyFieldsProps {
  readonly options: WatchOptions;
  readonly onChange: (part: Partial<WatchOptions>) => void;
}

const ROWS = [
  [
    "onPlanFailure",
    "If the plan fails or hangs, what is open",
    [
      ["leave", "stays with its stop and target"],
      ["flatten", "is closed"],
    ],
  ],
  [
    "onEntryRefused",
    "If the venue refuses an entry, it",
    [
      ["skip", "is passed over"],
      ["retry", "is sent again at the next minutes"],
      ["stop", "ends the watch"],
    ],
  ],
  [
    "onExitRefused",
    "If the venue refuses an exit, what is open",
    [
      ["flatten", "is closed at the next price"],
      ["retry", "waits for the exit, which is sent again each minute"],
      ["alert", "stays, and that is told"],
    ],
  ],
  [
    "onUnknown",
    "If something else opens a position on its account, that",
    [
      ["adopt", "is taken as its own"],
      ["flatten", "is closed at the next price"],
    ],
  ],
  [
    "onRestart",
    "If it starts again with something open, it",
    [
      ["go on", "goes on with it"],
      ["flatten", "closes it"],
    ],
  ],
] as const;

export function PolicyFields({ options, onChange }: PolicyFieldsProps) {
  return (
    <details className="rounded border border-rule px-3 py-2">
      <summary className="cursor-pointer">When something fails</summary>
      <div className="flex flex-col gap-2 pt-2">
        {ROWS.map(([name, words, choices]) => (
          <label key={name} className="flex flex-wrap items-center gap-2">
            {words}
            <Select className="w-auto" value={options[name]} onChange={({ target }) => onChange({ [name]: target.value })}>
              {choices.map(([value, label]) => (
                <option key={value} value={value}>
                  {label}
                </option>
              ))}
            </Select>
            {name === "onEntryRefused" && options.onEntryRefused === "retry" ? (
              <>
                at most
                <NumberInput
                  aria-label="Times that an entry is sent again"
                  className="w-16"
                  whole
                  {...boundsOf(watchOptionsSchema.properties.entryRetries)}
                  value={options.entryRetries}
                  onChange={(entryRetries) => onChange({ entryRetries })}
                />
                times
              </>
            ) : null}
          </label>
        ))}
        <div className="flex flex-wrap items-center gap-2">
          If the line to the venue is broken for
          <NumberInput
            aria-label="Seconds that the line may be broken"
            className="w-16"
            whole
            {...boundsOf(watchOptionsSchema.properties.lineSeconds)}
            value={options.lineSeconds}
            onChange={(lineSeconds) => onChange({ lineSeconds })}
          />
          s, that is told, and when it is back the watch
          <Select
            aria-label="When the line is back"
            className="w-auto"
            value={options.onLineLost}
            onChange={({ target }) => onChange({ onLineLost: target.value as WatchOptions["onLineLost"] })}
          >
            <option value="go on">goes on</option>
            <option value="flatten">closes what is open</option>
          </Select>
        </div>
        <p className="text-[13px] text-soft">Where the venue's account and what is known here differ, the venue's word is taken.</p>
      </div>
    </details>
  );
}
