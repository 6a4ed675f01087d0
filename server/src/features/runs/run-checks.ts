/** Puts a run in doubt: can it be reproduced, and does it know only what it could? */
import {
  type ConditionsAnswer,
  type ConditionsRequest,
  type LineEvidence,
  type LookAheadAnswer,
  packColumns,
  type RunHead,
  type RunSteps,
  type StressAnswer,
  type VerifyAnswer,
} from "@plan-tester/contract";
import { type Costs, type InputSpec, type InputValue, type InputValues, PlanTesterError, Random, SWEEP_FIGURES } from "@plan-tester/core";
import {
  checkPlanLookAhead,
  headOfPlan,
  holdingsOfPlan,
  isCurrentHash,
  type ProcessPool,
  sweepPlan,
  type TraceFindings,
  tracePlan,
} from "@plan-tester/runner";
import type { EventStream } from "../../http/events.ts";
import type { RunRequests } from "./run-requests.ts";
import { fingerprintOfRun } from "./run-service.ts";

/** Whole passes are kept with a byte for each bar and strip; stretches are short. */
const KEPT_PASSES = 6;
const KEPT_STRETCHES = 24;
const LONGEST_STRETCH = 5000;

/** As many as a strip is wide on screen, about. */
const STRIP_PARTS = 160;

const JITTERS = 40;
const JITTER = 0.15;
const JITTER_SEED = 1;

/** Inputs with every number moved a little at random. */
function perturbedInputs(specs: readonly InputSpec[], inputs: InputValues, random: Random): Record<string, InputValue> {
  const perturbed: Record<string, InputValue> = { ...inputs };
  for (const { name, kind, min, max, step, default: usual } of specs) {
    if (kind !== "whole" && kind !== "decimal") continue;
    const value = Number(inputs[name] ?? usual);
    const least = kind === "whole" ? 1 : (step ?? Math.abs(value) * 0.01);
    const moved = value + (random.next() * 2 - 1) * Math.max(Math.abs(value) * JITTER, least);
    const placed = step || kind === "whole" ? Math.round(moved / (step ?? 1)) * (step ?? 1) : moved;
    perturbed[name] = Number(Math.max(min ?? Number.NEGATIVE_INFINITY, Math.min(max ?? Number.POSITIVE_INFINITY, placed)).toPrecision(12));
  }
  return perturbed;
}

export class RunChecks {
  readonly #requests: RunRequests;
  readonly #pool: ProcessPool;
  readonly #events: EventStream;

  readonly #passes = new Map<string, Promise<TraceFindings>>();
  readonly #stretches = new Map<string, Promise<TraceFindings>>();
  /** Look-ahead checks under way, by run. */
  readonly #looking = new Map<string, AbortController>();

  constructor(requests: RunRequests, pool: ProcessPool, events: EventStream) {
    this.#requests = requests;
    this.#pool = pool;
    this.#events = events;
  }

  /** Runs again with what made it and compares, to the last bit. */
  async verify(evidence: RunHead): Promise<VerifyAnswer> {
    if (evidence.walkForwardId)
      return { same: false, text: "This run is stitched from the windows of a walk-forward. Run the walk-forward again to compare." };
    if (evidence.watched && !evidence.watched.isBacktest)
      return {
        same: false,
        text: "This is what a watch did, which can't be done again. The view Drift of the watch compares it with its backtest.",
      };
    const { request, hash } = await this.#requests.of(evidence);
    if (hash !== evidence.dataHash) return { same: false, text: "The bars have changed since: this run can't be reproduced on them." };
    const { inputs, head } = await this.#pool.use((process) => headOfPlan(process, request));
    if (fingerprintOfRun({ ...request, inputs }, evidence.settings, hash) !== evidence.fingerprint)
      return { same: false, text: "The instrument's facts or costs have changed since this run." };
    if (!isCurrentHash(evidence.resultHash))
      return {
        same: false,
        text: "This run was made by an earlier version, which hashed results in another way: there is nothing to compare with. Run it again and keep that.",
      };
    return head.resultHash === evidence.resultHash
      ? { same: true, text: `Run again: every fill, trade and equity value is the same (${head.resultHash}).` }
      : {
          same: false,
          text: `Run again, the result differs: ${head.resultHash} instead of ${evidence.resultHash}. This is a bug in Plan Tester; please report it with the plan.`,
        };
  }

