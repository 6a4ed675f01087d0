/** The two stretches of a sweep: variants are ranked on the one and tried, unchanged, on the other. */
import { dateWords } from "../../lib/format.ts";
import { DateField } from "../../ui/date-field.tsx";

export interface Stretch {
  readonly from: string;
  readonly to: string;
}

export interface StretchFormProps {
  readonly inSample: Stretch;
  readonly outOfSample: Stretch | null;
  /** What the second stretch is at first; null where there is no later history. */
  readonly suggested: Stretch | null;
  readonly lastDate: string | undefined;
  readonly onChange: (outOfSample: Stretch | null) => void;
}

export function StretchForm({ inSample, outOfSample, suggested, lastDate, onChange }: StretchFormProps) {
  return (
    <div className="grid grid-cols-1 gap-4 sm:grid-cols-2">
      <fieldset>
        <legend className="pb-1 font-semibold">In-sample</legend>
        <p>
          {dateWords(inSample.from)} to {dateWords(inSample.to)}
        </p>
        <p className="text-[13px] text-soft">The period of the Bench. Variants are ranked on it.</p>
      </fieldset>
      <fieldset>
        <legend className="pb-1 font-semibold">Out-of-sample</legend>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="size-4 accent-(--accent)"
            checked={outOfSample !== null}
            onChange={(event) => onChange(event.target.checked ? suggested : null)}
          />
          Test every variant on a later period, unchanged
        </label>
        {outOfSample ? (
          <div className="mt-1 grid grid-cols-2 gap-2">
            {(["from", "to"] as const).map((end) => (
              <DateField
                key={end}
                aria-label={`Out-of-sample ${end}`}
                value={outOfSample[end]}
                max={lastDate}
                onChange={(date) => onChange({ ...outOfSample, [end]: date })}
              />
            ))}
          </div>
        ) : null}
      </fieldset>
    </div>
  );
}
