/** Instruments put out of the way, and made once more under another symbol. */
import { type Instrument, PlanTesterError } from "@plan-tester/core";
import { In } from "typeorm";
import type { Database } from "../../db/database.ts";
import { InstrumentEntity, RepairEntity } from "../../db/entities.ts";
import type { BarRepository } from "./bar-repository.ts";
import type { MarketService } from "./market-service.ts";
import type { RepairService } from "./repair-service.ts";

export class MarketShelf {
  readonly #database: Database;
  readonly #bars: BarRepository;
  readonly #markets: MarketService;
  readonly #repairs: RepairService;

  constructor(database: Database, bars: BarRepository, markets: MarketService, repairs: RepairService) {
    this.#database = database;
    this.#bars = bars;
    this.#markets = markets;
    this.#repairs = repairs;
  }

  /** @throws PlanTesterError not-found where one of them is not there: nothing has changed then */
  async archive(symbols: readonly string[], isArchived: boolean): Promise<void> {
    await this.#database.write(async (manager) => {
      const archivedMs = isArchived ? Date.now() : 0;
      const { affected } = await manager.update(InstrumentEntity, { symbol: In([...symbols]), deletedMs: 0 }, { archivedMs });
      if (affected !== symbols.length)
        throw new PlanTesterError("not-found", "One of these instruments is not there any more.", { symbols });
    });
  }

  /**
   * The same facts, bars and repairs under another symbol.
   * @throws PlanTesterError not-found; conflict where the symbol is taken, also by what waits in the bin: nothing has changed then
   */
  async copy(symbol: string, next: string): Promise<void> {
    const facts: Instrument = await this.#markets.instrument(symbol);
    const set = await this.#bars.setOf(symbol);
    if (!set) throw new PlanTesterError("not-found", `${symbol} has no bars.`, { symbol });
    // Without bars it is listed nowhere; one that is cut off is gone at the next start.
    await this.#database.write(async (manager) => {
      const taken = await manager.findOneBy(InstrumentEntity, { symbol: next });
      if (taken)
        throw new PlanTesterError(
          "conflict",
          `There is an instrument ${next} already${taken.deletedMs > 0 ? ", in the bin" : ""}. Give the copy another symbol.`,
          { symbol: next },
        );
      await manager.insert(InstrumentEntity, {
        ...{ symbol: next, facts: { ...facts, symbol: next }, origin: "import" as const },
        ...{ createdMs: Date.now(), deletedMs: 0, archivedMs: 0 },
      });
    });
    try {
      const repairs = await this.#database.read.findBy(RepairEntity, { symbol, undoneMs: 0 });
      const columns = await this.#bars.columns(set);
      await this.#bars.replace(next, set.timeframe, columns, async (manager) => {
        for (const { id: _id, ...repair } of repairs) await manager.insert(RepairEntity, { ...repair, symbol: next });
      });
    } catch (error) {
      await this.#bars.removeInstrument(next);
      throw error;
    }
    await this.#repairs.settle(next);
  }
}
