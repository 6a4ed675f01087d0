/** Marks made by hand on an instrument's bars. */
import type { Mark } from "@plan-tester/core";
import { PlanTesterError } from "@plan-tester/core";
import type { Database } from "../../db/database.ts";
import { InstrumentEntity, MarkEntity } from "../../db/entities.ts";

/** Of an instrument. */
const MOST_MARKS = 5000;

const missing = (symbol: string): PlanTesterError =>
  new PlanTesterError("not-found", `There is no instrument "${symbol}". Markets lists those there are.`, { symbol });

export class MarkRepository {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  /** By when they get in. @throws PlanTesterError not-found without the instrument */
  async list(symbol: string): Promise<Mark[]> {
    if (!(await this.#database.read.existsBy(InstrumentEntity, { symbol, deletedMs: 0 }))) throw missing(symbol);
    const rows = await this.#database.read.findBy(MarkEntity, { symbol });
    return rows.map(({ mark }) => mark).sort((a, b) => a.entryMs - b.entryMs);
  }

  /** Makes a mark, or changes it. @throws PlanTesterError not-found without the instrument; limit; conflict for one of another instrument */
  async put(symbol: string, mark: Mark): Promise<void> {
    if (mark.exitMs !== null && mark.exitMs < mark.entryMs)
      throw new PlanTesterError("bad-input", "The mark gets out before it gets in. Put its exit at its entry or behind it.", {});
    await this.#database.write(async (manager) => {
      if (!(await manager.existsBy(InstrumentEntity, { symbol, deletedMs: 0 }))) throw missing(symbol);
      const known = await manager.findOneBy(MarkEntity, { id: mark.id });
      if (known && known.symbol !== symbol)
        throw new PlanTesterError("conflict", `The mark "${mark.id}" is one of ${known.symbol}.`, { id: mark.id });
      if (!known && (await manager.countBy(MarkEntity, { symbol })) >= MOST_MARKS)
        throw new PlanTesterError("limit", `${symbol} has ${MOST_MARKS} marks; no more are taken. Delete some.`, { symbol });
      await manager.upsert(MarkEntity, { id: mark.id, symbol, mark, createdMs: known?.createdMs ?? Date.now() }, ["id"]);
    });
  }

  async delete(symbol: string, id: string): Promise<void> {
    const { affected } = await this.#database.write((manager) => manager.delete(MarkEntity, { id, symbol }));
    if (!affected) throw new PlanTesterError("not-found", `${symbol} has no mark "${id}".`, { id });
  }
}
