/** Which costs a run counts: the instrument's own, none, or one's own numbers. */
import type { Market, RunSettings } from "@plan-tester/contract";
import { NO_COSTS } from "@plan-tester/core";
import { Field, Select, TextInput } from "../../ui/field.tsx";

const COST_FIELDS = [
  ["commissionPerUnit", "Commission a unit and side"],
  ["commissionPerOrder", "Commission an order"],
  ["commissionPercent", "Commission, % of value"],
  ["commissionMinimum", "Least commission"],
  ["spreadTicks", "Spread, ticks"],
  ["slippageTicks", "Slippage, ticks"],
  ["slippageRange", "Slippage, share of range"],
  ["slippageRandomTicks", "Random slippage, ticks"],
  ["financingLong", "Long, a unit and night"],
  ["financingShort", "Short, a unit and night"],
] as const;

export function CostsForm({
  settings,
  market,
  set,
}: {
  readonly settings: RunSettings;
  readonly market: Market | undefined;
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
            <option value="market">Market costs of {settings.symbol}</option>
            <option value="none">No costs</option>
            <option value="own">Costs of my own</option>
          </Select>
        )}
      </Field>
      <div className="grid grid-cols-2 gap-2" key={kind}>
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
      <p className="text-[12px] text-soft">
        {market?.hasSpreadColumn ? "The spread is a column of this instrument's data." : "Costs are exact and never rounded to ticks."}
      </p>
    </div>
  );
}
