/** Runs and sweeps inside the plan process. Long work is cut into steps so that progress goes out and a stop comes in. */
import {
  advanceInSteps,
  altered,
  Backtest,
  type BarSeries,
  type ColumnExchange,
  cutsFor,
  type FinerBars,
  type LookAheadReport,
  lookAheadComparisons,
  type MatchedTrade,
  MIN_CUTS,
  type PlanFailure,
  PlanTesterError,
  periodOf,
  type RunFeed,
  type RunResult,
  resolveInputs,
  runVariant,
  StudyStore,
  SWEEP_FIGURES,
  shareTimes,
  sliceSeries,
  specsOf,
  surrogateBars,
  Trace,
  type Trade,
} from "@plan-tester/core";
import { assembled } from "../assemble.ts";
import { compilePlan } from "../compile.ts";
import { heldBarsOf, memoryWords } from "../memory.ts";
import { splitModules } from "../modules.ts";
import type {
  AssembleMessage,
  DataMessage,
  FeedKey,
  FromChild,
  HoldingsMessage,
  LookAheadMessage,
  PlanDescription,
  RuleChange,
  RunMessage,
  Send,
  SurrogateMessage,
  SweepMessage,
  TraceMessage,
} from "../protocol.ts";
import { report, tradesText } from "./report.ts";
import { currentLine, failureOf as failureIn, guard, type Listener, type LoadedPlan, listenTo, loadPlan, startCounts } from "./sandbox.ts";

interface KeptData {
  readonly store: StudyStore;
  readonly finer: FinerBars | null;
  readonly lead: number;
  readonly period: BarSeries;
}

const data = new Map<string, KeptData>();

/** How often work that takes long says that it is alive, milliseconds. */
const SIGN_OF_LIFE_MS = 1000;

/** Called while studies are computed, which are no steps of the plan's own: a run may declare many on many bars. */
let signOfLife = (): void => undefined;

/** Lets the server hear, now and then, that work goes on which tells nothing else. */
export function signsOfLife(id: number, send: Send): () => void {
  let told = performance.now();
  return () => {
    guard.restart();
    if (performance.now() - told < SIGN_OF_LIFE_MS) return;
    told = performance.now();
    sendProgress(id, 0, 0, send);
  };
}

export function beAlive(id: number, send: Send): void {
  signOfLife = signsOfLife(id, send);
}

/** @param exchange where columns on these bars are shared with other threads. */
export function keepData({ key, series, finer, lead }: Omit<DataMessage, "type">, exchange: ColumnExchange | null): void {
  const known = Array.from(data.values(), ({ store }) => store.bars);
  const store = new StudyStore(shareTimes(series, known), exchange, () => signOfLife());
  const period = lead > 0 ? sliceSeries(store.bars, lead, store.bars.length) : store.bars;
  data.set(key, { store, finer, lead, period });
}

/** A market without memory made of bars that are kept. */
export function keepSurrogate({ key, of, tickSize, seed }: SurrogateMessage, exchange: ColumnExchange | null): void {
  const { store, lead } = dataOf(of);
  keepData({ key, series: { ...store.bars, ...surrogateBars(store.bars, tickSize, seed) }, lead, finer: null }, exchange);
}

export function forgetData(key: string): void {
  data.delete(key);
  equityBuffers.delete(key);
}

function dataOf(key: string): KeptData {
  const found = data.get(key);
  if (!found) throw new PlanTesterError("not-found", `The plan process holds no bars "${key}".`, { key });
  found.store.trim();
  return found;
}

/** As the sandbox tells it; where memory has run out, with what took it. */
export function failureOf(...[error, ...place]: Parameters<typeof failureIn>): PlanFailure {
  const failure = failureIn(error, ...place);
  if (!isAllocationFailure(error)) return failure;
  return {
    ...failure,
    message: `The plan was stopped: ${memoryWords(Array.from(data.values(), ({ store }) => heldBarsOf(store.bars, store.bytes)))}.`,
  };
}

