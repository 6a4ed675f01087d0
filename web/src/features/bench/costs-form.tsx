/** Which costs a run counts: each instrument's own, none, or custom numbers; and by how much all are scaled. */
import type { Market, RunSettings } from "@plan-tester/contract";
import { NO_COSTS } from "@plan-tester/core";
import { paidWords } from "../../lib/settings-words.ts";
import { Field, Select, TextInput } from "../../ui/field.tsx";
import { NumberField } from "./number-field.tsx";

const COST_FIELDS = [
  ["commissionPerUnit", "Commission per unit and side"],
  ["commissionPerOrder", "Commission per order"],
  ["commissionPercent", "Commission, % of value"],
  ["commissionMinimum", "Minimum commission"],
  ["spreadTicks", "Spread, ticks"],
  ["slippageTicks", "Slippage, ticks"],
  ["slippageRange", "Slippage, share of range"],
  ["slippageRandomTicks", "Random slippage, ticks"],
  ["financingLong", "Financing, long, per unit and night"],
  ["financingShort", "Financing, short, per unit and night"],
] as const;

export function CostsForm({
  settings,
  market,
  others = [],
  set,
}: {
  readonly settings: RunSettings;
  readonly market: Market | undefined;
  /** Further instruments of the run: each pays its own costs. */
  readonly others?: readonly Market[];
  readonly set: (change: Partial<RunSettings>) => void;
}) {
  const kind = typeof settings.costs === "string" ? settings.costs : "own";
  const shown =
    typeof settings.costs === "object"
      ? { ...NO_COSTS, ...settings.costs }
      : settings.costs === "market"
        ? (market?.instrument.costs ?? NO_COSTS)
        : NO_COSTS;
  return (
    <div className="flex w-80 flex-col gap-2">
      <Field label="Costs">
        {(id) => (
          <Select
            id={id}
            value={kind}
            onChange={({ target }) => set({ costs: target.value === "own" ? { ...shown } : (target.value as "market" | "none") })}
          >
            <option value="market">{others.length > 0 ? "Market costs, each its own" : `Market costs of ${settings.symbol}`}</option>
            <option value="none">No costs</option>
            <option value="own">{others.length > 0 ? "Custom costs for all" : "Custom costs"}</option>
          </Select>
        )}
      </Field>
      <div className="grid grid-cols-2 items-end gap-2" key={kind}>
        {COST_FIELDS.map(([field, label]) => (
          <Field key={field} label={label}>
            {(id) => (
              <TextInput
                id={id}
                type="number"
                min={field.startsWith("financing") ? undefined : 0}
                step="any"
                disabled={kind !== "own"}
                defaultValue={shown[field]}
                onChange={({ target }) =>
                  target.value !== "" &&
                  (Number(target.value) >= 0 || field.startsWith("financing")) &&
                  set({ costs: { ...shown, [field]: Number(target.value) } })
                }
              />
            )}
          </Field>
        ))}
      </div>
      <NumberField
        label="All costs times"
        value={settings.costsScale}
        onChange={(costsScale) => costsScale !== null && costsScale >= 0 && set({ costsScale })}
      />
      {market && others.length > 0 ? (
        <dl className="text-[12px]" aria-label="Costs by instrument">
          {[market, ...others].map((paid) => (
            <div key={paid.instrument.symbol} className="flex gap-2">
              <dt className="font-semibold">{paid.instrument.symbol}</dt>
              <dd className="text-soft">{paidWords(settings, paid.instrument)}</dd>
            </div>
          ))}
        </dl>
      ) : null}
      <p className="text-[12px] text-soft">
        {market?.hasSpreadColumn ? "The spread is a column of this instrument's data." : "Costs are exact and never rounded to ticks."}
      </p>
    </div>
  );
}
