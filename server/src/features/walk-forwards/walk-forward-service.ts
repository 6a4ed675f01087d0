/**
 * Walk-forward: settings are chosen by a sweep on one stretch and tried, unchanged, on the next, window after window
 * (Pardo 2008). What became of the chosen ones is stitched into a run of its own. Each window begins flat, and bars
 * ahead of it warm studies up.
 */
import { randomUUID } from "node:crypto";
import {
  aimOf,
  engineSettings,
  NO_VARIANT,
  runOfVariant,
  SYMBOL_AXIS,
  sweepSpace,
  TIMEFRAME_AXIS,
  type VariantSpace,
  type WalkForwardDetail,
  type WalkForwardRequest,
  type WalkForwardSummary,
  type WalkForwardWindow,
  withSettings,
} from "@plan-tester/contract";
import { type Aim, bestOf, type InputSpec, type InputValue, type InputValues, PlanTesterError, sweepFigures } from "@plan-tester/core";
import {
  assemblePlan,
  countAhead,
  describePlan,
  instrumentsOf,
  type ProcessPool,
  reportPlan,
  type SweepExecutor,
  SweepJob,
} from "@plan-tester/runner";
import type { Background } from "../../background.ts";
import type { Bin } from "../../db/bin.ts";
import type { EventStream } from "../../http/events.ts";
import { messageOf } from "../../text.ts";
import type { Journal } from "../journal/journal.ts";
import type { MarketService } from "../markets/market-service.ts";
import type { RunService } from "../runs/run-service.ts";
import { gatherWork, instrumentsVaried } from "../sweeps/gather-work.ts";
import { overallEfficiency, windowEfficiency } from "./efficiency.ts";
import { joinPieces, type Piece, periodOf, stitchedHead } from "./stitch.ts";
import type { WalkForwardRepository } from "./walk-forward-repository.ts";
import { type WindowDates, windowsOf } from "./windows.ts";

const plain = (values: Float64Array): (number | null)[] => Array.from(values, (value) => (Number.isFinite(value) ? value : null));

/** One that is under way. */
interface Walking {
  finished: Promise<void>;
  stopped: boolean;
  /** The sweep of the window that it is at. */
  job: SweepJob | null;
}

export class WalkForwardService {
  readonly #markets: MarketService;
  readonly #repository: WalkForwardRepository;
  readonly #runs: RunService;
  readonly #interactive: ProcessPool;
  readonly #executor: SweepExecutor;
  readonly #events: EventStream;
  readonly #journal: Journal;
  readonly #background: Background;
  readonly #bin: Bin;
  readonly #running = new Map<string, Walking>();
  #isClosing = false;

  constructor(parts: {
    markets: MarketService;
    repository: WalkForwardRepository;
    runs: RunService;
    interactive: ProcessPool;
    executor: SweepExecutor;
    events: EventStream;
    journal: Journal;
    background: Background;
    bin: Bin;
  }) {
    this.#bin = parts.bin;
    this.#markets = parts.markets;
    this.#repository = parts.repository;
    this.#runs = parts.runs;
    this.#interactive = parts.interactive;
    this.#executor = parts.executor;
    this.#events = parts.events;
    this.#journal = parts.journal;
    this.#background = parts.background;
  }

  list(): Promise<WalkForwardSummary[]> {
    return this.#repository.list();
  }

  async get(id: string): Promise<WalkForwardDetail> {
    const found = await this.#repository.find(id);
    if (!found) throw new PlanTesterError("not-found", `There is no walk-forward "${id}".`, { id });
    return found;
  }