  #traced(run: RunHead, stretch: { from: number; to: number } | null): Promise<TraceFindings> {
    const { fingerprint } = run;
    const [kept, most, key] = stretch
      ? [this.#stretches, KEPT_STRETCHES, `${fingerprint}:${stretch.from}:${stretch.to}`]
      : [this.#passes, KEPT_PASSES, fingerprint];
    const known = kept.get(key);
    if (known) return known;
    const made = this.#requests.of(run).then(({ request }) => this.#pool.use((process) => tracePlan(process, request, stretch)));
    kept.set(key, made);
    made.catch(() => kept.delete(key));
    if (kept.size > most) kept.delete(kept.keys().next().value!);
    return made;
  }

  /** When the conditions that a text names hold, without a run of it. Parts of the period are told by their share. */
  async conditions(asked: ConditionsRequest): Promise<ConditionsAnswer> {
    const { request } = await this.#requests.for(asked, asked.settings);
    const { bars, holdings } = await this.#pool.use((process) => holdingsOfPlan(process, request, STRIP_PARTS));
    return { bars, conditions: holdings };
  }

  /** How often each line of the plan ran: counted in a pass of its own, once for each fingerprint. */
  async lines(run: RunHead): Promise<LineEvidence> {
    const { places, counts } = await this.#traced(run, null);
    return { statements: places.statements, counts };
  }

  /** What each named condition was on every bar, packed. */
  async strips(run: RunHead): Promise<Uint8Array> {
    const { places, strips } = await this.#traced(run, null);
    return packColumns(
      {
        strips: strips.map(({ name, kind }) => ({ text: places.names[name]!.name, line: places.names[name]!.line, kind })),
      },
      strips.map(({ values }, i) => ({ name: `strip${i}`, values })),
    );
  }

  /**
   * What happened on bars [from, to], one thing after the other.
   * @throws PlanTesterError bad-input for a stretch that is too long.
   */
  async steps(run: RunHead, from: number, to: number): Promise<RunSteps> {
    if (!(from >= 0 && to >= from && to - from < LONGEST_STRETCH))
      throw new PlanTesterError(
        "bad-input",
        `Bars ${from} to ${to} can't be stepped through: ask for at most ${LONGEST_STRETCH} bars.`,
        {},
      );
    const { places, steps } = await this.#traced(run, { from, to });
    const names = places.names.map(({ name, line }) => ({ text: name, line }));
    const tests = places.tests.map(({ text, line }) => ({ text, line }));
    if (!steps) throw new PlanTesterError("not-found", `The plan stopped before bar ${from}: there is nothing to step through.`, {});
    return { ...steps, names, tests };
  }

  /**
   * The run with its inputs perturbed and with worse fills. Every number that the plan declares is moved by up to `JITTER` of
   * itself, kept on its step and inside its bounds.
   */
  async stress(run: RunHead): Promise<StressAnswer> {
    const { inputs, inputSpecs } = run;
    const { request } = await this.#requests.of(run);
    const { source, settings, feeds } = request;
    const random = new Random(JITTER_SEED);
    const perturbed = Array.from({ length: JITTERS }, () => perturbedInputs(inputSpecs, inputs, random));
    const measure = async (variants: readonly InputValues[], ticks: number) => {
      const worse = (costs: Costs): Costs => ({ ...costs, slippageTicks: costs.slippageTicks + ticks });
      const costs = worse(settings.costs);
      const costsBySymbol = Object.fromEntries(Object.entries(settings.costsBySymbol).map(([symbol, own]) => [symbol, worse(own)]));
      const { figures } = await this.#pool.use((process) =>
        sweepPlan(process, { source, variants, stretches: [feeds], settings: { ...settings, costs, costsBySymbol } }),
      );
      const at = (row: number, figure: (typeof SWEEP_FIGURES)[number]): number =>
        figures[row * SWEEP_FIGURES.length + SWEEP_FIGURES.indexOf(figure)]!;
      return variants.map((given, row) => ({
        inputs: given,
        net: at(row, "netProfit"),
        sharpe: Number.isFinite(at(row, "sharpe")) ? at(row, "sharpe") : null,
        trades: at(row, "trades"),
      }));
    };
    const slippage: { ticks: number; net: number }[] = [];
    for (const ticks of [0, 1, 2, 3]) slippage.push({ ticks, net: (await measure([inputs], ticks))[0]!.net });
    const jitter = inputSpecs.some(({ kind }) => kind === "whole" || kind === "decimal") ? await measure(perturbed, 0) : [];
    return { jitter: jitter.filter(({ net }) => Number.isFinite(net)), reach: JITTER, seed: JITTER_SEED, slippage };
  }

  /** Compares the run with itself on bars that have another future (R7.1). */
  async lookAhead(run: RunHead): Promise<LookAheadAnswer> {
    const { id } = run;
    if (this.#looking.has(id)) throw new PlanTesterError("conflict", "This run is being checked already.", { id });
    const control = new AbortController();
    this.#looking.set(id, control);
    try {
      const { request } = await this.#requests.of(run);
      const onProgress = (done: number, total: number): void => this.#events.send({ type: "run-progress", id, done, total });
      return await this.#pool.use((process) => checkPlanLookAhead(process, request, onProgress, control.signal));
    } finally {
      this.#looking.delete(id);
    }
  }

  /** @throws PlanTesterError not-found when no check of the run is under way. */
  stopLookAhead(id: string): void {
    const control = this.#looking.get(id);
    if (!control) throw new PlanTesterError("not-found", "No look-ahead check of that run is running: it may just have ended.", { id });
    control.abort();
  }
}
