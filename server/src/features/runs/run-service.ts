/** Backtests on request. The last run of each plan is a draft in memory; keeping it writes it down. */
import {
  engineSettings,
  type KeepRequest,
  packColumns,
  type RunEvidence,
  type RunFacets,
  type RunOrders,
  type RunPage,
  type RunQuery,
  type RunRequestBody,
  type RunSettings,
  type RunSummary,
} from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import {
  findSlips,
  fingerprintOf,
  hashText,
  instrumentsOf,
  type ProcessPool,
  type RunOutcome,
  type RunRequest,
  resultHashOf,
  runPlan,
} from "@plan-tester/runner";
import type { EventStream } from "../../http/events.ts";
import type { Journal } from "../journal/journal.ts";
import type { MarketService } from "../markets/market-service.ts";
import type { RunRepository, WholeRun } from "./run-repository.ts";

/** Draft runs held in memory, newest last. */
const KEPT_DRAFTS = 24;
const SPARK_POINTS = 60;

export class RunService {
  readonly #markets: MarketService;
  readonly #runs: RunRepository;
  readonly #pool: ProcessPool;
  readonly #events: EventStream;
  readonly #journal: Journal;
  readonly #drafts = new Map<string, WholeRun>();
  readonly #running = new Map<string, AbortController>();

  constructor(markets: MarketService, runs: RunRepository, pool: ProcessPool, events: EventStream, journal: Journal) {
    this.#markets = markets;
    this.#journal = journal;
    this.#runs = runs;
    this.#pool = pool;
    this.#events = events;
  }

  /** Runs to the end, or to the stop. The answer is the evidence of what was done. */
  async run(request: RunRequestBody): Promise<RunEvidence> {
    if (this.#running.has(request.id)) throw new PlanTesterError("conflict", "A run with this id is under way.", { id: request.id });
    const control = new AbortController();
    this.#running.set(request.id, control);
    try {
      const { settings } = request;
      await this.#journal.refuseReserved(request.planId, settings.to);
      const further = await this.#pool.use((process) => instrumentsOf(process, request.source, request.inputs));
      const { feeds, hash } = await this.#markets.feeds(settings, settings.from, settings.to, further);
      const { instrument, data } = feeds[0]!;
      const engine = engineSettings(settings, instrument);
      const onProgress = (done: number, total: number): void => this.#events.send({ type: "run-progress", id: request.id, done, total });
      const outcome = await this.#pool.use((process) =>
        runPlan(
          process,
          { source: request.source, inputs: request.inputs, settings: engine, feeds },
          { onProgress, signal: control.signal },
        ),
      );
      const made = { source: request.source, inputs: outcome.inputs, settings: engine, feeds };
      const whole = wholeRun(request, outcome, fingerprintOfRun(made, settings, hash), hash, data.series);
      this.#drafts.set(request.id, whole);
      while (this.#drafts.size > KEPT_DRAFTS) this.#drafts.delete(this.#drafts.keys().next().value!);
      await this.#journal.ran(whole.evidence);
      return whole.evidence;
    } finally {
      this.#running.delete(request.id);
    }
  }

  /** Keeps a run that was put together elsewhere, such as the stitched curve of a walk-forward. */
  async adopt(evidence: RunEvidence, orders: RunOrders, equity: Float64Array, name: string, tags: readonly string[]): Promise<void> {
    const columns = packColumns({}, [{ name: "equity", values: equity }]);
    await this.#runs.insert({ ...summaryOf(evidence), name, note: "", tags, batch: "" }, { evidence, orders, columns });
  }

  stop(id: string): void {
    const control = this.#running.get(id);
    if (!control) throw new PlanTesterError("not-found", "That run is not under way: it may just have ended.", { id });
    control.abort();
  }

  async whole(id: string): Promise<WholeRun> {
    return this.#found(id, this.#drafts.get(id) ?? (await this.#runs.find(id)));
  }

  #found<T>(id: string, run: T | null | undefined): T {
    if (!run)
      throw new PlanTesterError(
        "not-found",
        `There is no run "${id}". Draft runs are replaced by newer ones; kept runs are listed in Runs.`,
        { id },
      );
    return run;
  }