export const loaded = ({ instrument, dataKey }: FeedKey): RunFeed => ({ instrument, ...dataOf(dataKey) });

const stopped = new Set<number>();

export function stop(id: number): void {
  stopped.add(id);
}

/** Whether a task was told to stop, asked once. */
export const takeStop = (id: number): boolean => stopped.delete(id);

/** What a plan's text, or that of a module, declares; a mistake on the way is told with its line. */
export function describe(id: number, source: string, send: Send): void {
  let plan: LoadedPlan | null = null;
  try {
    const { plan: text, modules } = splitModules(source);
    const [[name, module] = [null, ""]] = modules;
    if (name !== null && text.trim() === "") {
      compilePlan(module, { role: "module" });
      return void send({ type: "described", id, description: { title: name, inputs: [] } });
    }
    plan = loadPlan(source);
    const declared = plan.instantiate();
    void send({ type: "described", id, description: { title: declared.title, inputs: specsOf(declared.inputs) } });
  } catch (error) {
    sendError(error, plan, id, send);
  }
}

/** Lets waiting messages in: a stop above all. */
export const breathe = (): Promise<void> => new Promise((resolve) => setImmediate(resolve));

const FIRST_STEP = 256;
const LEAST_STEP = 16;
const STEP_MS = 60;

/** Bars of the next step, after one that took so many milliseconds. What follows may cost more: it grows by degrees. */
export const nextStep = (step: number, tookMs: number): number =>
  Math.max(LEAST_STEP, Math.min(200_000, 16 * step, Math.round((step * STEP_MS) / Math.max(tookMs, 1))));

export async function run(message: RunMessage, send: Send): Promise<void> {
  const started = performance.now();
  const feeds = message.feeds.map(loaded);
  const period = periodOf(feeds[0]!);
  let plan: LoadedPlan | null = null;
  let backtest: Backtest | null = null;
  let description: PlanDescription = { title: "", inputs: [] };
  let inputs = message.inputs;
  const tell = (done: number, total: number, trades: Uint8Array, values: Float64Array): Promise<void> =>
    send({ type: "progress", id: message.id, done, total, trades, equity: values });
  const finish = async (result: RunResult): Promise<void> => {
    const told = { id: message.id, description, inputs };
    if (message.answer !== "result") {
      const { figures, benchmarkFigures } = result;
      // Long parts take as long again: who waits for the figures has them first.
      if (message.answer === "report") await send({ type: "figures", id: message.id, figures: { figures, benchmarkFigures } });
      const head = await report(message.id, message.source, result, message.answer === "report" ? send : null);
      void send({ type: "report", ...told, head, elapsedMs: performance.now() - started });
    } else void send({ type: "result", ...told, result: cloneable(result), elapsedMs: performance.now() - started });
  };
  try {
    plan = loadPlan(message.source);
    beAlive(message.id, send);
    const declared = plan.instantiate();
    description = { title: declared.title, inputs: specsOf(declared.inputs) };
    inputs = resolveInputs(description.inputs, message.inputs);
    guard.restart();
    const { instantiate } = plan;
    backtest = new Backtest({
      plan: declared,
      freshPlan: instantiate,
      inputs,
      feeds,
      settings: message.settings,
      sourceLine: currentLine,
      equity: equityBuffer(message.feeds[0]!.dataKey, period.length),
    });
    const total = period.length;
    let step = FIRST_STEP;
    let [sentTrades, sentEquity] = [0, 0];
    while (backtest.barsDone < total && !backtest.isOver) {
      const before = performance.now();
      guard.restart();
      backtest.advance(backtest.barsDone + step);
      const took = performance.now() - before;
      step = nextStep(step, took);
      if (performance.now() - started < 2 * STEP_MS) continue;
      const { trades } = backtest.host;
      // Gone out before the run goes on: a queue that grows would hold its progress back to the end.
      await tell(backtest.barsDone, total, tradesText(trades.slice(sentTrades)), backtest.equity.slice(sentEquity, backtest.barsDone));
      [sentTrades, sentEquity] = [trades.length, backtest.barsDone];
      await breathe();
      if (stopped.delete(message.id)) return await finish(backtest.result("partial"));
    }
    await finish(backtest.result());
  } catch (error) {
    if (error instanceof PlanTesterError && error.code !== "plan-error" && !backtest) return sendError(error, plan, message.id, send);
    const at = backtest ? Math.min(backtest.barNow, period.length - 1) : null;
    const failure = failureOf(error, plan, at, at === null ? null : period.time[at]!);
    if (backtest) await finish(backtest.result("failed", failure));
    else void send({ type: "error", id: message.id, code: "plan-error", message: failure.message, failure });
  }
}

