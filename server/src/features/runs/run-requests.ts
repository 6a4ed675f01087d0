/** What a plan process is asked with to do again what a run did. */
import { type ConditionsRequest, engineSettings, type RunHead } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import { instrumentsOf, type ProcessPool } from "@plan-tester/runner";
import type { MarketService } from "../markets/market-service.ts";

export class RunRequests {
  readonly #markets: MarketService;
  readonly #pool: ProcessPool;

  constructor(markets: MarketService, pool: ProcessPool) {
    this.#markets = markets;
    this.#pool = pool;
  }

  /** @throws PlanTesterError conflict for a run that no single program run made. */
  async of(evidence: RunHead) {
    if (evidence.walkForwardId)
      throw new PlanTesterError(
        "conflict",
        "This run is stitched from the windows of a walk-forward: there is no single run of the plan to look into. Run the plan with the inputs of one window instead.",
      );
    const { source, inputs, settings, watched, createdMs } = evidence;
    if (watched && !watched.isBacktest)
      throw new PlanTesterError(
        "conflict",
        "This is what a watch did: there is no single run of the plan to look into. Open the backtest of the same bars, which was kept with it.",
      );
    return this.for({ source, inputs, settings }, watched ?? settings, null, createdMs);
  }

  /**
   * What a plan process is asked with, and the hash of its bars.
   * @param surrogate seed of markets without memory
   * @param atMs with the facts that the instruments had then
   */
  async for(
    { source, inputs, settings }: ConditionsRequest,
    period: Parameters<MarketService["feeds"]>[1],
    surrogate: number | null = null,
    atMs?: number,
  ) {
    const further = await this.#pool.use((process) => instrumentsOf(process, source, inputs));
    const { feeds, hash } = await this.#markets.feeds(settings, period, further, surrogate, atMs);
    const instruments = feeds.map(({ instrument }) => instrument);
    return { request: { source, inputs, settings: engineSettings(settings, instruments), feeds }, hash };
  }
}
