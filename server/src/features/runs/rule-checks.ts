/**
 * What each rule of a run's plan earns: the plan without each of them in turn, and with placebos in its place, on the same
 * period, kit and bars, over all cores.
 */
import type { RuleAnswer, RuleFigures, RulesAnswer, RunHead } from "@plan-tester/contract";
import { mean, PlanTesterError, Random, SWEEP_FIGURES, type SweepFigure, sessionsPerYearOf } from "@plan-tester/core";
import { holdingsOfPlan, type PlanRule, type ProcessPool, type RuleChange, type RunRequest } from "@plan-tester/runner";
import type { Background } from "../../background.ts";
import type { EventStream } from "../../http/events.ts";
import type { WorkThread } from "../../work/work-thread.ts";
import type { Journal } from "../journal/journal.ts";
import { ChangedRuns, type MadeRun } from "./changed-runs.ts";
import type { RunRequests } from "./run-requests.ts";

const MOST_RULES = 60;
const TELL_EVERY_MS = 200;

export interface RuleCheckParts {
  readonly requests: RunRequests;
  /** For what one waits for; the other runs variants over all cores. */
  readonly interactive: ProcessPool;
  readonly pool: ProcessPool;
  readonly thread: WorkThread;
  readonly events: EventStream;
  readonly journal: Journal;
  readonly background: Background;
}

export class RuleChecks {
  readonly #parts: RuleCheckParts;
  /** Under way, by run. */
  readonly #checking = new Map<string, ChangedRuns>();

  constructor(parts: RuleCheckParts) {
    this.#parts = parts;
  }

  /** @throws PlanTesterError conflict while the same run is being checked, or for a plan that names no condition */
  async check(run: RunHead, placebos: number): Promise<RulesAnswer> {
    const { id } = run;
    if (this.#checking.has(id)) throw new PlanTesterError("conflict", "The rules of this run are being looked at already.", { id });
    const { pool, events } = this.#parts;
    const runs = new ChangedRuns(pool);
    this.#checking.set(id, runs);
    try {
      const { request } = await this.#parts.requests.of(run);
      const rules = await this.#rulesOf(request);
      let toldMs = 0;
      runs.onProgress = (done, total) => {
        if (done < total && performance.now() - toldMs < TELL_EVERY_MS) return;
        toldMs = performance.now();
        events.send({ type: "rules-progress", id, done, total });
      };
      const looked = rules.slice(0, MOST_RULES);
      const answer = { ...(await this.#earnings(request, looked, placebos, runs)), left: rules.length - looked.length };
      const note = (): Promise<void> => this.#parts.journal.weighed(run, linesOf(answer));
      await note().catch(() => void this.#parts.background.insist("what rules earn was not noted in the journal", { run: id }, note));
      // Whoever shows the journal reads it again.
      events.send({ type: "rules-noted", id });
      return answer;
    } finally {
      this.#checking.delete(id);
    }
  }

  /** @throws PlanTesterError not-found when the rules of the run are not being looked at */
  stop(id: string): void {
    const runs = this.#checking.get(id);
    if (!runs) throw new PlanTesterError("not-found", "No look at that run's rules is running: it may just have ended.", { id });
    runs.stop();
  }

  async #rulesOf(request: RunRequest): Promise<readonly PlanRule[]> {
    const { thread, interactive } = this.#parts;
    const { holdings: held } = await interactive.use((process) => holdingsOfPlan(process, request, 1));
    const conditions = new Set(held.map(({ text }) => text));
    const rules = (await thread.rulesOf(request.source)).filter(({ names }) => names.every((name) => conditions.has(name)));
    if (rules.length === 0)
      throw new PlanTesterError(
        "conflict",
        "This plan names no condition, and waits for none. Give each rule a name in build(), such as const trend = isAbove(bars.close, ema(bars.close, 50)), run it, and ask again.",
        {},
      );
    return rules;
  }

  async #earnings(
    request: RunRequest,
    rules: readonly PlanRule[],
    placebos: number,
    runs: ChangedRuns,
  ): Promise<Omit<RulesAnswer, "left">> {
    const random = new Random(request.settings.seed);
    // One from each of as many equal parts, so that they are spread over all distances.
    const shares = rules.map(() => shuffled(placebos, random).map((part) => (part + random.next()) / placebos));
    const without = rules.map(({ names, without: as }): RuleChange => ({ names, alteration: { as } }));
    const asPlacebo = Array.from({ length: placebos }, (_none, k) =>
      rules.map(({ names }, r): RuleChange => ({ names, alteration: { as: "earlier", share: shares[r]![k]! } })),
    ).flat();
    const made = await runs.run(request, [null, ...without], asPlacebo);
    const [whole, ...others] = made.whole;
    if (!whole || whole.failure)
      throw new PlanTesterError("conflict", whole?.failure || "It was stopped before the plan had been run once.", {});
    const [{ instrument, data }] = request.feeds as [RunRequest["feeds"][number]];
    const known = rules.flatMap((rule, r) => {
      const other = others[r];
      return other && !other.failure ? [{ rule, r, without: other }] : [];
    });
    const earnings = await this.#parts.thread.earnings({
      withIt: whole,
      rules: known.map(({ r, without }) => ({
        without,
        placebos: made.lean.flatMap((one, k) => (one && !one.failure && k % rules.length === r ? [mean(one.daily) ?? 0] : [])),
      })),
      sessionsPerYear: sessionsPerYearOf(data.series, instrument.calendar),
      seed: request.settings.seed,
    });
    return {
      rules: known.map(
        ({ rule: { name: _first, ...rule }, without }, k): RuleAnswer => ({ ...rule, ...earnings[k]!, figures: figuresOf(without) }),
      ),
      failed: rules.flatMap(({ label, line }, r) => (others[r]?.failure ? [{ label, line, message: others[r].failure }] : [])),
      figures: figuresOf(whole),
      placebos,
      isStopped: runs.isStopped,
    };
  }
}

function shuffled(count: number, random: Random): Float64Array {
  const order = Float64Array.from({ length: count }, (_none, k) => k);
  random.shuffle(order);
  return order;
}

function figuresOf({ figures }: MadeRun): RuleFigures {
  const at = (figure: SweepFigure): number => figures[SWEEP_FIGURES.indexOf(figure)]!;
  const averageTrade = at("averageTrade");
  return {
    netProfit: at("netProfit"),
    maxDrawdown: at("maxDrawdown"),
    trades: Number.isNaN(at("trades")) ? 0 : at("trades"),
    averageTrade: Number.isNaN(averageTrade) ? null : averageTrade,
  };
}

const signed = (share: number): string => `${share < 0 ? "−" : "+"}${Math.abs(100 * share).toFixed(1)} %`;

/** For the journal. */
const linesOf = ({ rules, placebos, isStopped }: RulesAnswer): string[] => [
  `what each rule earns${placebos > 0 ? `, against ${placebos} placebos` : ""}${isStopped ? ", stopped early" : ""}`,
  ...rules.map(
    ({ label, earned, low, high, asGood, placebos: tried }) =>
      `${label}: ${signed(earned)} a year (${signed(low)} to ${signed(high)})${tried > 0 ? `, ${asGood} of ${tried} placebos as good` : ""}`,
  ),
];
