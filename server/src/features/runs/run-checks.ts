/** Puts a run in doubt: does it come out again, and does it know only what it could? */
import type { LineEvidence, LookAheadAnswer, VerifyAnswer } from "@plan-tester/contract";
import { checkPlanLookAhead, countPlanLines, instrumentsOf, type ProcessPool, resultHashOf, runPlan } from "@plan-tester/runner";
import type { EventStream } from "../../http/events.ts";
import type { MarketService } from "../markets/market-service.ts";
import type { WholeRun } from "./run-repository.ts";
import { fingerprintOfRun } from "./run-service.ts";
import { engineSettings } from "./run-settings.ts";

const KEPT_COUNTS = 50;

export class RunChecks {
  readonly #markets: MarketService;
  readonly #pool: ProcessPool;
  readonly #events: EventStream;

  readonly #lines = new Map<string, LineEvidence>();

  constructor(markets: MarketService, pool: ProcessPool, events: EventStream) {
    this.#markets = markets;
    this.#pool = pool;
    this.#events = events;
  }

  async #requestOf({ evidence }: WholeRun) {
    const { source, inputs, settings } = evidence;
    const further = await this.#pool.use((process) => instrumentsOf(process, source, inputs));
    const { feeds, hash } = await this.#markets.feeds(settings, settings.from, settings.to, further);
    return { request: { source, inputs, settings: engineSettings(settings, feeds[0]!.instrument), feeds }, hash };
  }

  /** Runs again with what made it and compares, to the last bit. */
  async verify(run: WholeRun): Promise<VerifyAnswer> {
    const { evidence } = run;
    const { request, hash } = await this.#requestOf(run);
    if (hash !== evidence.dataHash) return { same: false, text: "The bars have changed since: this run can't come out again on them." };
    const { inputs, result } = await this.#pool.use((process) => runPlan(process, request));
    if (fingerprintOfRun({ ...request, inputs }, evidence.settings, hash) !== evidence.fingerprint)
      return { same: false, text: "The instrument's facts or costs have changed since this run." };
    if (evidence.resultHash === "")
      return {
        same: false,
        text: "This run was made before results were hashed: there is nothing to compare with. Run it once more and keep that.",
      };
    const again = resultHashOf(result);
    return again === evidence.resultHash
      ? { same: true, text: `Run again: every fill, trade and equity value is the same (${again}).` }
      : {
          same: false,
          text: `Run again, the result differs: ${again} instead of ${evidence.resultHash}. That is a defect of this program.`,
        };
  }

  /** How often each line of the plan ran: counted in a pass of its own, once for each fingerprint. */
  async lines(run: WholeRun): Promise<LineEvidence> {
    const { fingerprint } = run.evidence;
    const known = this.#lines.get(fingerprint);
    if (known) return known;
    const { request } = await this.#requestOf(run);
    const counted = await this.#pool.use((process) => countPlanLines(process, request));
    this.#lines.set(fingerprint, counted);
    if (this.#lines.size > KEPT_COUNTS) this.#lines.delete(this.#lines.keys().next().value!);
    return counted;
  }

  /** Runs on the first bars alone, at several places, and compares (R7.1). */
  async lookAhead(run: WholeRun): Promise<LookAheadAnswer> {
    const { id } = run.evidence;
    const { request } = await this.#requestOf(run);
    return this.#pool.use((process) =>
      checkPlanLookAhead(process, request, (done, total) => this.#events.send({ type: "run-progress", id, done, total })),
    );
  }
}
