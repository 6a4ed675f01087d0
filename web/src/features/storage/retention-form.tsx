/** After how many days something goes by itself. */
import { type RetentionRules, retentionRulesSchema } from "@plan-tester/contract";
import { useState } from "react";
import { boundsOf } from "../../lib/read-number.ts";
import { Button } from "../../ui/button.tsx";
import { CheckedForm } from "../../ui/checked-form.tsx";
import { NumberInput } from "../../ui/number-field.tsx";

type Rule = keyof RetentionRules;

const RULES: readonly (readonly [rule: Rule, before: string, after: string, hint: string])[] = [
  ["batchRunDays", "Background runs go into the bin after", "days", "Only those that nobody has named, tagged or compared."],
  [
    "dailyReturnDays",
    "Daily returns of finished sweeps go after",
    "days",
    "Their figures stay; the probability of overfitting can't be worked out any more.",
  ],
  ["binDays", "What is in the bin goes for good after", "days", ""],
];

const DAYS = boundsOf(retentionRulesSchema.properties.binDays);

export interface RetentionFormProps {
  readonly rules: RetentionRules;
  readonly isSaving: boolean;
  readonly onSave: (rules: RetentionRules) => void;
}

export function RetentionForm({ rules, isSaving, onSave }: RetentionFormProps) {
  const [wanted, setWanted] = useState(rules);
  const isChanged = RULES.some(([rule]) => wanted[rule] !== rules[rule]);
  return (
    <CheckedForm aria-label="What goes by itself" className="flex flex-col gap-2" onSubmit={() => onSave(wanted)}>
      <h2 className="font-semibold">What goes by itself</h2>
      {RULES.map(([rule, before, after, hint]) => (
        <div key={rule} className="flex flex-wrap items-center gap-2">
          <label htmlFor={rule} className="w-64">
            {before}
          </label>
          <NumberInput
            id={rule}
            className="w-16"
            value={wanted[rule]}
            {...DAYS}
            onChange={(days) => setWanted({ ...wanted, [rule]: days })}
            {...(rule === "binDays" ? {} : { placeholder: "never", onEmpty: () => setWanted({ ...wanted, [rule]: null }) })}
          />
          {after}
          {hint ? <span className="text-[13px] text-soft">{hint}</span> : null}
        </div>
      ))}
      <div>
        <Button type="submit" disabled={!isChanged || isSaving}>
          Save the rules
        </Button>
      </div>
    </CheckedForm>
  );
}
