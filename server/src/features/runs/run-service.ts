/** Backtests on request. The last run of each plan is a draft in memory; keeping it writes it down. */
import {
  engineSettings,
  type KeepRequest,
  type RunFacets,
  type RunHead,
  type RunPage,
  type RunQuery,
  type RunRequestBody,
  type RunSettings,
  type RunSummary,
} from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import {
  fingerprintOf,
  hashText,
  instrumentsOf,
  type PlanReport,
  type ProcessPool,
  type RunRequest,
  reportPlan,
} from "@plan-tester/runner";
import type { Background } from "../../background.ts";
import type { EventStream } from "../../http/events.ts";
import type { Journal } from "../journal/journal.ts";
import type { MarketService } from "../markets/market-service.ts";
import { evidencePieces, type RunRepository, type WholeRun } from "./run-repository.ts";

/** Draft runs held in memory, newest last. */
const KEPT_DRAFTS = 24;
const MAX_DRAFT_BYTES = 300_000_000;
const SPARK_POINTS = 60;

export class RunService {
  readonly #markets: MarketService;
  readonly #runs: RunRepository;
  readonly #pool: ProcessPool;
  readonly #events: EventStream;
  readonly #journal: Journal;
  readonly #drafts = new Map<string, WholeRun>();
  readonly #running = new Map<string, AbortController>();

  readonly #background: Background;

  constructor(
    markets: MarketService,
    runs: RunRepository,
    pool: ProcessPool,
    events: EventStream,
    journal: Journal,
    background: Background,
  ) {
    this.#background = background;
    this.#markets = markets;
    this.#journal = journal;
    this.#runs = runs;
    this.#pool = pool;
    this.#events = events;
  }

