/** A fresh backtest of a source on series that were there before, as a plan process makes one. */
import { Backtest, type BarSeries, resolveInputs, resolveSettings, StudyStore, specsOf } from "@plan-tester/core";
import { guard, loadPlan } from "../runner/src/child/sandbox.ts";
import { INSTRUMENT } from "./series.ts";

const settings = resolveSettings({ costs: INSTRUMENT.costs });

export function prepare(source: string, members: readonly { readonly symbol: string; readonly bars: BarSeries }[]) {
  const plan = loadPlan(source).instantiate();
  guard.restart();
  const stores = members.map(({ bars }) => new StudyStore(bars));
  const backtest = new Backtest({
    plan,
    inputs: resolveInputs(specsOf(plan.inputs), {}),
    feeds: members.map(({ symbol }, k) => ({ instrument: { ...INSTRUMENT, symbol }, store: stores[k]!, finer: null })),
    settings,
  });
  return { backtest, stores };
}
