/** Which costs a run counts: each instrument's own, none, or custom numbers, scaled; for all instruments or for one of them. */
import { costsSchema, type Market, type RunSettings } from "@plan-tester/contract";
import { type Costs, NO_COSTS } from "@plan-tester/core";
import { useState } from "react";
import { boundsOf } from "../../lib/read-number.ts";
import { BOUNDS } from "../../lib/setting-bounds.ts";
import { paidWords } from "../../lib/settings-words.ts";
import { Field, Select } from "../../ui/field.tsx";
import { NumberField } from "../../ui/number-field.tsx";

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

type CostWords = RunSettings["costs"];

const numbersOf = (costs: CostWords, market: Market | undefined): Costs =>
  typeof costs === "object" ? { ...NO_COSTS, ...costs } : costs === "market" ? (market?.instrument.costs ?? NO_COSTS) : NO_COSTS;

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
  /** The instrument whose costs are told apart; "" for all. */
  const [symbol, setSymbol] = useState("");
  const isSeveral = others.length > 0;
  const markets = market ? [market, ...others] : others;
  const one = isSeveral ? markets.find(({ instrument }) => instrument.symbol === symbol) : undefined;
  return (
    <div className="flex w-80 flex-col gap-2">
      {isSeveral ? (
        <Field label="For">
          {(id) => (
            <Select id={id} value={one ? symbol : ""} onChange={({ target }) => setSymbol(target.value)}>
              <option value="">All instruments</option>
              {markets.map(({ instrument }) => (
                <option key={instrument.symbol} value={instrument.symbol}>
                  {instrument.symbol} alone
                </option>
              ))}
            </Select>
          )}
        </Field>
      ) : null}
      {one ? (
        <CostsOfOne key={symbol} settings={settings} market={one} set={set} />
      ) : (
        <>
          <CostNumbers
            costs={settings.costs}
            market={market}
            words={
              isSeveral
                ? { market: "Market costs, each its own", own: "Custom costs for all" }
                : { market: `Market costs of ${settings.symbol}`, own: "Custom costs" }
            }
            onChange={(costs) => set({ costs: costs ?? "market" })}
          />
          <NumberField
            label="All costs times"
            value={settings.costsScale}
            {...BOUNDS.costsScale}
            onChange={(costsScale) => set({ costsScale })}
          />
        </>
      )}
      {isSeveral ? (
        <dl className="text-[12px]" aria-label="Costs by instrument">
          {markets.map((paid) => (
            <div key={paid.instrument.symbol} className="flex gap-2">
              <dt className="font-semibold">{paid.instrument.symbol}</dt>
              <dd className="text-soft">{paidWords(settings, paid.instrument)}</dd>
            </div>
          ))}
        </dl>
      ) : null}
      <p className="text-[12px] text-soft">
        {(one ?? market)?.hasSpreadColumn
          ? "The spread is a column of this instrument's data."
          : "Costs are exact and never rounded to ticks."}
      </p>
    </div>
  );
}

/** What one instrument pays, where it differs from the others. */
function CostsOfOne({
  settings,
  market,
  set,
}: {
  readonly settings: RunSettings;
  readonly market: Market;
  readonly set: (change: Partial<RunSettings>) => void;
}) {
  const { symbol } = market.instrument;
  const { costsFor = {} } = settings;
  const { [symbol]: mine, ...rest } = costsFor;
  const change = (next: { costs?: CostWords | undefined; scale?: number | undefined }): void => {
    const { costs, scale } = { ...mine, ...next };
    const isLikeAll = costs === undefined && (scale === undefined || scale === 1);
    const own = { ...(costs !== undefined && { costs }), ...(scale !== undefined && scale !== 1 && { scale }) };
    set({ costsFor: isLikeAll ? rest : { ...rest, [symbol]: own } });
  };
  return (
    <>
      <CostNumbers
        costs={mine?.costs}
        market={market}
        words={{ all: "As for all instruments", market: `Market costs of ${symbol}`, own: "Custom costs" }}
        fallback={settings.costs}
        onChange={(costs) => change({ costs })}
      />
      <NumberField
        label={`Costs of ${symbol} times`}
        hint="On top of the factor for all."
        value={mine?.scale ?? 1}
        {...BOUNDS.costsScale}
        onChange={(scale) => change({ scale })}
      />
    </>
  );
}

/** One choice of costs and its numbers, which can be written where they are custom. */
function CostNumbers({
  costs,
  market,
  words,
  fallback = "market",
  onChange,
}: {
  /** Undefined where they follow those of all. */
  readonly costs: CostWords | undefined;
  readonly market: Market | undefined;
  /** How the choices are called; `all` is offered where it is named. */
  readonly words: { readonly market: string; readonly own: string; readonly all?: string };
  readonly fallback?: CostWords;
  readonly onChange: (costs: CostWords | undefined) => void;
}) {
  const kind = costs === undefined ? "all" : typeof costs === "string" ? costs : "own";
  const shown = numbersOf(costs ?? fallback, market);
  return (
    <>
      <Field label="Costs">
        {(id) => (
          <Select
            id={id}
            value={kind}
            onChange={({ target: { value } }) =>
              onChange(value === "own" ? { ...shown } : value === "all" ? undefined : (value as "market" | "none"))
            }
          >
            {words.all ? <option value="all">{words.all}</option> : null}
            <option value="market">{words.market}</option>
            <option value="none">No costs</option>
            <option value="own">{words.own}</option>
          </Select>
        )}
      </Field>
      <div className="grid grid-cols-2 items-end gap-2">
        {COST_FIELDS.map(([field, label]) => (
          <NumberField
            key={field}
            label={label}
            value={shown[field]}
            disabled={kind !== "own"}
            {...boundsOf(costsSchema.properties[field])}
            onChange={(value) => onChange({ ...shown, [field]: value })}
          />
        ))}
      </div>
    </>
  );
}
