/** Runs plan sources in a real plan process, for tests. */
import { ALWAYS_OPEN, type EngineSettings, type Instrument, makeSeries, NO_COSTS, Random, resolveSettings } from "@plan-tester/core";
import type { PlanProcess } from "./parent/plan-process.ts";
import { type RunControl, runPlan } from "./run-plan.ts";

export const INSTRUMENT: Instrument = {
  symbol: "TEST",
  name: "Test",
  class: "other",
  currency: "XSC",
  tickSize: 0.25,
  pipSize: 0.25,
  pointValue: 10,
  decimals: 2,
  minQuantity: 1,
  quantityStep: 1,
  calendar: ALWAYS_OPEN,
  costs: NO_COSTS,
  note: "",
};

export function walk(length: number, seed: number) {
  const random = new Random(seed);
  const [time, open, high, low, close, volume] = Array.from({ length: 6 }, () => new Float64Array(length)) as [
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  let price = 1600;
  for (let i = 0; i < length; i++) {
    time[i] = Date.UTC(2025, 2, 3) + i * 60_000;
    const next = Math.max(200, price + Math.round(random.normal() * 4));
    open[i] = price / 4;
    close[i] = next / 4;
    high[i] = (Math.max(price, next) + 2) / 4;
    low[i] = (Math.min(price, next) - 2) / 4;
    volume[i] = 10;
    price = next;
  }
  return makeSeries({ time, open, high, low, close, volume }, "1m", ALWAYS_OPEN);
}

export function run(process: PlanProcess, source: string, bars = 2000, control?: RunControl, settings: Partial<EngineSettings> = {}) {
  return runPlan(
    process,
    {
      source,
      inputs: {},
      settings: resolveSettings(settings),
      feeds: [{ instrument: INSTRUMENT, data: { key: `walk${bars}`, series: walk(bars, 3), finer: null } }],
    },
    control,
  );
}

/** A plan whose bar handler is the given code; `n` counts bars. */
export const eachBar = (
  code: string,
  before = "",
): string => `export default plan({ title: "Each bar", build({ bars, on, enter, position, log, random }) {
${before}
let n = 0;
on.barClose(() => { n++;
${code}
}); } });`;
