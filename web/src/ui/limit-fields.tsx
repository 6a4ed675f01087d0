/** What an account may lose, and what happens then: two limits, each off, in percent or in money. */
import type { AccountLimit, AccountLimitAct, AccountLimits } from "@plan-tester/core";
import { BOUNDS } from "../lib/setting-bounds.ts";
import { Field, Select } from "./field.tsx";
import { NumberField } from "./number-field.tsx";

const NAMES: readonly (readonly [name: keyof AccountLimits, label: string, first: number])[] = [
  ["dailyLoss", "Daily loss limit", 3],
  ["drawdown", "Drawdown limit", 20],
];

const ACTS: Readonly<Record<AccountLimitAct, string>> = {
  "no entries": "no new entries that day",
  flatten: "close all, no entries that day",
  stop: "close all, trade no more",
};

const NONE: AccountLimits = { drawdown: null, dailyLoss: null };

const fresh = (value: number): AccountLimit => ({ unit: "percent", value, act: "flatten" });

/** The same limit in another unit, to two decimals. */
function inUnit(unit: string, limit: AccountLimit, cash: number): AccountLimit {
  if (unit === limit.unit) return limit;
  const value = unit === "money" ? (limit.value * cash) / 100 : Math.min(100, (100 * limit.value) / cash);
  return { unit: unit as AccountLimit["unit"], value: Math.max(0.01, Math.round(100 * value) / 100), act: limit.act };
}

export function LimitFields({
  limits,
  cash,
  onChange,
}: {
  readonly limits: AccountLimits | null;
  /** Of the account: by it percent and money are turned into each other. */
  readonly cash: number;
  /** null where neither limit is set. */
  readonly onChange: (limits: AccountLimits | null) => void;
}) {
  const all = limits ?? NONE;
  const set = (name: keyof AccountLimits, limit: AccountLimit | null): void => {
    const next = { ...all, [name]: limit };
    onChange(next.drawdown || next.dailyLoss ? next : null);
  };
  return (
    <>
      {NAMES.map(([name, label, first]) => {
        const limit = all[name];
        return (
          <div key={name} className="col-span-2 grid grid-cols-2 gap-2">
            <Field label={label}>
              {(id) => (
                <Select
                  id={id}
                  value={limit?.unit ?? "none"}
                  onChange={({ target }) => set(name, target.value === "none" ? null : inUnit(target.value, limit ?? fresh(first), cash))}
                >
                  <option value="none">none</option>
                  <option value="percent">{name === "drawdown" ? "% of highest equity" : "% of the day’s start"}</option>
                  <option value="money">money</option>
                </Select>
              )}
            </Field>
            {limit ? (
              <>
                <NumberField
                  label={limit.unit === "percent" ? "Lost at most, %" : "Lost at most"}
                  value={limit.value}
                  {...BOUNDS.accountLimit}
                  {...(limit.unit === "percent" && { max: 100 })}
                  onChange={(value) => set(name, { ...limit, value })}
                />
                <div className="col-span-2">
                  <Field label="Once it is hit">
                    {(id) => (
                      <Select
                        id={id}
                        value={limit.act}
                        onChange={({ target }) => set(name, { ...limit, act: target.value as AccountLimitAct })}
                      >
                        {Object.entries(ACTS).map(([act, words]) => (
                          <option key={act} value={act}>
                            {words}
                          </option>
                        ))}
                      </Select>
                    )}
                  </Field>
                </div>
              </>
            ) : null}
          </div>
        );
      })}
    </>
  );
}
