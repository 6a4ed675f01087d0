/** Runs a plan in a process of its own and brings back the result, or what is left of it. */
import type { ConditionEvidence } from "@plan-tester/contract";
import {
  type BarSeries,
  type EngineSettings,
  type ExitKit,
  type InputValues,
  type Instrument,
  type LookAheadReport,
  PlanTesterError,
  type RunResult,
} from "@plan-tester/core";
import { assembled } from "./assemble.ts";
import type { Hearing, PlanProcess } from "./parent/plan-process.ts";
import { nextTaskId } from "./parent/pool.ts";
import type {
  Compared,
  DataMessage,
  FinerData,
  FromChild,
  PlanDescription,
  ReplayMessage,
  RuleChange,
  RunMessage,
  Surrogate,
  TraceFindings,
  TradesPiece,
} from "./protocol.ts";

/** Bars of a run, under a key that names exactly these bars. */
export interface DataSet {
  readonly key: string;
  /** The bars of the period. */
  readonly series: BarSeries;
  readonly finer: FinerData | null;
  /** The bars of the period with those ahead of it, for warm-up (R2.7); left out where there are none. */
  readonly whole?: BarSeries;
  /** A market without memory is made of these bars where they are run on, and only there. */
  readonly surrogate?: Surrogate;
}

