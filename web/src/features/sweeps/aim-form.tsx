/** What a sweep aims at: one figure or a blend, by the setting itself or the middle of its neighbours, under conditions. */
import { type Aim, type AimCondition, type AimTerm, SWEEP_FIGURES, type SweepFigure } from "@plan-tester/core";
import { Plus, X } from "lucide-react";
import { AIM_FIGURES, labelOf } from "../../lib/aims.ts";
import { Button } from "../../ui/button.tsx";
import { Select } from "../../ui/field.tsx";
import { NumberInput } from "../../ui/number-field.tsx";

export interface AimFormProps {
  readonly aim: Aim;
  readonly onChange: (aim: Aim) => void;
}

const replaced = <T,>(items: readonly T[], at: number, item: T): T[] => items.map((old, i) => (i === at ? item : old));
const without = <T,>(items: readonly T[], at: number): T[] => items.filter((_item, i) => i !== at);

export function AimForm({ aim, onChange }: AimFormProps) {
  const { terms, robust, conditions } = aim;
  const setTerms = (next: readonly AimTerm[]): void => onChange({ ...aim, terms: next });
  const setConditions = (next: readonly AimCondition[]): void => onChange({ ...aim, conditions: next });
  const unused = AIM_FIGURES.find((figure) => !terms.some((term) => term.figure === figure));
  return (
    <fieldset className="flex flex-col gap-1.5">
      <legend className="pb-1 font-semibold">Aim</legend>
      {terms.map((term, i) => (
        <div key={term.figure} className="flex items-center gap-2">
          <span className="w-16 text-[13px] text-soft">{i === 0 ? "Rank by" : "and"}</span>
          <FigureSelect
            label={i === 0 ? "Rank by" : `Rank by, figure ${i + 1}`}
            figures={AIM_FIGURES.filter((figure) => figure === term.figure || !terms.some((other) => other.figure === figure))}
            value={term.figure}
            onChange={(figure) => setTerms(replaced(terms, i, { ...term, figure }))}
          />
          {terms.length > 1 ? (
            <>
              <label className="flex items-center gap-1.5 text-[13px] text-soft">
                weight
                <NumberInput
                  className="w-16 text-right"
                  value={term.weight}
                  above={0}
                  onChange={(weight) => setTerms(replaced(terms, i, { ...term, weight }))}
                />
              </label>
              <Button
                variant="quiet"
                aria-label={`Take ${labelOf(term.figure)} out of the aim`}
                onClick={() => setTerms(without(terms, i))}
              >
                <X size={13} aria-hidden />
              </Button>
            </>
          ) : null}
        </div>
      ))}
      {conditions.map((condition, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: conditions have no name of their own
        <div key={i} className="flex items-center gap-2">
          <span className="w-16 text-[13px] text-soft">only with</span>
          <FigureSelect
            label={`Condition ${i + 1}, figure`}
            figures={SWEEP_FIGURES}
            value={condition.figure}
            onChange={(figure) => setConditions(replaced(conditions, i, { ...condition, figure }))}
          />
          <Select
            aria-label={`Condition ${i + 1}, bound`}
            className="w-24"
            value={condition.is}
            onChange={(event) => setConditions(replaced(conditions, i, { ...condition, is: event.target.value as AimCondition["is"] }))}
          >
            <option>at least</option>
            <option>at most</option>
          </Select>
          <NumberInput
            aria-label={`Condition ${i + 1}, value`}
            className="w-24 text-right"
            value={condition.value}
            onChange={(value) => setConditions(replaced(conditions, i, { ...condition, value }))}
          />
          <Button variant="quiet" aria-label={`Take condition ${i + 1} out`} onClick={() => setConditions(without(conditions, i))}>
            <X size={13} aria-hidden />
          </Button>
        </div>
      ))}
      <div className="flex flex-wrap items-center gap-2">
        {unused && terms.length < 4 ? (
          <Button variant="quiet" onClick={() => setTerms([...terms, { figure: unused, weight: 1 }])}>
            <Plus size={13} aria-hidden /> Add a metric
          </Button>
        ) : null}
        <Button variant="quiet" onClick={() => setConditions([...conditions, { figure: "trades", is: "at least", value: 30 }])}>
          <Plus size={13} aria-hidden /> Add a condition
        </Button>
      </div>
      <label className="flex items-center gap-2 text-[13px]">
        <input
          type="checkbox"
          className="size-4 accent-(--accent)"
          checked={robust}
          onChange={(event) => onChange({ ...aim, robust: event.target.checked })}
        />
        Count the middle of a setting and its neighbours, not the setting alone
      </label>
      {terms.length > 1 ? <p className="text-[12px] text-soft">Blended by rank: the share of the settings that each is above.</p> : null}
    </fieldset>
  );
}

interface FigureSelectProps {
  readonly label: string;
  readonly figures: readonly SweepFigure[];
  readonly value: SweepFigure;
  readonly onChange: (figure: SweepFigure) => void;
}

function FigureSelect({ label, figures, value, onChange }: FigureSelectProps) {
  return (
    <Select aria-label={label} className="w-44" value={value} onChange={(event) => onChange(event.target.value as SweepFigure)}>
      {figures.map((figure) => (
        <option key={figure} value={figure}>
          {labelOf(figure)}
        </option>
      ))}
    </Select>
  );
}
