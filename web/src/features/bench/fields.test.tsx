import { type Market, PLAIN_SETTINGS, type RunSettings } from "@plan-tester/contract";
import { type KitDistance, NO_COSTS } from "@plan-tester/core";
import { describe, expect, test } from "vitest";
import { costsWords } from "../../lib/settings-words.ts";
import { control, hold, type } from "../../testing.tsx";
import { DistanceField } from "../inputs/distance-field.tsx";
import { CostsForm } from "./costs-form.tsx";

describe("a distance", () => {
  const shown = (first: KitDistance | null) =>
    hold<KitDistance | null>(first, (value, onChange) => <DistanceField label="Stop" value={value} onChange={onChange} />);

  test("is a number with its unit, none when it is emptied", async () => {
    const form = await shown(null);
    await type(control(form.host, "Stop"), "30");
    expect(form.value()).toEqual({ unit: "ticks", value: 30 });
    await type(control(form.host, "Stop, unit"), "percent");
    expect(form.value()).toEqual({ unit: "percent", value: 30 });
    // A distance of less than nothing is said to be none, and the one before stays.
    await type(control(form.host, "Stop"), "-1");
    expect(form.host.querySelector("[role=alert]")?.textContent).toBe("Write a number above 0, or nothing.");
    expect(form.value()).toEqual({ unit: "percent", value: 30 });
    await type(control(form.host, "Stop"), "");
    expect(form.value()).toBeNull();
  });

  test("may be a multiple of a study, whose text is kept while the number changes", async () => {
    const form = await shown({ unit: "points", value: 2, study: "atr(20)" });
    await type(control(form.host, "Stop"), "2.5");
    expect(form.value()).toEqual({ unit: "points", value: 2.5, study: "atr(20)" });
    await type(control(form.host, "Stop, study"), "atr(5)");
    expect(form.value()).toEqual({ unit: "points", value: 2.5, study: "atr(5)" });
    await type(control(form.host, "Stop, study"), " ");
    expect(form.value()).toMatchObject({ study: "atr(5)" });
    await type(control(form.host, "Stop, unit"), "ticks");
    expect(form.value()).toEqual({ unit: "ticks", value: 2.5 });
  });

  test("has a unit before it has a number, and is none until then", async () => {
    const form = await shown(null);
    await type(control(form.host, "Stop, unit"), "percent");
    expect(form.value()).toBeNull();
    expect(control(form.host, "Stop, unit").value).toBe("percent");
    await type(control(form.host, "Stop"), "1.5");
    expect(form.value()).toEqual({ unit: "percent", value: 1.5 });
  });

  test("keeps its unit and its study while a number is written anew", async () => {
    const form = await shown({ unit: "points", value: 2, study: "atr(20)" });
    await type(control(form.host, "Stop"), "");
    expect(form.value()).toBeNull();
    await type(control(form.host, "Stop"), "3");
    expect(form.value()).toEqual({ unit: "points", value: 3, study: "atr(20)" });
    const other = await shown({ unit: "percent", value: 2 });
    await type(control(other.host, "Stop"), "");
    await type(control(other.host, "Stop"), "1");
    expect(other.value()).toEqual({ unit: "percent", value: 1 });
  });

  test("is not given in multiples of itself", async () => {
    const form = await shown(null);
    const units = [...control(form.host, "Stop, unit").querySelectorAll("option")].map((option) => option.textContent);
    expect(units).not.toContain("R");
    expect(units).not.toContain("price");
    expect(units).toContain("multiple of");
  });
});

describe("costs", () => {
  test("are the market's, none, or numbers of one's own that begin with what was shown", async () => {
    const settings: RunSettings = { ...PLAIN_SETTINGS, symbol: "KELP", timeframe: "15m", from: "2024-03-01", to: "2024-06-30" };
    const form = await hold<RunSettings>(settings, (value, onChange) => (
      <CostsForm settings={value} market={undefined} set={(change) => onChange({ ...value, ...change })} />
    ));
    expect(control(form.host, "Spread, ticks").hasAttribute("disabled")).toBe(true);
    await type(control(form.host, "Costs"), "own");
    await type(control(form.host, "Spread, ticks"), "2");
    await type(control(form.host, "Financing, long, per unit and night"), "-0.5");
    // A commission below nothing is no cost.
    await type(control(form.host, "Commission per order"), "-1");
    expect(form.value().costs).toMatchObject({ spreadTicks: 2, financingLong: -0.5, commissionPerOrder: 0 });
    await type(control(form.host, "Costs"), "none");
    expect(form.value().costs).toBe("none");
  });

  test("of one instrument are told apart, and go back to those of all", async () => {
    const settings: RunSettings = {
      ...{ ...PLAIN_SETTINGS, symbol: "XSC/ORM", timeframe: "15m", from: "2024-03-01", to: "2024-06-30" },
      alsoOn: ["KELP"],
    };
    const marketOf = (symbol: string): Market => ({ instrument: { symbol, currency: "XSC", costs: NO_COSTS } }) as Market;
    const form = await hold<RunSettings>(settings, (value, onChange) => (
      <CostsForm
        settings={value}
        market={marketOf("XSC/ORM")}
        others={[marketOf("KELP")]}
        set={(change) => onChange({ ...value, ...change })}
      />
    ));
    await type(control(form.host, "For"), "KELP");
    await type(control(form.host, "Costs"), "own");
    await type(control(form.host, "Slippage, ticks"), "3");
    await type(control(form.host, "Costs of KELP times"), "2");
    expect(form.value()).toMatchObject({ costs: "market", costsScale: 1, costsFor: { KELP: { costs: { slippageTicks: 3 }, scale: 2 } } });
    expect(costsWords(form.value())).toBe("market costs, other ones for KELP");
    expect(form.host.textContent).toMatch(/KELP.*slippage 6\.0 ticks/);
    await type(control(form.host, "Costs of KELP times"), "1");
    await type(control(form.host, "Costs"), "all");
    expect(form.value().costsFor).toEqual({});
    expect(costsWords(form.value())).toBe("market costs");
  });

  test("are scaled all at once, and never below nothing", async () => {
    const settings: RunSettings = { ...PLAIN_SETTINGS, symbol: "KELP", timeframe: "15m", from: "2024-03-01", to: "2024-06-30" };
    const form = await hold<RunSettings>(settings, (value, onChange) => (
      <CostsForm settings={value} market={undefined} set={(change) => onChange({ ...value, ...change })} />
    ));
    await type(control(form.host, "All costs times"), "2.5");
    expect(form.value().costsScale).toBe(2.5);
    await type(control(form.host, "All costs times"), "-1");
    expect(form.value().costsScale).toBe(2.5);
  });
});
