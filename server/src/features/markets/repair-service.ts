/** Repairs of an instrument's bars: made and undone by their user. The bars that were imported stay as they are. */
import type { MadeRepair, RepairBody } from "@plan-tester/contract";
import { PlanTesterError, type Repair } from "@plan-tester/core";
import type { EntityManager } from "typeorm";
import type { Database } from "../../db/database.ts";
import { BarSetEntity, RepairEntity, type RepairRow } from "../../db/entities.ts";
import { InTurn } from "../../in-turn.ts";
import type { MarketService } from "./market-service.ts";
import { repairsAt } from "./repairs.ts";

const MOST_REPAIRS = 500;

export class RepairService {
  readonly #database: Database;
  readonly #markets: MarketService;
  readonly #turn = new InTurn();

  constructor(database: Database, markets: MarketService) {
    this.#database = database;
    this.#markets = markets;
  }

  async list(symbol: string): Promise<MadeRepair[]> {
    await this.#markets.instrument(symbol);
    const rows = await this.#database.read.find(RepairEntity, { where: { symbol }, order: { id: "ASC" } });
    return rows.map(({ symbol: _symbol, ...repair }) => repair);
  }

  /** @throws PlanTesterError not-found; bad-bars where it leaves no valid bars; limit: nothing has changed then */
  make(symbol: string, { repair, reason }: RepairBody): Promise<void> {
    return this.#turn.run(async () => {
      const rows = await this.#rows(symbol);
      const repairs = repairsAt(rows);
      if (repairs.length >= MOST_REPAIRS)
        throw new PlanTesterError("limit", `${symbol} has ${MOST_REPAIRS} repairs: import corrected bars instead, or undo some.`, {
          symbol,
        });
      await this.#put(symbol, [...repairs, repair], (manager) =>
        manager.insert(RepairEntity, { symbol, repair, reason, createdMs: Date.now(), undoneMs: 0 }),
      );
    });
  }

  /** @throws PlanTesterError not-found; bad-bars where a later one can't be without it */
  undo(symbol: string, id: number): Promise<void> {
    return this.#turn.run(async () => {
      const rows = await this.#rows(symbol);
      if (!rows.some((row) => row.id === id && row.undoneMs === 0))
        throw new PlanTesterError("not-found", `There is no such repair of ${symbol} in force.`, { symbol, id });
      const left = repairsAt(rows.filter((row) => row.id !== id));
      await this.#put(symbol, left, (manager) => manager.update(RepairEntity, { id }, { undoneMs: Date.now() }));
    });
  }

  /**
   * Other bars have come under a symbol: repairs in force lie over them now.
   * @returns how many do, and how many were undone, since they leave no valid bars of these
   */
  settle(symbol: string): Promise<{ readonly kept: number; readonly undone: number }> {
    return this.#turn.run(async () => {
      const repairs = repairsAt(await this.#rows(symbol));
      if (repairs.length === 0) return { kept: 0, undone: 0 };
      try {
        await this.#put(symbol, repairs, async () => undefined);
        return { kept: repairs.length, undone: 0 };
      } catch (error) {
        if (!(error instanceof PlanTesterError)) throw error;
        await this.#put(symbol, [], (manager) => manager.update(RepairEntity, { symbol, undoneMs: 0 }, { undoneMs: Date.now() }));
        return { kept: 0, undone: repairs.length };
      }
    });
  }

  async #rows(symbol: string): Promise<RepairRow[]> {
    await this.#markets.instrument(symbol);
    return this.#database.read.findBy(RepairEntity, { symbol });
  }

  async #put(symbol: string, repairs: readonly Repair[], write: (manager: EntityManager) => Promise<unknown>): Promise<void> {
    const hash = repairs.length > 0 ? await this.#markets.hashWith(symbol, repairs) : "";
    await this.#database.write(async (manager) => {
      await write(manager);
      await manager.update(BarSetEntity, { symbol }, { repairedHash: hash, thumbnail: null });
    });
    this.#markets.changed(symbol);
  }
}
