/**
 * Walk-forward: settings are chosen by a sweep on one stretch and tried, unchanged, on the next, window after window
 * (Pardo 2008). What became of the chosen ones is stitched into a run of its own. Each window begins flat, and studies
 * warm up inside it.
 */
import { randomUUID } from "node:crypto";
import {
  engineSettings,
  type RunEvidence,
  variantsOf,
  type WalkForwardDetail,
  type WalkForwardRequest,
  type WalkForwardSummary,
  type WalkForwardWindow,
} from "@plan-tester/contract";
import {
  assembleResult,
  type InputValues,
  PlanTesterError,
  type RunResult,
  resolveInputs,
  SWEEP_FIGURES,
  type Trade,
} from "@plan-tester/core";
import { describePlan, type FeedData, hashText, instrumentsOf, type ProcessPool, resultHashOf, runPlan } from "@plan-tester/runner";
import type { EventStream } from "../../http/events.ts";
import type { Journal } from "../journal/journal.ts";
import type { MarketService } from "../markets/market-service.ts";
import type { RunService } from "../runs/run-service.ts";
import { SweepJob } from "../sweeps/sweep-job.ts";
import type { WalkForwardRepository } from "./walk-forward-repository.ts";
import { type WindowDates, windowsOf } from "./windows.ts";

const at = (figure: (typeof SWEEP_FIGURES)[number]): number => SWEEP_FIGURES.indexOf(figure);
const plain = (values: Float64Array): (number | null)[] => Array.from(values, (value) => (Number.isFinite(value) ? value : null));

