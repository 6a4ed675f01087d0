/** Whether the workspace has the demo world: made at the first start, unless an empty one is wanted; removed and made again on request. */
import { isDeepStrictEqual } from "node:util";
import type { DemoState } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import { EXAMPLES, exampleSource, INSTRUMENTS, MODULES, moduleText } from "@plan-tester/demo";
import type { Bin } from "../db/bin.ts";
import { InstrumentEntity, WorkspaceEntity } from "../db/entities.ts";
import type { MarketService } from "../features/markets/market-service.ts";
import type { WatchService } from "../features/watches/watch-service.ts";
import { FIRST_BLEND, firstRunOf, type SeedParts, seed, shippedKits } from "./seed.ts";

const NAME = "demo";

export interface DemoParts extends SeedParts {
  readonly bin: Bin;
  readonly markets: MarketService;
  /** null before the server watches. */
  readonly watches: () => WatchService | null;
}

export class DemoWorld {
  readonly #parts: DemoParts;
  #making: Promise<void> | null = null;

  constructor(parts: DemoParts) {
    this.#parts = parts;
  }

  /** What was decided; "none" in a workspace that has decided nothing yet. */
  async state(): Promise<DemoState> {
    if (this.#making) return "making";
    const { database, walks } = this.#parts;
    const row = await database.read.findOneBy(WorkspaceEntity, { name: NAME });
    if (row) return row.value as DemoState;
    // Workspaces of earlier versions wrote nothing down; the walk-forward was the last that they made.
    const hasLast = (await walks.list()).some(({ planId }) => planId === EXAMPLES[0]!.id);
    return hasLast && (await database.read.countBy(InstrumentEntity, { origin: "demo" })) === INSTRUMENTS.length ? "there" : "none";
  }

  async #note(state: DemoState): Promise<void> {
    await this.#parts.database.write((manager) => manager.upsert(WorkspaceEntity, { name: NAME, value: state }, ["name"]));
  }

  /** At the start of the server: makes what is wanted and missing. @returns whether anything was made. */
  async atStart(isWanted: boolean, say: (text: string) => void): Promise<boolean> {
    const state = await this.state();
    // What was cut off goes on; what was removed, or never wanted, stays away.
    if (state === "there" || state === "removed") return false;
    if (!isWanted && state === "none") {
      await this.#note("removed");
      return false;
    }
    await this.make(say);
    return true;
  }

  make(say: (text: string) => void): Promise<void> {
    this.#making ??= this.#make(say).finally(() => {
      this.#making = null;
    });
    return this.#making;
  }

  async #make(say: (text: string) => void): Promise<void> {
    await this.#note("making");
    await seed(this.#parts, say);
    this.#parts.markets.forget();
    await this.#note("there");
  }

  /**
   * Removes instruments, bars, and the examples and exit kits with what came with them. What was changed stays.
   * @throws PlanTesterError conflict while a watch is running or the demo is being made.
   */
  async remove(): Promise<void> {
    const { database, bin, plans, kits, blends, runs, sweeps, walks, markets, watches } = this.#parts;
    if (this.#making) throw new PlanTesterError("conflict", "The demo world is being made. Wait until it is there.", {});
    const running = ((await watches()?.list()) ?? []).filter(({ state }) => state !== "ended");
    if (running.length > 0)
      throw new PlanTesterError("conflict", `${running.length} of your watches run on it. Stop them first.`, {
        watches: running.map(({ id }) => id),
      });
    await this.#note("removed");
    const shipped = new Map([
      ...EXAMPLES.map((example) => [example.id, exampleSource(example)] as const),
      ...MODULES.map((name) => [name, moduleText(name)!] as const),
    ]);
    const unchanged = new Set<string>();
    for (const [id, source] of shipped) {
      if ((await plans.find(id))?.source !== source) continue;
      unchanged.add(id);
      await bin.remove("plan", id);
    }
    if ((await blends.list()).some(({ id, revision }) => id === FIRST_BLEND && revision === 1)) await bin.remove("blend", FIRST_BLEND);
    for (const example of EXAMPLES)
      if (unchanged.has(example.id) && (await runs.isKept(firstRunOf(example)))) await bin.remove("run", firstRunOf(example));
    for (const { id, planId } of await sweeps.list()) if (unchanged.has(planId)) await bin.remove("sweep", id);
    for (const { id, planId, runId } of await walks.list()) {
      if (!unchanged.has(planId)) continue;
      await bin.remove("walk-forward", id);
      if (runId && (await runs.isKept(runId))) await bin.remove("run", runId);
    }
    const shippedKit = new Map(shippedKits().map((kit) => [kit.name, kit]));
    for (const { id, name, description, kit } of await kits.list())
      if (isDeepStrictEqual(shippedKit.get(name), { name, description, kit })) await kits.delete(id);
    for (const { symbol } of await database.read.findBy(InstrumentEntity, { origin: "demo" })) await bin.remove("market", symbol);
    markets.forget();
  }
}