/** What a plan process is given of it: finer bars are counted from the first of all bars. */
export function dataMessageOf({ series, finer, whole = series }: DataSet): Pick<DataMessage, "series" | "finer" | "lead"> {
  const lead = whole.length - series.length;
  if (!finer || lead === 0) return { series: whole, lead, finer };
  const first = new Int32Array(whole.length + 1);
  first.set(finer.first, lead);
  return { series: whole, lead, finer: { series: finer.series, first } };
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
export async function runPlan(process: PlanProcess, request: RunRequest, control: RunControl = {}): Promise<RunOutcome> {
  const { feeds, inputs, settings } = request;
  const started = performance.now();
  const told = new Told();
  try {
    const { description, inputs: whole, result, elapsedMs } = await askToRun(process, request, control, told, "result");
    return { description, inputs: whole, result, elapsedMs };
  } catch (error) {
    const message = told.reasonOf(error);
    const series = feeds.map(({ instrument, data }) => ({ instrument, series: data.series }));
    const result = assembled({ feeds: series, settings, message, done: told.done, trades: told.trades, equity: told.equity });
    return { description: { title: "", inputs: [] }, inputs, result, elapsedMs: performance.now() - started };
  }
}

/** What a run has told of itself on the way. */
export class Told {
  readonly trades: TradesPiece[] = [];
  readonly equity: Float64Array[] = [];
  done = 0;

  add({ trades, equity, done }: Extract<FromChild, { type: "progress" }>): void {
    if (trades.length > 0) this.trades.push({ text: trades, barOffset: 0 });
    this.equity.push(equity);
    this.done = done;
  }

  /**
   * Why a run died that had told something.
   * @throws the error itself when it had not.
   */
  reasonOf(error: unknown): string {
    if (this.done === 0 || !(error instanceof PlanTesterError)) throw error;
    return error.message;
  }
}

/** Sends a run on its way, with all it needs; its answer is a result or a report. */
export async function askToRun<T extends "result" | "report">(
  process: PlanProcess,
  { source, inputs, settings, feeds }: RunRequest,
  { onProgress, signal }: RunControl,
  told: Told,
  last: T,
  answer: RunMessage["answer"] = last,
  hearing: Omit<Hearing, "progress"> = {},
): Promise<Extract<FromChild, { type: T }>> {
  for (const { instrument, data } of feeds)
    if (data.series.length === 0)
      throw new PlanTesterError("bad-input", `There are no bars of ${instrument.symbol} in the chosen period. Choose a longer one.`, {});
  const id = nextTaskId();
  await ensureFeeds(process, feeds);
  const stop = (): void => process.post({ type: "stop", id });
  signal?.addEventListener("abort", stop, { once: true });
  try {
    const message = { type: "run", id, source, inputs, feeds: feeds.map(keyed), settings, answer } as const;
    const progress: Hearing["progress"] = (part) => {
      told.add(part);
      onProgress?.(part.done, part.total);
    };
    return await process.ask(message, last, { ...hearing, progress });
  } finally {
    signal?.removeEventListener("abort", stop);
  }
}

/** What a watch did against the backtest of what it has seen. @throws PlanProcessError when the plan fails or its process dies */
export async function replayPlan(process: PlanProcess, request: Omit<ReplayMessage, "type" | "id">): Promise<Compared> {
  return (await process.ask({ type: "replay", id: nextTaskId(), ...request }, "replayed")).compared;
}

/**
 * Compares the plan with itself on bars that have another future, at many places (R7.1). Aborted, it tells of those done so far.
 * @throws PlanProcessError when the plan can't be read or its process dies.
 */
export async function checkPlanLookAhead(
  process: PlanProcess,
  { source, inputs, settings, feeds }: RunRequest,
  onProgress?: (done: number, total: number) => void,
  signal?: AbortSignal,
): Promise<LookAheadReport> {
  await ensureFeeds(process, feeds);
  const id = nextTaskId();
  const stop = (): void => process.post({ type: "stop", id });
  if (signal?.aborted) stop();
  signal?.addEventListener("abort", stop, { once: true });
  try {
    const message = { type: "look-ahead", id, source, inputs, settings, feeds: feeds.map(keyed) } as const;
    const answer = await process.ask(message, "looked", { progress: ({ done, total }) => total > 0 && onProgress?.(done, total) });
    return answer.report;
  } finally {
    signal?.removeEventListener("abort", stop);
  }
}

/** Runs once more and looks into it; with a stretch of bars, only up to its end and step by step on it. */
export async function tracePlan(
  process: PlanProcess,
  { source, inputs, settings, feeds }: RunRequest,
  stretch: { readonly from: number; readonly to: number } | null = null,
): Promise<TraceFindings> {
  await ensureFeeds(process, feeds);
  const message = { type: "trace", id: nextTaskId(), source, inputs, settings, feeds: feeds.map(keyed), stretch } as const;
  return (await process.ask(message, "traced")).findings;
}

/** What the conditions that a plan names are on the bars of its period, without a run: as strips of so many parts, and counted. */
export async function holdingsOfPlan(
  process: PlanProcess,
  { source, inputs, settings, feeds }: RunRequest,
  parts: number,
): Promise<{ readonly bars: number; readonly holdings: readonly ConditionEvidence[] }> {
  await ensureFeeds(process, feeds);
  const message = { type: "holdings", id: nextTaskId(), source, inputs, settings, feeds: feeds.map(keyed), parts } as const;
  const { bars, holdings } = await process.ask(message, "held");
  return { bars, holdings };
}

export const keyed = ({ instrument, data }: FeedData) => ({ instrument, dataKey: data.key });

export async function ensureFeeds(process: PlanProcess, feeds: readonly FeedData[]): Promise<void> {
  for (const { data } of feeds) {
    const make = () => dataMessageOf(data);
    await (data.surrogate ? process.ensureSurrogate(data.key, data.surrogate, make) : process.ensureData(data.key, make));
  }
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
type Swept = Omit<Extract<FromChild, { type: "swept" }>, "type" | "id">;
export type SweepAnswer = Omit<Swept, "trades">;

export async function sweepPlan(process: PlanProcess, batch: SweepBatch): Promise<SweepAnswer> {
  const { source, variants, kits = null, stretches, settings, dailyOf = [] } = batch;
  for (const feeds of stretches) await ensureFeeds(process, feeds);
  const message = { type: "sweep", id: nextTaskId(), source, variants, kits, settings, dailyOf, changes: null, tradesOf: [] } as const;
  const { figures, failures, daily, memoryBytes } = await process.ask(
    { ...message, stretches: stretches.map((feeds) => feeds.map(keyed)) },
    "swept",
  );
  return { figures, failures, daily, memoryBytes };
}

/** Runs a plan once for each change of its conditions, null for none; with daily returns of all and trades of those asked for. */
export async function runChanged(
  process: PlanProcess,
  { source, inputs, settings, feeds }: RunRequest,
  changes: readonly (RuleChange | null)[],
  tradesOf: readonly number[],
): Promise<Swept> {
  await ensureFeeds(process, feeds);
  const message = { type: "sweep", id: nextTaskId(), source, settings, kits: null, changes, tradesOf } as const;
  const each = { variants: changes.map(() => inputs), dailyOf: [...changes.keys()], stretches: [feeds.map(keyed)] };
  const { figures, failures, daily, trades, memoryBytes } = await process.ask({ ...message, ...each }, "swept");
  return { figures, failures, daily, trades, memoryBytes };
}
