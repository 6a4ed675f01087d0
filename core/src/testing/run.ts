/** Runs a plan given as a plain function, without source or sandbox. */

import type { FinerBars } from "../engine/feed.ts";
import { type EngineSettings, resolveSettings } from "../engine/settings.ts";
import { resolveInputs, specsOf } from "../language/inputs.ts";
import { StudyStore } from "../language/study-store.ts";
import { type DeclaredPlan, VOCABULARY } from "../language/vocabulary.ts";
import type { BarSeries } from "../market/bars.ts";
import type { Instrument } from "../market/instrument.ts";
import { Backtest } from "../run/backtest.ts";
import type { RunResult } from "../run/result.ts";
import { INSTRUMENT } from "./bars.ts";

// biome-ignore lint/suspicious/noExplicitAny: a plan's context is typed by language.d.ts, which plans alone see
export type Build = (context: any) => void;

export interface RunOptions {
  readonly settings?: Partial<EngineSettings>;
  readonly instrument?: Instrument;
  readonly finer?: FinerBars;
  readonly inputs?: Record<string, unknown>;
  /** Instruments beside the first. */
  readonly others?: readonly { readonly instrument: Instrument; readonly bars: BarSeries; readonly finer?: FinerBars }[];
}

export function declare(build: Build, inputs: Record<string, unknown> = {}): DeclaredPlan {
  return (VOCABULARY.plan as (declaration: unknown) => DeclaredPlan)({ title: "Test plan", inputs, build });
}

export function backtestOf(bars: BarSeries, build: Build, options: RunOptions = {}): Backtest {
  const plan = declare(build, options.inputs);
  return new Backtest({
    plan,
    inputs: resolveInputs(specsOf(plan.inputs), {}),
    feeds: [{ instrument: options.instrument ?? INSTRUMENT, bars, finer: options.finer }, ...(options.others ?? [])].map((feed) => ({
      instrument: feed.instrument,
      store: new StudyStore(feed.bars),
      finer: feed.finer ?? null,
    })),
    settings: resolveSettings(options.settings ?? {}),
  });
}

export function runBuild(bars: BarSeries, build: Build, options: RunOptions = {}): RunResult {
  const backtest = backtestOf(bars, build, options);
  backtest.advance(bars.length);
  return backtest.result();
}

// biome-ignore lint/suspicious/noExplicitAny: functions of many shapes
export const words = VOCABULARY as Record<string, any>;