  async delete(id: string): Promise<void> {
    if (this.#running.has(id)) throw new PlanTesterError("conflict", "The walk-forward is running. Stop it first.", { id });
    await this.#bin.put("walk-forward", id);
  }

  /** The windows that are done stay; the one it is at is given up. */
  stop(id: string): void {
    const walking = this.#running.get(id);
    if (!walking) throw new PlanTesterError("not-found", "That walk-forward is not running.", { id });
    walking.stopped = true;
    walking.job?.stop();
  }

  /** The server is closing: nothing more is written down; the windows that are done stay. */
  close(): void {
    this.#isClosing = true;
    for (const id of this.#running.keys()) this.stop(id);
  }

  /** Waits for one to end: for tests. */
  async finished(id: string): Promise<void> {
    await this.#running.get(id)?.finished;
  }

  async start(request: WalkForwardRequest): Promise<WalkForwardSummary> {
    const { settings, source, planId, inputs } = request;
    await this.#executor.ready();
    await this.#journal.refuseReserved(planId, settings.to);
    if (request.ranges.some(({ input }) => input === SYMBOL_AXIS || input === TIMEFRAME_AXIS))
      throw new PlanTesterError(
        "bad-input",
        "A walk-forward stays on one instrument and timeframe: its periods become one run. Take instrument and timeframe out of what varies.",
        {},
      );
    const { inputs: own, title } = await this.#interactive.use((process) => describePlan(process, source));
    const specs = withSettings(own, settings, request);
    const space = sweepSpace(specs, inputs, request);
    const variants = countAhead({ space, search: request.search });
    if (variants === 0) throw new PlanTesterError("bad-input", NO_VARIANT, {});
    const windows = await this.#windowsOf(request);
    const { source: _source, ...rest } = request;
    const detail: WalkForwardDetail = {
      id: randomUUID().slice(0, 8),
      planId,
      planTitle: title,
      status: "running",
      request: rest,
      windows: [],
      total: windows.length,
      variants,
      createdMs: Date.now(),
      elapsedMs: 0,
      error: "",
      runId: "",
      efficiency: null,
      source,
      inputSpecs: specs,
    };
    await this.#repository.save(detail);
    await this.#journal.walked({ ...detail, variants: variants * windows.length });
    this.#begin(detail, windows, space);
    return summaryOf(detail);
  }

  /** Goes on with every one that the end of the server cut off; what its windows have chosen stays chosen. */
  async resumeUnfinished(): Promise<void> {
    for (const detail of await this.#repository.unfinished()) {
      try {
        const space = sweepSpace(detail.inputSpecs, detail.request.inputs, detail.request);
        this.#begin(detail, await this.#windowsOf(detail.request), space);
      } catch (error) {
        // Case: its bars can't be had any more.
        await this.#repository.save({ ...detail, status: "failed", error: messageOf(error) });
      }
    }
  }

  async #windowsOf({ settings, inSample, outOfSample, anchored }: Omit<WalkForwardRequest, "source">): Promise<WindowDates[]> {
    const { dates } = await this.#markets.thumbnail(settings.symbol);
    const inside = dates.filter((date) => date >= settings.from && date <= settings.to);
    return windowsOf(inside, inSample, outOfSample, anchored);
  }

  #begin(detail: WalkForwardDetail, windows: readonly WindowDates[], space: VariantSpace): void {
    const walking: Walking = { finished: Promise.resolve(), stopped: false, job: null };
    this.#running.set(detail.id, walking);
    walking.finished = this.#carryOut(walking, detail, windows, space).finally(() => this.#running.delete(detail.id));
  }

  async #carryOut(walking: Walking, detail: WalkForwardDetail, windows: readonly WindowDates[], space: VariantSpace): Promise<void> {
    const began = performance.now() - detail.elapsedMs;
    const done: WalkForwardWindow[] = [];
    const pieces: Piece[] = [];
    let [current, tried] = [detail, 0];
    const save = async (change: Partial<WalkForwardDetail>): Promise<void> => {
      if (this.#isClosing) return;
      current = { ...current, ...change, windows: [...done], elapsedMs: Math.round(performance.now() - began) };
      await this.#insist(detail.id, "what a walk-forward has done was not saved", () => this.#repository.save(current));
      this.#events.send({ type: "walk-forward", id: detail.id, status: current.status });
    };
    try {
      const { source, request, inputSpecs } = detail;
      const named = await this.#interactive.use((process) => instrumentsOf(process, source, request.inputs));
      const further = [...named, ...instrumentsVaried(request.ranges, inputSpecs)];
      for (const [i, window] of windows.entries()) {
        const before = detail.windows[i];
        if (before) {
          // Chosen before the server ended: only its run is made again.
          done.push(before);
          tried += detail.variants;
          if (before.inputs) pieces.push(await this.#tryOut(detail, window, before.inputs, further));
          continue;
        }
        const walked = walking.stopped ? null : await this.#walk(walking, detail, window, space, further);
        if (!walked) break;
        done.push(walked.told);
        tried += walked.tried;
        if (walked.piece) pieces.push(walked.piece);
        await save({});
      }
      const runId = pieces.length > 0 && !this.#isClosing ? await this.#stitch(current, pieces) : "";
      await save({ status: done.length < windows.length ? "stopped" : "complete", runId, efficiency: overallEfficiency(done) });
    } catch (error) {
      await save({ status: "failed", error: messageOf(error) });
    }
    if (this.#isClosing) return;
    const ended = { status: current.status, variants: tried };
    await this.#insist(detail.id, "a walk-forward was not noted in the journal", () =>
      this.#journal.ended(detail.id, ended, detail.request.settings.symbol),
    );
  }

  #insist(id: string, what: string, work: () => Promise<unknown>): Promise<boolean> {
    return this.#background.insist(what, { walkForward: id }, work);
  }