/** Reports a run that is put together from its trades and its equity. */
export async function assemble({ id, source, feeds: keys, ...told }: AssembleMessage, send: Send): Promise<void> {
  const started = performance.now();
  const feeds = keys.map(loaded).map((feed) => ({ instrument: feed.instrument, series: periodOf(feed) }));
  const head = await report(id, source, assembled({ ...told, feeds }), send);
  void send({ type: "report", id, description: { title: "", inputs: [] }, inputs: {}, head, elapsedMs: performance.now() - started });
}

export function sendError(error: unknown, plan: LoadedPlan | null, id: number, send: Send): void {
  const failure = failureOf(error, plan, null, null);
  void send({ type: "error", id, code: error instanceof PlanTesterError ? error.code : "plan-error", message: failure.message, failure });
}

/** Memory outside the heap has run out, for which another thread of the process may be to blame. */
export const isAllocationFailure = (error: unknown): boolean => error instanceof RangeError && /allocation failed/i.test(error.message);

/**
 * Figures of each variant on each stretch: row = variant, then stretch, then figure.
 * @throws RangeError when memory that is shared with other threads has run out.
 */
export function sweep(
  message: SweepMessage,
  sharesMemory: boolean,
  send: Send,
): Omit<Extract<FromChild, { type: "swept" }>, "memoryBytes"> {
  const width = SWEEP_FIGURES.length;
  const figures = new Float64Array(message.variants.length * message.stretches.length * width).fill(Number.NaN);
  const failures: { variant: number; message: string }[] = [];
  let daily: Float32Array | null = null;
  const rows = new Map(message.dailyOf.map((variant, row) => [variant, row]));
  const plan = loadPlan(message.source, message.changes ? "names" : "none");
  const specs = specsOf(plan.instantiate().inputs);
  const trades: (readonly MatchedTrade[])[] = message.tradesOf.map(() => []);
  const stretches = message.stretches.map((keys) => {
    const feeds = keys.map(loaded);
    // Several instruments draw one curve; a single one keeps sums only.
    return { feeds, equity: keys.length > 1 ? equityBuffer(keys[0]!.dataKey, periodOf(feeds[0]!).length) : undefined };
  });
  beAlive(message.id, send);
  const pace = pacer(message.id, send);
  message.variants.forEach((given, variant) => {
    const change = message.changes?.[variant];
    if (change) listenTo(changing(plan, change));
    try {
      const inputs = resolveInputs(specs, given);
      const kit = message.kits?.[variant];
      const settings = kit === undefined ? message.settings : { ...message.settings, kit };
      stretches.forEach(({ feeds, equity }, stretch) => {
        pace.begin();
        const at = (variant * stretches.length + stretch) * width;
        const tradesRow = stretch === 0 ? message.tradesOf.indexOf(variant) : -1;
        const returns = runVariant(
          { plan: plan.instantiate(), freshPlan: plan.instantiate, inputs, feeds, settings, equity },
          figures,
          at,
          pace.next,
          tradesRow < 0 ? null : (made) => (trades[tradesRow] = made.map(briefly)),
        );
        const row = stretch === 0 ? rows.get(variant) : undefined;
        if (row !== undefined) {
          daily ??= new Float32Array(rows.size * returns.length);
          daily.set(returns, row * returns.length);
        }
      });
    } catch (error) {
      if (sharesMemory && isAllocationFailure(error)) throw error;
      const failure = failureOf(error, plan, null, null);
      failures.push({ variant, message: failure.line === null ? failure.message : `line ${failure.line}: ${failure.message}` });
    } finally {
      listenTo(null);
    }
  });
  return { type: "swept", id: message.id, figures, failures, daily, trades };
}

