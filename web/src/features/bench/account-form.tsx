/** The rules of the account that a run trades on, and the words that say them in the sentence. */
import { accountLimitsWords, type Market, type RunSettings } from "@plan-tester/contract";
import { accountCurrency, instrumentOf } from "../../data/markets.ts";
import { BOUNDS } from "../../lib/setting-bounds.ts";
import { Button } from "../../ui/button.tsx";
import { Field, Select, TextInput } from "../../ui/field.tsx";
import { LimitFields } from "../../ui/limit-fields.tsx";
import { NumberField } from "../../ui/number-field.tsx";
import { FIRST_TEST_POSITION } from "./test-position-form.tsx";

/** "a cash account without limits", or what limits it. */
export function accountWords(settings: RunSettings): string {
  const { positions, basis, throughTicks, margin, maxQuantity, maxPositions, limits, ruin, riskFree, currency } = settings;
  const words: string[] = [];
  if (positions === "independent") words.push("independent lots");
  if (basis !== "last") words.push(`${basis} prices`);
  if (throughTicks > 0) words.push(`limits traded through by ${throughTicks}`);
  if (margin) words.push(margin.by === "leverage" ? `leverage ${margin.value}` : `margin ${margin.value} per unit`);
  if (maxQuantity !== null) words.push(`at most ${maxQuantity} units`);
  if (maxPositions !== null) words.push(`at most ${maxPositions} positions`);
  const limitWords = accountLimitsWords(limits);
  if (limitWords) words.push(limitWords);
  if (ruin === "continue") words.push("trading on after ruin");
  if (currency) words.push(`kept in ${currency}`);
  if (riskFree !== 0) words.push(`risk-free ${Math.round(riskFree * 10_000) / 100} %`);
  return words.length === 0 ? "a cash account without limits" : words.join(", ");
}

/** Currencies of the run's instruments that are not the account's. */
function foreignCurrencies(settings: RunSettings, markets: readonly Market[]): { own: string; foreign: string[] } {
  const own = accountCurrency(settings, markets);
  const all = [settings.symbol, ...settings.alsoOn].map((symbol) => instrumentOf(markets, symbol)?.currency ?? "");
  return { own, foreign: [...new Set(all)].filter((currency) => currency !== "" && currency !== own) };
}

export function AccountForm({
  settings,
  markets,
  set,
}: {
  readonly settings: RunSettings;
  readonly markets: readonly Market[];
  readonly set: (change: Partial<RunSettings>) => void;
}) {
  const { own, foreign } = foreignCurrencies(settings, markets);
  const { positions, basis, throughTicks, margin, maxQuantity, maxPositions, seed, ruin = "stop", riskFree } = settings;
  return (
    <div className="grid w-96 grid-cols-2 gap-2">
      {settings.testPosition ? null : (
        <Button className="col-span-2 justify-self-start" onClick={() => set({ testPosition: FIRST_TEST_POSITION })}>
          Add a test position
        </Button>
      )}
      <Field label="Positions">
        {(id) => (
          <Select id={id} value={positions} onChange={({ target }) => set({ positions: target.value as RunSettings["positions"] })}>
            <option value="netting">One per instrument</option>
            <option value="independent">Lots side by side</option>
          </Select>
        )}
      </Field>
      <Field label="Bars show">
        {(id) => (
          <Select id={id} value={basis} onChange={({ target }) => set({ basis: target.value as RunSettings["basis"] })}>
            <option value="last">last prices</option>
            <option value="bid">bid prices</option>
            <option value="ask">ask prices</option>
          </Select>
        )}
      </Field>
      <Field label="Margin">
        {(id) => (
          <Select
            id={id}
            value={margin?.by ?? "none"}
            onChange={({ target }) =>
              set({
                margin:
                  target.value === "none"
                    ? null
                    : { by: target.value as "unit" | "leverage", value: target.value === "unit" ? 1000 : 10, maintenancePercent: 50 },
              })
            }
          >
            <option value="none">Not counted</option>
            <option value="unit">Money per unit</option>
            <option value="leverage">Value over leverage</option>
          </Select>
        )}
      </Field>
      <NumberField
        label={margin?.by === "leverage" ? "Leverage" : "Margin per unit"}
        value={margin?.value ?? null}
        disabled={!margin}
        {...BOUNDS.margin}
        onChange={(value) => margin && set({ margin: { ...margin, value } })}
      />
      <NumberField
        label="Maintenance, % of margin"
        value={margin?.maintenancePercent ?? null}
        disabled={!margin}
        {...BOUNDS.maintenancePercent}
        onChange={(maintenancePercent) => margin && set({ margin: { ...margin, maintenancePercent } })}
      />
      <NumberField
        label="Limits trade through by, ticks"
        value={throughTicks}
        {...BOUNDS.throughTicks}
        onChange={(throughTicks) => set({ throughTicks })}
      />
      <NumberField
        label="Most units per order"
        value={maxQuantity}
        placeholder="no limit"
        {...BOUNDS.maxQuantity}
        onChange={(maxQuantity) => set({ maxQuantity })}
        onEmpty={() => set({ maxQuantity: null })}
      />
      <NumberField
        label="Most positions at once"
        value={maxPositions}
        placeholder="no limit"
        {...BOUNDS.maxPositions}
        onChange={(maxPositions) => set({ maxPositions })}
        onEmpty={() => set({ maxPositions: null })}
      />
      <LimitFields limits={settings.limits ?? null} cash={settings.cash} onChange={(limits) => set({ limits: limits ?? undefined })} />
      <Field label="Account currency">
        {(id) => (
          <TextInput
            id={id}
            value={settings.currency ?? ""}
            placeholder={accountCurrency({ ...settings, currency: "" }, markets)}
            maxLength={8}
            onChange={({ target }) => set({ currency: target.value.trim().toUpperCase() })}
          />
        )}
      </Field>
      {foreign.map((currency) => {
        const known = settings.conversions[currency];
        return (
          <NumberField
            key={currency}
            label={`1 ${currency} in ${own}`}
            value={typeof known === "number" ? known : null}
            placeholder={typeof known === "object" ? `by ${known.symbol}` : "needed"}
            above={0}
            onChange={(rate) => set({ conversions: { ...settings.conversions, [currency]: rate } })}
          />
        );
      })}
      <Field label="When equity is gone">
        {(id) => (
          <Select id={id} value={ruin} onChange={({ target }) => set({ ruin: target.value as RunSettings["ruin"] })}>
            <option value="stop">the run ends</option>
            <option value="continue">it trades on</option>
          </Select>
        )}
      </Field>
      <NumberField
        label="Risk-free rate, % a year"
        value={Math.round(riskFree * 1e6) / 1e4}
        {...BOUNDS.riskFreePercent}
        onChange={(percent) => set({ riskFree: percent / 100 })}
      />
      <NumberField label="Seed" value={seed} {...BOUNDS.seed} onChange={(next) => set({ seed: next })} />
    </div>
  );
}
