/** Luck tests of sweeps in the database: which markets were searched, and what was found on each. */
import type { LuckTest } from "@plan-tester/contract";
import type { Database } from "../../db/database.ts";
import { LuckTestEntity, type LuckTestRow } from "../../db/entities.ts";

export class LuckRepository {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  async find(sweepId: string): Promise<LuckTest | null> {
    const row = await this.#database.read.findOneBy(LuckTestEntity, { sweepId });
    if (!row) return null;
    const { sweepId: _id, ...test } = row;
    return test;
  }

  async save(sweepId: string, test: LuckTest): Promise<void> {
    const row: LuckTestRow = { sweepId, ...test };
    await this.#database.write((manager) => manager.upsert(LuckTestEntity, row, ["sweepId"]));
  }

  /** Sweeps whose tests were running when the server ended. */
  async unfinished(): Promise<string[]> {
    return (await this.#database.read.findBy(LuckTestEntity, { status: "running" })).map(({ sweepId }) => sweepId);
  }

  /** Removes those whose sweeps are gone. */
  async removeOrphans(): Promise<void> {
    await this.#database.write((manager) => manager.query(`DELETE FROM "luck_test" WHERE "sweepId" NOT IN (SELECT "id" FROM "sweep")`));
  }
}