/** What two runs are compared by: much less to hand over than whole trades. */
const briefly = ({ symbol, side, entryTime, entryTag, exitTime, reason, net }: Trade): MatchedTrade => ({
  ...{ symbol, side, entryTime, entryTag },
  ...{ exitTime, reason, net },
});

/** Puts other conditions in the place of those that a plan names. */
function changing({ places }: LoadedPlan, { names, alteration }: RuleChange): Listener {
  const changed = new Set(names);
  return {
    see: (name, value) => (changed.has(places.names[name]!.name) ? altered(value, alteration) : value),
    test: (_test, value) => value,
  };
}

/** Lets variants go on in steps, as runs do: the loop guard begins again with each, and the server hears that they go on. */
function pacer(id: number, send: Send) {
  let step = 0;
  let began = 0;
  let told = performance.now();
  const start = (now: number): void => {
    began = now;
    guard.restart();
  };
  return {
    begin(): void {
      step = 0;
      start(performance.now());
    },
    next(): number {
      const now = performance.now();
      step = step === 0 ? FIRST_STEP : nextStep(step, now - began);
      start(now);
      if (now - told > SIGN_OF_LIFE_MS) {
        told = now;
        sendProgress(id, 0, 0, send);
      }
      return step;
    },
  };
}

/** For how long comparisons may go on; the least number of them is made whatever it takes. */
const LOOK_AHEAD_MS = 5_000;

/** Compares the plan with itself on bars that have another future, at as many places as there is time for. A stop keeps what is done. */
export async function lookAhead(message: LookAheadMessage, send: Send): Promise<void> {
  const feeds = message.feeds.map(loaded);
  const bars = periodOf(feeds[0]!);
  const plan = loadPlan(message.source);
  const inputs = resolveInputs(specsOf(plan.instantiate().inputs), message.inputs);
  /** Lets the loop guard begin again, and the server hear that it goes on. */
  let told = performance.now();
  const pace = (): void => {
    guard.restart();
    if (performance.now() - told < SIGN_OF_LIFE_MS) return;
    told = performance.now();
    sendProgress(message.id, 0, 0, send);
  };
  const makePlan = () => {
    guard.restart();
    return plan.instantiate();
  };
  const options = { inputs, feeds, settings: message.settings, sourceLine: currentLine };
  beAlive(message.id, send);
  // Once to its end, to know where orders are sent.
  const whole = new Backtest({ ...options, plan: makePlan(), freshPlan: makePlan });
  try {
    advanceInSteps(whole, whole.lead + bars.length, pace);
  } catch {
    // What it did until then is compared like any other run.
  }
  let isStopped = false;
  const compare = async (most: number, seed: number, before: readonly number[]): Promise<LookAheadReport> => {
    const known = new Set(before);
    const cuts = cutsFor(bars.time, whole.host.orders, most, seed).filter((cut) => !known.has(cut));
    const wanted = before.length + cuts.length;
    const comparisons = lookAheadComparisons({ ...options, makePlan, cuts, onStep: pace });
    let breathed = performance.now();
    for (;;) {
      const { done, value } = comparisons.next();
      if (done) return { ...value, cuts: [...before, ...value.cuts], wanted };
      sendProgress(message.id, before.length + value, wanted, send);
      if (performance.now() - breathed < STEP_MS) continue;
      await breathe();
      breathed = performance.now();
      isStopped = stopped.delete(message.id);
      if (isStopped) return { cuts: [...before, ...cuts.slice(0, value)], wanted, difference: null };
    }
  };
  const { seed } = message.settings;
  const began = performance.now();
  let report = await compare(MIN_CUTS, seed, []);
  // What a comparison costs is known now: as many more as there is time for.
  const tookMs = performance.now() - began;
  const more = Math.floor((LOOK_AHEAD_MS - tookMs) / (tookMs / Math.max(1, report.cuts.length)));
  if (!isStopped && !report.difference && report.cuts.length === MIN_CUTS && more > 0) report = await compare(more, seed + 1, report.cuts);
  void send({ type: "looked", id: message.id, report });
}

