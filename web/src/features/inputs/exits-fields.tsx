/** Exits of an entry: stop, target, trail, break-even, time limit, flat. A ladder of locks from a file stays as it is. */
import type { KitDistance, KitExits } from "@plan-tester/core";
import { BOUNDS } from "../../lib/setting-bounds.ts";
import { Field, Select } from "../../ui/field.tsx";
import { NumberField } from "../../ui/number-field.tsx";
import { DistanceField } from "./distance-field.tsx";

export interface ExitsFieldsProps {
  readonly exits: KitExits;
  /** Whether it can be flat before weekends too, and at the close itself. */
  readonly hasWeek?: boolean;
  readonly disabled?: boolean;
  readonly onChange: (exits: KitExits) => void;
}

const ZERO: KitDistance = { unit: "points", value: 0 };

export function ExitsFields({ exits, hasWeek = true, disabled = false, onChange }: ExitsFieldsProps) {
  const put = (part: Partial<KitExits>): void => onChange({ ...exits, ...part });
  const { breakEven, flat, timeLimit } = exits;
  return (
    <div className="flex flex-col gap-2">
      {disabled ? null : (
        <div className="grid grid-cols-2 gap-2">
          <DistanceField label="Stop loss" value={exits.stopLoss} onChange={(stopLoss) => put({ stopLoss })} />
          <DistanceField label="Target" value={exits.target} hasR onChange={(target) => put({ target })} />
          <DistanceField
            label="Trail"
            value={exits.trail?.distance ?? null}
            hasR
            onChange={(distance) => put({ trail: distance && { after: null, step: null, ...exits.trail, distance } })}
          />
          <DistanceField
            label="Break-even after"
            value={breakEven?.after ?? null}
            hasR
            onChange={(after) => put({ breakEven: after && { after, keep: breakEven?.keep ?? ZERO } })}
          />
        </div>
      )}
      <div className="grid grid-cols-3 gap-2">
        <NumberField
          label="Time limit, bars"
          value={timeLimit && "bars" in timeLimit ? timeLimit.bars : null}
          placeholder="none"
          disabled={disabled}
          {...BOUNDS.timeLimitBars}
          onChange={(bars) => put({ timeLimit: { bars } })}
          onEmpty={() => put({ timeLimit: null })}
        />
        <Field label="Flat">
          {(field) => (
            <Select
              id={field}
              value={flat?.of ?? "never"}
              disabled={disabled}
              onChange={({ target }) =>
                put({ flat: target.value === "never" ? null : { minutes: flat?.minutes ?? 15, of: target.value as "session" | "week" } })
              }
            >
              <option value="never">when its exits say</option>
              <option value="session">before each close</option>
              {hasWeek ? <option value="week">before weekends</option> : null}
            </Select>
          )}
        </Field>
        <NumberField
          label={hasWeek ? "Minutes before, 0: at it" : "Minutes before"}
          value={flat?.minutes ?? null}
          disabled={disabled || !flat}
          {...BOUNDS.flatMinutes}
          {...(hasWeek ? {} : { min: 1 })}
          onChange={(minutes) => flat && put({ flat: { ...flat, minutes } })}
        />
      </div>
    </div>
  );
}
