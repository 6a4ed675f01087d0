/** How much a kit lets be lost, in a session and from the highest equity, and what happens then. */
import type { DrawdownLimit, ExitKit, LimitAct } from "@plan-tester/core";
import { BOUNDS } from "../../lib/setting-bounds.ts";
import { Field, Select } from "../../ui/field.tsx";
import { NumberField } from "../../ui/number-field.tsx";

export interface LossLimitFieldsProps {
  readonly kit: ExitKit;
  readonly change: (part: Partial<ExitKit>) => void;
}

export function LossLimitFields({ kit, change }: LossLimitFieldsProps) {
  const { dailyLoss, drawdown = null, atLimit = "no entries" } = kit;
  return (
    <div className="grid grid-cols-3 items-end gap-2">
      <NumberField
        label="Most lost in a session"
        value={dailyLoss}
        placeholder="no limit"
        {...BOUNDS.dailyLoss}
        onChange={(value) => change({ dailyLoss: value })}
        onEmpty={() => change({ dailyLoss: null })}
      />
      <NumberField
        label="Most drawdown"
        value={drawdown?.value ?? null}
        placeholder="no limit"
        {...BOUNDS.kitDrawdown}
        onChange={(value) => change({ drawdown: { unit: drawdown?.unit ?? "percent", value } })}
        onEmpty={() => change({ drawdown: null })}
      />
      <Field label="Drawdown in">
        {(field) => (
          <Select
            id={field}
            value={drawdown?.unit ?? "percent"}
            disabled={!drawdown}
            onChange={({ target }) => drawdown && change({ drawdown: { ...drawdown, unit: target.value as DrawdownLimit["unit"] } })}
          >
            <option value="percent">% of its high</option>
            <option value="money">money</option>
          </Select>
        )}
      </Field>
      <div className="col-span-2">
        <Field label="Once that is lost">
          {(field) => (
            <Select
              id={field}
              value={atLimit}
              disabled={dailyLoss === null && !drawdown}
              onChange={({ target }) => change({ atLimit: target.value as LimitAct })}
            >
              <option value="no entries">nothing more is entered</option>
              <option value="flatten">what is open is closed, too</option>
            </Select>
          )}
        </Field>
      </div>
    </div>
  );
}
