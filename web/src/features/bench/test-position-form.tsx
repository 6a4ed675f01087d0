/** A position of one's own in a run: to see what exits do with it, whatever the plan does. */
import type { RunSettings } from "@plan-tester/contract";
import { BOUNDS } from "../../lib/setting-bounds.ts";
import { Button } from "../../ui/button.tsx";
import { Field, Select } from "../../ui/field.tsx";
import { NumberField } from "../../ui/number-field.tsx";

export const FIRST_TEST_POSITION: NonNullable<RunSettings["testPosition"]> = { side: 1, bar: 0, units: 1 };

export const testPositionWords = ({ side, units, bar }: NonNullable<RunSettings["testPosition"]>): string =>
  `${side > 0 ? "long" : "short"} ${units} ${units === 1 ? "unit" : "units"} from ${bar === 0 ? "the first bar" : `bar ${bar}`}`;

export interface TestPositionFormProps {
  readonly position: NonNullable<RunSettings["testPosition"]>;
  readonly set: (change: Pick<RunSettings, "testPosition">) => void;
}

export function TestPositionForm({ position, set }: TestPositionFormProps) {
  const change = (part: Partial<typeof position>): void => set({ testPosition: { ...position, ...part } });
  return (
    <div className="flex w-80 flex-col gap-2">
      <p className="text-[13px] text-soft">
        Opened beside what the plan does, and left to the exits: those of the exit kit, or the plan's own where it minds positions.
      </p>
      <div className="grid grid-cols-3 items-end gap-2">
        <Field label="Test position">
          {(id) => (
            <Select id={id} value={String(position.side)} onChange={({ target }) => change({ side: target.value === "1" ? 1 : -1 })}>
              <option value="1">long</option>
              <option value="-1">short</option>
            </Select>
          )}
        </Field>
        <NumberField label="units" value={position.units} {...BOUNDS.testUnits} onChange={(units) => change({ units })} />
        <NumberField label="at bar, 0 the first" value={position.bar} {...BOUNDS.testBar} onChange={(bar) => change({ bar })} />
      </div>
      <Button variant="danger" className="self-start" onClick={() => set({ testPosition: null })}>
        Remove
      </Button>
    </div>
  );
}