/** How far a run has come that tells nothing else on the way. */
export function sendProgress(id: number, done: number, total: number, send: Send): void {
  void send({ type: "progress", id, done, total, trades: new Uint8Array(0), equity: new Float64Array(0) });
}

/** A plan whose names and tests report to a trace, from now on and until `listenTo(null)`. */
function traced(source: string) {
  const plan = loadPlan(source, "all");
  const { names, tests, statements } = plan.places;
  const counts = startCounts(statements.length);
  const trace = new Trace(
    names.map(({ line }) => line),
    tests.map(({ line }) => line),
  );
  listenTo(trace);
  return { plan, trace, counts };
}

/** Without fresh instances for its own studies, whose build() would be counted with the run's. */
function tracedOptions(plan: LoadedPlan, { feeds, inputs, settings }: Pick<RunMessage, "feeds" | "inputs" | "settings">) {
  const declared = plan.instantiate();
  return {
    plan: declared,
    inputs: resolveInputs(specsOf(declared.inputs), inputs),
    feeds: feeds.map(loaded),
    settings,
    sourceLine: currentLine,
  };
}

/** Looks into a run, in a pass of its own. A plan that throws is looked into up to there. */
export function traceRun(message: TraceMessage, send: Send): void {
  const total = periodOf(loaded(message.feeds[0]!)).length;
  const { plan, trace, counts } = traced(message.source);
  try {
    trace.run(tracedOptions(plan, message), message.stretch, (done) => {
      guard.restart();
      sendProgress(message.id, done, total, send);
    });
  } catch {
    // What it says of the error is the run's own business; the trace shows how far it came.
  } finally {
    listenTo(null);
  }
  const findings = {
    places: plan.places,
    counts: Array.from(counts),
    strips: message.stretch ? [] : trace.strips(),
    steps: trace.steps(),
  };
  void send({ type: "traced", id: message.id, findings });
}

/** Builds the plan and tells what its named conditions are. A plan that can't be built fails as a run of it would. */
export function holdings(message: HoldingsMessage, send: Send): void {
  const { plan, trace } = traced(message.source);
  beAlive(message.id, send);
  try {
    const options = tracedOptions(plan, message);
    const held = trace.holdings(options, message.parts).map(({ name, ...rest }) => {
      const { name: text, line } = plan.places.names[name]!;
      return { ...rest, text, line };
    });
    void send({ type: "held", id: message.id, bars: periodOf(options.feeds[0]!).length, holdings: held });
  } catch (error) {
    sendError(error, plan, message.id, send);
  } finally {
    listenTo(null);
  }
}

const equityBuffers = new Map<string, Float64Array>();

function equityBuffer(key: string, length: number): Float64Array {
  const known = equityBuffers.get(key);
  if (known?.length === length) return known;
  const made = new Float64Array(length);
  equityBuffers.set(key, made);
  return made;
}

/** Orders are live objects of the run; what crosses the process border is plain data. */
function cloneable(result: RunResult): RunResult {
  return { ...result, orders: result.orders.map((order) => ({ ...order })) };
}
