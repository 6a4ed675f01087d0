/** A sweep from the command line: the same lattice, search and batches as in the app, one CSV line a variant. */
import { cpus } from "node:os";
import { NO_VARIANT, plainAim, sweepSpace, withSettings } from "@plan-tester/contract";
import { PlanTesterError, SWEEP_FIGURES, type SweepFigure, sliceByTime } from "@plan-tester/core";
import { describePlan, embeddedExecutor, type FeedData, PlanProcessError, ProcessPool, SweepJob, SweepWork } from "@plan-tester/runner";
import { readPlan } from "./files.ts";
import { inputsOf, rangeOf, searchOf, timeOf } from "./options.ts";
import { loadData, type RunOptions, settingsOf } from "./run-options.ts";

export interface SweepOptions extends RunOptions {
  readonly range: string[];
  readonly condition: string[];
  readonly search?: string;
  readonly aim: SweepFigure;
  readonly split?: string;
}

/** The bars before and after the split, which are in-sample and out-of-sample. */
function stretchesOf(feeds: readonly FeedData[], { split, path }: SweepOptions): (readonly FeedData[])[] {
  const splitMs = timeOf(split, "--split", feeds[0]!.instrument, false);
  if (splitMs === null) return [feeds];
  if (path === "finer") throw new PlanTesterError("bad-input", "--split can't be combined with --path finer.", {});
  const part = (name: string, from: number | null, to: number | null): FeedData[] =>
    feeds.map(({ instrument, data }) => ({
      instrument,
      data: {
        key: `${data.key} ${name}`,
        series: sliceByTime(data.series, from, to),
        whole: sliceByTime(data.whole ?? data.series, null, to),
        finer: null,
      },
    }));
  return [part("in", null, splitMs), part("out", splitMs, null)];
}

/** @throws PlanTesterError when options are wrong; PlanProcessError with the first variant that fails. */
export async function sweepCsv(options: SweepOptions): Promise<string> {
  const { feeds } = await loadData(options, options.path === "finer");
  const { instrument, data } = feeds[0]!;
  const settings = settingsOf(options, feeds);
  const source = await readPlan(options.plan);
  const stretches = stretchesOf(feeds, options);
  if (options.range.length === 0) throw new PlanTesterError("bad-input", "Give at least one --range, e.g. --range fast=10:40:5.", {});
  if (options.range.some((text) => text.startsWith("run.")))
    throw new PlanTesterError("bad-input", "--range: a file holds one instrument and timeframe; call the command once for each.", {});
  const scope = { ranges: options.range.map(rangeOf), constraints: options.condition, search: searchOf(options.search) };
  const pool = new ProcessPool(Math.max(1, cpus().length), true);
  try {
    const { inputs: declared } = await pool.use((worker) => describePlan(worker, source));
    const market = { symbol: instrument.symbol, timeframe: data.series.timeframe, kit: settings.kit };
    const specs = withSettings(declared, market, scope);
    const space = sweepSpace(specs, inputsOf(options.input, declared), scope);
    const work = new SweepWork(source, market, [{ ...market, settings, stretches }], true);
    const job = new SweepJob({ space, search: scope.search, aim: plainAim(options.aim), work, keepsDaily: false }, embeddedExecutor(pool));
    if (job.total === 0) throw new PlanTesterError("bad-input", NO_VARIANT, {});
    await job.run(() => undefined);
    const failure = job.failures[0];
    if (failure) throw new PlanProcessError("plan-error", `Variant ${JSON.stringify(job.variantAt(failure.variant))}: ${failure.message}`);
    const names = [...scope.ranges.map(({ input }) => input), ...space.linked];
    const heads = stretches.flatMap((_stretch, i) =>
      SWEEP_FIGURES.map((figure) => (stretches.length === 1 ? figure : `${i === 0 ? "in" : "out"}.${figure}`)),
    );
    const cell = (value: number): string => (Number.isNaN(value) ? "" : String(value));
    const rows = job.points.map((_point, v) => {
      const variant = job.variantAt(v);
      return [...names.map((name) => String(variant[name])), ...heads.map((_head, i) => cell(job.figures[v * job.rowWidth + i]!))].join(
        ",",
      );
    });
    return `${[...names, ...heads].join(",")}\n${rows.join("\n")}\n`;
  } finally {
    pool.close();
  }
}