  /** Runs to the end, or to the stop. The answer is what was done. */
  async run(request: RunRequestBody): Promise<WholeRun> {
    if (this.#running.has(request.id)) throw new PlanTesterError("conflict", "A run with this id is running.", { id: request.id });
    const control = new AbortController();
    this.#running.set(request.id, control);
    try {
      const { settings } = request;
      await this.#journal.refuseReserved(request.planId, settings.to);
      const further = await this.#pool.use((process) => instrumentsOf(process, request.source, request.inputs));
      const { feeds, hash } = await this.#markets.feeds(settings, settings, further);
      const { data } = feeds[0]!;
      const engine = engineSettings(
        settings,
        feeds.map((feed) => feed.instrument),
      );
      const onProgress = (done: number, total: number): void => this.#events.send({ type: "run-progress", id: request.id, done, total });
      const made = await this.#pool.use((process) =>
        reportPlan(
          process,
          { source: request.source, inputs: request.inputs, settings: engine, feeds },
          {
            onProgress,
            onFigures: (figures) => this.#events.send({ type: "run-figures", id: request.id, ...figures }),
            signal: control.signal,
          },
        ),
      );
      const fingerprint = fingerprintOfRun({ source: request.source, inputs: made.inputs, settings: engine, feeds }, settings, hash);
      const whole: WholeRun = {
        head: headOf(request, made, fingerprint, hash, data.series),
        ...{ trades: made.trades, orders: made.orders, columns: made.columns },
      };
      this.#drafts.set(request.id, whole);
      this.#trimDrafts();
      // What can't be noted now is noted later: the result is there all the same.
      const note = (): Promise<void> => this.#journal.ran(whole.head);
      await note().catch(() => void this.#background.insist("a run was not noted in the journal", { run: request.id }, note));
      this.#saveSoon(whole);
      return whole;
    } finally {
      this.#running.delete(request.id);
    }
  }

  #trimDrafts(): void {
    const bytes = (): number =>
      [...this.#drafts.values()].flatMap(({ trades, orders }) => [...trades, ...orders]).reduce((sum, piece) => sum + piece.length, 0);
    while (this.#drafts.size > 1 && (this.#drafts.size > KEPT_DRAFTS || bytes() > MAX_DRAFT_BYTES))
      this.#drafts.delete(this.#drafts.keys().next().value!);
  }

  /** The drafts that are to be written down, the last of each plan. */
  readonly #unsaved = new Map<string, WholeRun>();
  #saving: Promise<void> = Promise.resolve();

  /** Writes the draft down, so that it is there after a restart; where runs follow one another, only the last of a plan. */
  #saveSoon(whole: WholeRun): void {
    this.#unsaved.set(whole.head.planId, whole);
    const save = async (): Promise<void> => {
      for (const [planId, draft] of this.#unsaved) {
        this.#unsaved.delete(planId);
        // Case: kept in the meantime, or its plan was never saved.
        if (!(await this.isKept(draft.head.id))) await this.#runs.saveDraft(draft);
      }
    };
    const { id } = whole.head;
    this.#saving = this.#saving
      .then(save)
      .catch((error: unknown) =>
        this.#background.report("the last run of a plan was not saved: it is here until the server ends", { run: id }, error),
      );
  }

  /** The id of the last draft of a plan, of this server's time or of one before it. */
  async lastDraft(planId: string): Promise<string | null> {
    const here = [...this.#drafts.values()].findLast(({ head }) => head.planId === planId);
    return here?.head.id ?? this.#runs.lastDraft(planId);
  }

  /** Settles when every draft is written down. */
  close(): Promise<void> {
    return this.#saving;
  }

  /** Keeps a run that was put together elsewhere, such as the stitched curve of a walk-forward. */
  async adopt(whole: WholeRun, { name, note = "", tags }: KeepRequest): Promise<void> {
    await this.#runs.insert({ ...summaryOf(whole.head), name, note, tags, batch: "" }, whole, true);
  }

  stop(id: string): void {
    const control = this.#running.get(id);
    if (!control) throw new PlanTesterError("not-found", "That run is not running: it may just have ended.", { id });
    control.abort();
  }

  async head(id: string): Promise<RunHead> {
    return this.#drafts.get(id)?.head ?? this.#written(id, () => this.#runs.head(id));
  }

  /** What was written down of a run that is not in the bin. @throws PlanTesterError not-found */
  async #written<T>(id: string, read: () => Promise<T | null>): Promise<T> {
    const run = (await this.#runs.isDeleted(id)) ? null : await read();
    if (!run)
      throw new PlanTesterError(
        "not-found",
        `There is no run "${id}". Draft runs are replaced by newer ones; kept runs are listed in Runs.`,
        { id },
      );
    return run;
  }

  /** Evidence and orders as JSON text, columns packed: handed on as they were written. */
  async evidenceText(id: string): Promise<readonly Uint8Array[]> {
    const draft = this.#drafts.get(id);
    return draft ? evidencePieces(draft.head, draft.trades) : this.#written(id, () => this.#runs.evidenceText(id));
  }

  async part(id: string, which: "orders" | "columns"): Promise<readonly Uint8Array[]> {
    return this.#drafts.get(id)?.[which] ?? this.#written(id, () => this.#runs.part(id, which));
  }

  list(query: Required<RunQuery>): Promise<RunPage> {
    return this.#runs.list(query);
  }

  facets(): Promise<RunFacets> {
    return this.#runs.facets();
  }

  async keep(id: string, { name, note = "", tags }: KeepRequest, batch = ""): Promise<RunSummary> {
    if (await this.isKept(id)) {
      await this.#runs.rename(id, name, note, tags);
      return (await this.#runs.some([id]))[0]!;
    }
    const draft = this.#drafts.get(id);
    const head = draft?.head ?? (await this.head(id));
    const summary: RunSummary = { ...summaryOf(head), name, note, tags, batch };
    await this.#saving;
    await this.#runs.insert(summary, draft ?? null, batch === "");
    // From now on it is read as it was written down.
    this.#drafts.delete(id);
    return summary;
  }

  async isKept(id: string): Promise<boolean> {
    return (await this.#runs.some([id])).length > 0;
  }

  compared(ids: readonly string[]): Promise<void> {
    return this.#runs.compared(ids, Date.now());
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

function summaryOf(head: RunHead): Omit<RunSummary, "name" | "note" | "tags" | "batch"> {
  const { id, planId, title, settings, status, createdMs, figures, daily, walkForwardId } = head;
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

export function headOf(
  { id, planId, source, settings }: Pick<RunRequestBody, "id" | "planId" | "source" | "settings">,
  { description, inputs, head, elapsedMs }: PlanReport,
  fingerprint: string,
  dataHash: string,
  series: { length: number; time: Float64Array; closeTime: Float64Array },
): RunHead {
  return {
    ...head,
    ...{ id, planId, kept: null, title: description.title, source, inputs, inputSpecs: description.inputs, settings },
    ...{ walkForwardId: "", watched: null, fingerprint, dataHash, createdMs: Date.now(), elapsedMs },
    bars: series.length,
    firstMs: series.time[0]!,
    lastMs: series.closeTime[series.length - 1]!,
    daily: { dates: head.daily.dates, equity: Array.from(head.daily.equity) },
  };
}
