/** Runs a plan in a process of its own and brings back the result, or what is left of it. */
import {
  assembleResult,
  type BarSeries,
  type EngineSettings,
  type ExitKit,
  type InputValues,
  type Instrument,
  type LookAheadReport,
  PlanTesterError,
  type RunResult,
  type Trade,
} from "@plan-tester/core";
import type { PlanProcess } from "./parent/plan-process.ts";
import { nextTaskId } from "./parent/pool.ts";
import type { FinerData, FromChild, PlanDescription, TraceFindings } from "./protocol.ts";

/** Bars of a run, under a key that names exactly these bars. */
export interface DataSet {
  readonly key: string;
  readonly series: BarSeries;
  readonly finer: FinerData | null;
}

/** An instrument and its bars. */
export interface FeedData {
  readonly instrument: Instrument;
  readonly data: DataSet;
}

export interface RunRequest {
  readonly source: string;
  readonly inputs: InputValues;
  readonly settings: EngineSettings;
  /** The plan's own instrument first. */
  readonly feeds: readonly FeedData[];
}

export interface RunOutcome {
  readonly description: PlanDescription;
  readonly inputs: InputValues;
  readonly result: RunResult;
  readonly elapsedMs: number;
}

export interface RunControl {
  readonly onProgress?: (done: number, total: number) => void;
  readonly signal?: AbortSignal;
}

export async function describePlan(process: PlanProcess, source: string): Promise<PlanDescription> {
  return (await process.ask({ type: "describe", id: nextTaskId(), source }, "described")).description;
}

/** Symbols that a plan's instrument inputs name: bars of them have to be brought along. */
export async function instrumentsOf(process: PlanProcess, source: string, inputs: InputValues): Promise<string[]> {
  // Most plans have no such input, and then nobody needs to be asked.
  if (!source.includes("instrument(")) return [];
  const { inputs: specs } = await describePlan(process, source);
  return specs.filter(({ kind }) => kind === "instrument").map(({ name, default: value }) => String(inputs[name] ?? value));
}

/**
 * A stop by `signal` gives a partial result. When the process dies on the way, the result holds what it had reported.
 * @throws PlanProcessError when the plan can't be read or began nothing.
 */
export async function runPlan(process: PlanProcess, request: RunRequest, { onProgress, signal }: RunControl = {}): Promise<RunOutcome> {
  const id = nextTaskId();
  const { feeds, source, inputs, settings } = request;
  const { instrument, data } = feeds[0]!;
  for (const feed of feeds)
    if (feed.data.series.length === 0)
      throw new PlanTesterError(
        "bad-input",
        `There are no bars of ${feed.instrument.symbol} in the chosen period. Choose a longer one.`,
        {},
      );
  const trades: Trade[] = [];
  const equity: Float64Array[] = [];
  let done = 0;
  const started = performance.now();
  ensureFeeds(process, feeds);
  const stop = (): void => process.post({ type: "stop", id });
  signal?.addEventListener("abort", stop, { once: true });
  try {
    const message = { type: "run", id, source, inputs, feeds: feeds.map(keyed), settings } as const;
    const answer = await process.ask(message, "result", (progress) => {
      trades.push(...progress.trades);
      equity.push(progress.equity);
      done = progress.done;
      onProgress?.(progress.done, progress.total);
    });
    return { description: answer.description, inputs: answer.inputs, result: answer.result, elapsedMs: answer.elapsedMs };
  } catch (error) {
    if (done === 0 || !(error instanceof PlanTesterError)) throw error;
    const failure = { message: error.message, line: null, column: null, barIndex: done, barTimeMs: data.series.time[done] ?? null };
    const result = assembleResult({
      status: "failed",
      failure,
      bars: data.series,
      barsDone: done,
      firstBar: 0,
      instrument,
      instruments: feeds.map((feed) => feed.instrument),
      settings,
      equity: joined(equity, done),
      orders: [],
      fills: [],
      trades,
      log: [],
      notes: [],
      ownFigures: [],
      droppedLogLines: 0,
      counts: null,
      plots: [],
    });
    return { description: { title: "", inputs: [] }, inputs, result, elapsedMs: performance.now() - started };
  } finally {
    signal?.removeEventListener("abort", stop);
  }
}

/** How many places a look-ahead check compares at. */
const CUTS = 8;

/**
 * Runs on the first bars alone and compares with the run on all of them (R7.1).
 * @throws PlanProcessError when the plan can't be read or its process dies.
 */
export async function checkPlanLookAhead(
  process: PlanProcess,
  { source, inputs, settings, feeds }: RunRequest,
  onProgress?: (done: number, total: number) => void,
): Promise<LookAheadReport> {
  ensureFeeds(process, feeds);
  const answer = await process.ask(
    { type: "look-ahead", id: nextTaskId(), source, inputs, settings, feeds: feeds.map(keyed), cuts: CUTS },
    "looked",
    ({ done, total }) => onProgress?.(done, total),
  );
  return answer.report;
}

/** Runs once more and looks into it; with a stretch of bars, only up to its end and step by step on it. */
export async function tracePlan(
  process: PlanProcess,
  { source, inputs, settings, feeds }: RunRequest,
  stretch: { readonly from: number; readonly to: number } | null = null,
): Promise<TraceFindings> {
  ensureFeeds(process, feeds);
  const message = { type: "trace", id: nextTaskId(), source, inputs, settings, feeds: feeds.map(keyed), stretch } as const;
  return (await process.ask(message, "traced", () => undefined)).findings;
}

const keyed = ({ instrument, data }: FeedData) => ({ instrument, dataKey: data.key });

function ensureFeeds(process: PlanProcess, feeds: readonly FeedData[]): void {
  for (const { data } of feeds) process.ensureData(data.key, () => ({ series: data.series, finer: data.finer }));
}

function joined(parts: readonly Float64Array[], length: number): Float64Array {
  const whole = new Float64Array(length);
  let at = 0;
  for (const part of parts) {
    whole.set(part.subarray(0, length - at), at);
    at += part.length;
  }
  return whole;
}

export interface SweepBatch {
  readonly source: string;
  readonly variants: readonly InputValues[];
  /** As in `SweepMessage`. */
  readonly kits?: readonly (ExitKit | null)[] | null;
  /** For each stretch its instruments, the plan's own first. */
  readonly stretches: readonly (readonly FeedData[])[];
  readonly settings: EngineSettings;
  /** As in `SweepMessage`. */
  readonly dailyOf?: readonly number[];
}

/** What came of a batch of variants. */
export type SweepAnswer = Omit<Extract<FromChild, { type: "swept" }>, "type" | "id">;

export async function sweepPlan(process: PlanProcess, batch: SweepBatch): Promise<SweepAnswer> {
  const { source, variants, kits = null, stretches, settings, dailyOf = [] } = batch;
  for (const feeds of stretches) ensureFeeds(process, feeds);
  const message = { type: "sweep", id: nextTaskId(), source, variants, kits, settings, dailyOf } as const;
  const { figures, failures, daily, memoryBytes } = await process.ask(
    { ...message, stretches: stretches.map((feeds) => feeds.map(keyed)) },
    "swept",
  );
  return { figures, failures, daily, memoryBytes };
}
