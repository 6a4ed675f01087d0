import { SWEEP_DEFINITIONS } from "../../lib/aims.ts";
import { Select } from "../../ui/field.tsx";
import { WIDTH } from "./sweep-view.ts";

export interface FigureChoiceProps {
  readonly column: number;
  readonly stretches: 1 | 2;
  readonly onChange: (column: number) => void;
}

/** Chooses a figure, in-sample or out-of-sample. */
export function FigureChoice({ column, stretches, onChange }: FigureChoiceProps) {
  return (
    <label className="flex items-center gap-2 text-soft">
      Figure
      <Select value={column} onChange={(event) => onChange(Number(event.target.value))} className="w-64">
        {([0, 1] as const).slice(0, stretches).flatMap((stretch) =>
          SWEEP_DEFINITIONS.map(({ key, label }, i) => (
            <option key={`${stretch}${key}`} value={stretch * WIDTH + i}>
              {label}, {stretch === 0 ? "in-sample" : "out-of-sample"}
            </option>
          )),
        )}
      </Select>
    </label>
  );
}