interface Piece {
  readonly feeds: readonly FeedData[];
  readonly result: RunResult;
}

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
  readonly #front: ProcessPool;
  readonly #pool: ProcessPool;
  readonly #events: EventStream;
  readonly #journal: Journal;
  readonly #running = new Map<string, Walking>();
  #isClosing = false;

  constructor(parts: {
    markets: MarketService;
    repository: WalkForwardRepository;
    runs: RunService;
    front: ProcessPool;
    pool: ProcessPool;
    events: EventStream;
    journal: Journal;
  }) {
    this.#markets = parts.markets;
    this.#repository = parts.repository;
    this.#runs = parts.runs;
    this.#front = parts.front;
    this.#pool = parts.pool;
    this.#events = parts.events;
    this.#journal = parts.journal;
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
    if (!(await this.#repository.delete(id))) throw new PlanTesterError("not-found", `There is no walk-forward "${id}".`, { id });
  }

  /** The windows that are done stay; the one it is at is given up. */
  stop(id: string): void {
    const walking = this.#running.get(id);
    if (!walking) throw new PlanTesterError("not-found", "That walk-forward is not under way.", { id });
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
    await this.#journal.refuseReserved(planId, settings.to);
    const { inputs: specs, title } = await this.#front.use((process) => describePlan(process, source));
    const variants = variantsOf(specs, inputs, request);
    const { dates } = await this.#markets.thumbnail(settings.symbol);
    const windows = windowsOf(
      dates.filter((date) => date >= settings.from && date <= settings.to),
      request.inSample,
      request.outOfSample,
      request.anchored,
    );
    const { source: _source, ...rest } = request;
    const detail: WalkForwardDetail = {
      id: randomUUID().slice(0, 8),
      planId,
      planTitle: title,
      status: "running",
      request: rest,
      windows: [],
      total: windows.length,
      variants: variants.length,
      createdMs: Date.now(),
      elapsedMs: 0,
      error: "",
      runId: "",
      efficiency: null,
      source,
      inputSpecs: specs,
    };
    await this.#repository.save(detail);
    await this.#journal.walked({ ...detail, inputs, settings, variants: variants.length * windows.length });
    const walking: Walking = { finished: Promise.resolve(), stopped: false, job: null };
    this.#running.set(detail.id, walking);
    walking.finished = this.#carryOut(walking, detail, windows, variants).finally(() => this.#running.delete(detail.id));
    return detail;
  }

  async #carryOut(
    walking: Walking,
    detail: WalkForwardDetail,
    windows: readonly WindowDates[],
    variants: readonly InputValues[],
  ): Promise<void> {
    const began = performance.now();
    const done: WalkForwardWindow[] = [];
    const pieces: Piece[] = [];
    let current = detail;
    const save = async (change: Partial<WalkForwardDetail>): Promise<void> => {
      if (this.#isClosing) return;
      current = { ...current, ...change, windows: [...done], elapsedMs: Math.round(performance.now() - began) };
      await this.#repository.save(current);
      this.#events.send({ type: "walk-forward", id: detail.id, status: current.status });
    };
    try {
      const { source, request } = detail;
      const further = await this.#front.use((process) => instrumentsOf(process, source, request.inputs));
      for (const window of windows) {
        const walked = walking.stopped ? null : await this.#walk(walking, detail, window, variants, further);
        if (!walked) break;
        done.push(walked.told);
        if (walked.piece) pieces.push(walked.piece);
        await save({});
      }
      const runId = pieces.length > 0 && !this.#isClosing ? await this.#stitch(current, pieces) : "";
      await save({ status: done.length < windows.length ? "stopped" : "complete", runId, efficiency: efficiencyOf(done) });
    } catch (error) {
      await save({ status: "failed", error: error instanceof Error ? error.message : String(error) });
    }
    if (!this.#isClosing) await this.#journal.ended(detail.id, { status: current.status, variants: done.length * variants.length });
  }

  /** One window: a sweep on the first stretch, the best of it on the second. null where it was stopped on the way. */
  async #walk(
    walking: Walking,
    { request, source, inputSpecs }: WalkForwardDetail,
    window: WindowDates,
    variants: readonly InputValues[],
    further: readonly string[],
  ): Promise<{ told: WalkForwardWindow; piece: Piece | null } | null> {
    const { settings } = request;
    const feedsOf = async ({ from, to }: { from: string; to: string }) => (await this.#markets.feeds(settings, from, to, further)).feeds;
    const [inside, outside] = [await feedsOf(window.inSample), await feedsOf(window.outOfSample)];
    const engine = engineSettings(settings, inside[0]!.instrument);
    const job = new SweepJob(variants, { source, stretches: [inside], settings: engine }, this.#pool, { keepsDaily: false });
    walking.job = job;
    await job.run(() => undefined);
    if (walking.stopped) return null;
    const best = bestOf(job, request);
    if (best < 0) return { told: { ...window, inputs: null, inFigures: [], outFigures: [], efficiency: null }, piece: null };
    const inFigures = plain(job.figures.subarray(best * job.rowWidth, (best + 1) * job.rowWidth));
    const chosen = variants[best]!;
    const { result } = await this.#front.use((process) => runPlan(process, { source, inputs: chosen, settings: engine, feeds: outside }));
    const outFigures = SWEEP_FIGURES.map((figure) => (figure in result.figures ? (result.figures[figure] as number | null) : null));
    const efficiency = ratioOf(
      outFigures[at("netProfit")],
      window.outOfSample.sessions,
      inFigures[at("netProfit")],
      window.inSample.sessions,
    );
    const inputs = resolveInputs(inputSpecs, chosen);
    return { told: { ...window, inputs, inFigures, outFigures, efficiency }, piece: { feeds: outside, result } };
  }

  /** The out-of-sample stretches one after the other, as one run. */
  async #stitch(detail: WalkForwardDetail, pieces: readonly Piece[]): Promise<string> {
    const { settings } = detail.request;
    const [first, last] = [pieces[0]!.feeds[0]!.data.series, pieces.at(-1)!.feeds[0]!.data.series];
    const dateAt = (series: typeof first, i: number): string => series.sessions.dates[series.session[i]!]!;
    const [from, to] = [dateAt(first, 0), dateAt(last, last.length - 1)];
    const { feeds, hash } = await this.#markets.feeds(settings, from, to, []);
    const { instrument, data } = feeds[0]!;
    const equity = new Float64Array(data.series.length).fill(settings.cash);
    const trades: Trade[] = [];
    let [offset, carried] = [0, settings.cash];
    for (const { result, feeds: parts } of pieces) {
      const { series } = parts[0]!.data;
      // Case: a window without a chosen setting lies between.
      while (offset < equity.length && data.series.time[offset]! < series.time[0]!) equity[offset++] = carried;
      for (let i = 0; i < result.equity.length; i++) equity[offset + i] = carried + result.equity[i]! - settings.cash;
      for (const trade of result.trades) {
        const rails = trade.rails.map((rail) => ({ ...rail, barIndex: rail.barIndex + offset }));
        trades.push({ ...trade, id: trades.length + 1, entryBar: trade.entryBar + offset, exitBar: trade.exitBar + offset, rails });
      }
      offset += series.length;
      carried += (result.equity.at(-1) ?? settings.cash) - settings.cash;
    }
    equity.fill(carried, offset);
    const engine = engineSettings(settings, instrument);
    const result = assembleResult({
      ...{ status: "complete", failure: null, bars: data.series, barsDone: data.series.length, firstBar: 0 },
      ...{ instrument, instruments: pieces[0]!.feeds.map((feed) => feed.instrument), settings: engine, equity, trades },
      ...{ orders: [], fills: [], log: [], notes: [], ownFigures: [], droppedLogLines: 0, counts: null, plots: [] },
    });
    const { orders, fills, equity: _equity, daily, plots: _plots, ...rest } = result;
    const evidence: RunEvidence = {
      ...rest,
      ...{ id: randomUUID().slice(0, 13), planId: detail.planId, kept: null, title: detail.planTitle, source: detail.source },
      ...{ inputs: detail.request.inputs, inputSpecs: detail.inputSpecs, settings: { ...settings, from, to }, slips: [] },
      fingerprint: hashText(`${detail.id} ${detail.source}`).slice(0, 16),
      resultHash: resultHashOf(result),
      dataHash: hash,
      createdMs: Date.now(),
      elapsedMs: 0,
      bars: data.series.length,
      firstMs: data.series.time[0]!,
      lastMs: data.series.closeTime[data.series.length - 1]!,
      plots: [],
      daily: { dates: daily.dates, equity: Array.from(daily.equity) },
      walkForwardId: detail.id,
    };
    await this.#runs.adopt(evidence, { orders, fills }, equity, `Walk-forward of ${detail.planTitle}`, ["walk-forward"]);
    return evidence.id;
  }
}

/** The variant with the highest aim among those with enough trades; -1 where there is none. */
function bestOf({ figures, rowWidth }: SweepJob, { aim, leastTrades }: Pick<WalkForwardRequest, "aim" | "leastTrades">): number {
  let [best, value] = [-1, Number.NEGATIVE_INFINITY];
  for (let variant = 0; variant * rowWidth < figures.length; variant++) {
    const row = variant * rowWidth;
    if (!(figures[row + at("trades")]! >= Math.max(1, leastTrades))) continue;
    const now = figures[row + at(aim)]!;
    if (now > value) [best, value] = [variant, now];
  }
  return best;
}

function ratioOf(
  out: number | null | undefined,
  outSessions: number,
  inside: number | null | undefined,
  inSessions: number,
): number | null {
  if (out === null || out === undefined || inside === null || inside === undefined || !(inside > 0)) return null;
  return out / outSessions / (inside / inSessions);
}

function efficiencyOf(windows: readonly WalkForwardWindow[]): number | null {
  const net = (figures: readonly (number | null)[]): number => figures[at("netProfit")] ?? 0;
  const sum = (of: (window: WalkForwardWindow) => number): number => windows.reduce((total, window) => total + of(window), 0);
  const walked = windows.filter(({ inputs }) => inputs !== null);
  if (walked.length === 0) return null;
  return ratioOf(
    walked.reduce((total, { outFigures }) => total + net(outFigures), 0),
    sum(({ outOfSample }) => outOfSample.sessions),
    walked.reduce((total, { inFigures }) => total + net(inFigures), 0),
    sum(({ inSample }) => inSample.sessions),
  );
}
