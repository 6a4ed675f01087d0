/** After how many days something goes by itself. */
import { type RetentionRules, retentionRulesSchema } from "@plan-tester/contract";
import { useState } from "react";
import { Button } from "../../ui/button.tsx";
import { TextInput } from "../../ui/field.tsx";

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

/** Days as they are typed: "" is never. */
type Typed = Readonly<Record<Rule, string>>;

const typedOf = (rules: RetentionRules): Typed => ({
  binDays: String(rules.binDays),
  batchRunDays: rules.batchRunDays === null ? "" : String(rules.batchRunDays),
  dailyReturnDays: rules.dailyReturnDays === null ? "" : String(rules.dailyReturnDays),
});

const { minimum, maximum } = retentionRulesSchema.properties.binDays;
const isDays = (text: string): boolean => /^\d+$/.test(text) && Number(text) >= minimum && Number(text) <= maximum;

/** What is wrong with a number of days, or "". */
function problemOf(rule: Rule, text: string): string {
  if (text === "") return rule === "binDays" ? "The bin needs a number of days." : "";
  return isDays(text) ? "" : `Write whole days from ${minimum} to ${maximum}${rule === "binDays" ? "" : ", or nothing for never"}.`;
}

const daysOf = (text: string): number | null => (text === "" ? null : Number(text));

export interface RetentionFormProps {
  readonly rules: RetentionRules;
  readonly isSaving: boolean;
  readonly onSave: (rules: RetentionRules) => void;
}

export function RetentionForm({ rules, isSaving, onSave }: RetentionFormProps) {
  const [typed, setTyped] = useState(typedOf(rules));
  const problems = RULES.map(([rule]) => problemOf(rule, typed[rule]));
  const isChanged = RULES.some(([rule]) => typed[rule] !== typedOf(rules)[rule]);
  return (
    <form
      aria-label="What goes by itself"
      className="flex flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (problems.some(Boolean)) return;
        onSave({
          binDays: Number(typed.binDays),
          batchRunDays: daysOf(typed.batchRunDays),
          dailyReturnDays: daysOf(typed.dailyReturnDays),
        });
      }}
    >
      <h2 className="font-semibold">What goes by itself</h2>
      {RULES.map(([rule, before, after, hint], k) => (
        <div key={rule}>
          <label className="flex flex-wrap items-center gap-2">
            <span className="w-64">{before}</span>
            <TextInput
              className="w-16"
              inputMode="numeric"
              placeholder="never"
              aria-invalid={problems[k] !== ""}
              value={typed[rule]}
              onChange={(event) => setTyped({ ...typed, [rule]: event.target.value.trim() })}
            />
            {after}
            {hint ? <span className="text-[13px] text-soft">{hint}</span> : null}
          </label>
          {problems[k] ? (
            <p role="alert" className="text-[13px] text-loss">
              {problems[k]}
            </p>
          ) : null}
        </div>
      ))}
      <div>
        <Button type="submit" disabled={!isChanged || isSaving || problems.some(Boolean)}>
          Save the rules
        </Button>
      </div>
    </form>
  );
}