  /** Evidence and orders as JSON text, columns packed: those of kept runs are handed on as they were written down. */
  async evidenceText(id: string): Promise<string> {
    const draft = this.#drafts.get(id);
    return draft ? JSON.stringify(draft.evidence) : this.#found(id, await this.#runs.evidenceText(id));
  }

  async ordersText(id: string): Promise<string> {
    const draft = this.#drafts.get(id);
    return draft ? JSON.stringify(draft.orders) : this.#found(id, await this.#runs.part(id, "orders")).toString();
  }

  async columns(id: string): Promise<Uint8Array> {
    return this.#drafts.get(id)?.columns ?? this.#found(id, await this.#runs.part(id, "columns"));
  }

  list(query: Required<RunQuery>): Promise<RunPage> {
    return this.#runs.list(query);
  }

  facets(): Promise<RunFacets> {
    return this.#runs.facets();
  }

  async keep(id: string, { name, note = "", tags }: KeepRequest, batch = ""): Promise<RunSummary> {
    const stored = await this.#runs.find(id);
    if (stored) {
      await this.#runs.rename(id, name, note, tags);
      return (await this.#runs.some([id]))[0]!;
    }
    const whole = await this.whole(id);
    const summary: RunSummary = { ...summaryOf(whole.evidence), name, note, tags, batch };
    await this.#runs.insert(summary, whole);
    // From now on it is read as it was written down.
    this.#drafts.delete(id);
    return summary;
  }

  async delete(id: string): Promise<void> {
    if (!(await this.#runs.delete(id))) throw new PlanTesterError("not-found", `There is no kept run "${id}".`, { id });
  }
}

/** Fingerprint of what made a run: plan, inputs, data, settings and seed (R7.2). */
export function fingerprintOfRun(made: RunRequest, { from, to, timeframe }: RunSettings, hash: string): string {
  return fingerprintOf({
    source: hashText(made.source),
    inputs: made.inputs,
    dataHash: `${hash}:${from}:${to}`,
    timeframe,
    instrument: made.feeds[0]!.instrument,
    settings: made.settings,
  });
}

function summaryOf(evidence: RunEvidence): Omit<RunSummary, "name" | "note" | "tags" | "batch"> {
  const { id, planId, title, settings, status, createdMs, figures, daily, walkForwardId = "" } = evidence;
  const step = Math.max(1, Math.ceil(daily.equity.length / SPARK_POINTS));
  return {
    id,
    planId,
    planTitle: title,
    settings,
    status,
    createdMs,
    walkForwardId,
    netProfit: figures.netProfit,
    maxDrawdown: figures.maxDrawdown,
    trades: figures.trades,
    sharpe: figures.sharpe,
    profitFactor: figures.profitFactor,
    winRate: figures.winRate,
    averageTrade: figures.averageTrade,
    returnToDrawdown: figures.returnToDrawdown,
    totalReturn: figures.totalReturn,
    spark: daily.equity.filter((_value, i) => i % step === 0 || i === daily.equity.length - 1).map(Math.round),
  };
}

function wholeRun(
  request: RunRequestBody,
  outcome: RunOutcome,
  fingerprint: string,
  dataHash: string,
  series: { length: number; time: Float64Array; closeTime: Float64Array },
): WholeRun {
  const { result, description, inputs, elapsedMs } = outcome;
  const { orders, fills, equity, daily, plots, ...rest } = result;
  const evidence: RunEvidence = {
    ...rest,
    id: request.id,
    planId: request.planId,
    kept: null,
    title: description.title,
    source: request.source,
    inputs,
    slips: findSlips(request.source, result),
    inputSpecs: description.inputs,
    settings: request.settings,
    fingerprint,
    resultHash: resultHashOf(result),
    dataHash,
    createdMs: Date.now(),
    elapsedMs,
    bars: series.length,
    firstMs: series.time[0]!,
    lastMs: series.closeTime[series.length - 1]!,
    plots: plots.map(({ label, pane, shift }) => ({ label, pane, shift })),
    daily: { dates: daily.dates, equity: Array.from(daily.equity) },
  };
  const columns = packColumns({}, [{ name: "equity", values: equity }, ...plots.map(({ values }, i) => ({ name: `plot${i}`, values }))]);
  const ordersPart: RunOrders = { orders, fills };
  return { evidence, orders: ordersPart, columns };
}