  /** One window: a sweep on the first stretch, the best of it on the second. null where it was stopped on the way. */
  async #walk(
    walking: Walking,
    detail: WalkForwardDetail,
    window: WindowDates,
    space: VariantSpace,
    further: readonly string[],
  ): Promise<{ told: WalkForwardWindow; piece: Piece | null; tried: number } | null> {
    const { request, source, inputSpecs } = detail;
    const { search, aim } = request;
    const work = await gatherWork(
      this.#markets,
      { ...request, source, linked: space.linked },
      [window.inSample],
      further,
      null,
      detail.createdMs,
    );
    const job = new SweepJob({ space, search, aim: withLeastTrades(aim, request.leastTrades), work, keepsDaily: false }, this.#executor);
    walking.job = job;
    await job.run(() => undefined);
    if (walking.stopped) return null;
    const best = bestOf(job.scores());
    if (best < 0)
      return { told: { ...window, inputs: null, inFigures: [], outFigures: [], efficiency: null }, piece: null, tried: job.done };
    const inFigures = plain(job.figures.subarray(best * job.rowWidth, (best + 1) * job.rowWidth));
    const inputs = { ...defaultsOf(inputSpecs), ...job.variantAt(best) };
    const piece = await this.#tryOut(detail, window, inputs, further);
    const outFigures = plain(sweepFigures(piece.report.head));
    // Case: studies that were never full in the later period. What could not trade says nothing of the choice.
    const couldTrade = piece.report.head.firstBar < piece.report.head.barsDone;
    const efficiency = couldTrade ? windowEfficiency({ ...window, inFigures, outFigures }) : null;
    return { told: { ...window, inputs, inFigures, outFigures, efficiency }, piece, tried: job.done };
  }

  /** What was chosen on one stretch, run on the next. */
  async #tryOut(
    { request, source, createdMs }: WalkForwardDetail,
    { outOfSample }: WindowDates,
    chosen: InputValues,
    further: readonly string[],
  ) {
    const { inputs, settings } = runOfVariant(chosen, request.settings);
    const { feeds } = await this.#markets.feeds(settings, outOfSample, further, null, createdMs);
    const engine = engineSettings(
      settings,
      feeds.map(({ instrument }) => instrument),
    );
    const report = await this.#interactive.use((process) => reportPlan(process, { source, inputs, settings: engine, feeds }));
    return { feeds, report };
  }

  /** The out-of-sample stretches one after the other, kept as one run. */
  async #stitch(detail: WalkForwardDetail, pieces: readonly Piece[]): Promise<string> {
    const { settings } = detail.request;
    const period = periodOf(pieces);
    const symbols = pieces[0]!.feeds.map(({ instrument }) => instrument.symbol);
    const { feeds, hash } = await this.#markets.feeds(settings, period, symbols, null, detail.createdMs);
    const feed = feeds[0]!;
    const { equity, trades } = joinPieces(pieces, feed, settings.cash);
    const request = {
      source: detail.source,
      settings: engineSettings(
        settings,
        feeds.map(({ instrument }) => instrument),
      ),
      feeds,
    };
    const made = { message: "", done: feed.data.series.length, trades, equity: [equity] };
    const report = await this.#interactive.use((process) => assemblePlan(process, request, made));
    const head = stitchedHead(detail, report, period, feed, hash);
    await this.#insist(detail.id, "the stitched run of a walk-forward was not saved", () =>
      this.#runs.adopt({ ...report, head }, { name: `Walk-forward of ${detail.planTitle}`, tags: ["walk-forward"] }),
    );
    return head.id;
  }
}

/** The aim, with the least number of trades among its conditions. */
function withLeastTrades(aim: WalkForwardRequest["aim"], leastTrades: number): Aim {
  const whole = aimOf(aim);
  return { ...whole, conditions: [...whole.conditions, { figure: "trades", is: "at least", value: Math.max(1, leastTrades) }] };
}

const defaultsOf = (specs: readonly InputSpec[]): Record<string, InputValue> =>
  Object.fromEntries(specs.filter(({ name }) => !name.includes(".")).map((spec) => [spec.name, spec.default]));

/** What lists show of it. */
const summaryOf = ({ source: _source, inputSpecs: _specs, ...summary }: WalkForwardDetail): WalkForwardSummary => summary;
