/** Sources and what came of each of their files. */
import type { SourceLogEntry } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import type { Database } from "../../db/database.ts";
import { SourceEntity, SourceItemEntity, type SourceRow } from "../../db/entities.ts";

/** Entries of a log that are kept; beyond them the last of each file, so that none is taken twice. */
const KEPT = 500;
const SHOWN = 200;

export interface Tries {
  readonly isTaken: boolean;
  readonly failed: number;
}

export class SourceRepository {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  all(): Promise<SourceRow[]> {
    return this.#database.read.find(SourceEntity, { where: { deletedMs: 0 }, order: { symbol: "ASC" } });
  }

  /** Also in the bin. */
  has(id: string): Promise<boolean> {
    return this.#database.read.existsBy(SourceEntity, { id });
  }

  async get(id: string): Promise<SourceRow> {
    const row = await this.#database.read.findOneBy(SourceEntity, { id, deletedMs: 0 });
    if (!row) throw new PlanTesterError("not-found", `There is no source "${id}".`, { id });
    return row;
  }

  async insert(row: Omit<SourceRow, "deletedMs">): Promise<void> {
    await this.#database.write((manager) => manager.insert(SourceEntity, { ...row, deletedMs: 0 }));
  }

  async change(id: string, change: Partial<Pick<SourceRow, "isOn" | "lookedMs">>): Promise<void> {
    await this.get(id);
    await this.#database.write((manager) => manager.update(SourceEntity, { id }, change));
  }

  /** For good, with its log. */
  async remove(id: string): Promise<void> {
    await this.#database.write((manager) => manager.delete(SourceEntity, { id }));
  }

  /** Newest first. */
  async log(id: string, most = SHOWN): Promise<SourceLogEntry[]> {
    await this.get(id);
    const rows = await this.#database.read.find(SourceItemEntity, { where: { sourceId: id }, order: { id: "DESC" }, take: most });
    return rows.map(({ key, outcome, text, atMs }) => ({ item: key, outcome, text, atMs }));
  }

  /** Of each file whether it was taken, and how often it failed, by its key. */
  async tries(sourceId: string): Promise<ReadonlyMap<string, Tries>> {
    const rows = await this.#database.read.query<{ key: string; taken: number; failed: number }[]>(
      `SELECT "key", max("outcome" IN ('added', 'nothing new')) AS "taken", sum("outcome" = 'failed') AS "failed"
        FROM "source_item" WHERE "sourceId" = ? GROUP BY "key"`,
      [sourceId],
    );
    return new Map(rows.map(({ key, taken, failed }) => [key, { isTaken: taken === 1, failed }]));
  }

  async note(sourceId: string, key: string, outcome: SourceLogEntry["outcome"], text: string, atMs: number): Promise<void> {
    await this.#database.write(async (manager) => {
      await manager.insert(SourceItemEntity, { sourceId, key, outcome, text, atMs });
      await manager.query(
        `DELETE FROM "source_item" WHERE "sourceId" = ? AND "id" <= (SELECT max("id") FROM "source_item" WHERE "sourceId" = ?) - ?
          AND ("outcome" = 'nothing' OR EXISTS (SELECT 1 FROM "source_item" "later" WHERE "later"."sourceId" = "source_item"."sourceId"
            AND "later"."key" = "source_item"."key" AND "later"."id" > "source_item"."id"))`,
        [sourceId, sourceId, KEPT],
      );
    });
  }
}
