import type { WalkForwardDetail, WalkForwardSummary } from "@plan-tester/contract";
import type { Database } from "../../db/database.ts";
import { WalkForwardEntity, type WalkForwardRow } from "../../db/entities.ts";

/** All but the long ones. */
const LIST_COLUMNS = {
  id: true,
  planId: true,
  planTitle: true,
  request: true,
  status: true,
  createdMs: true,
  elapsedMs: true,
  error: true,
  windows: true,
} as const;

const summaryOf = ({ windows, ...plain }: Omit<WalkForwardRow, "source" | "inputSpecs" | "deletedMs">): WalkForwardSummary => ({
  ...plain,
  ...windows,
});

const detailOf = ({ source, inputSpecs, deletedMs: _deleted, ...row }: WalkForwardRow): WalkForwardDetail => ({
  ...summaryOf(row),
  source,
  inputSpecs,
});

export class WalkForwardRepository {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  async list(): Promise<WalkForwardSummary[]> {
    return (
      await this.#database.read.find(WalkForwardEntity, { select: LIST_COLUMNS, where: { deletedMs: 0 }, order: { createdMs: "DESC" } })
    ).map(summaryOf);
  }

  async find(id: string): Promise<WalkForwardDetail | null> {
    const row = await this.#database.read.findOneBy(WalkForwardEntity, { id, deletedMs: 0 });
    return row && detailOf(row);
  }

  async save(detail: WalkForwardDetail): Promise<void> {
    const { windows, total, variants, runId, efficiency, ...plain } = detail;
    const row: WalkForwardRow = { ...plain, deletedMs: 0, windows: { windows, total, variants, runId, efficiency } };
    await this.#database.write((manager) => manager.upsert(WalkForwardEntity, row, ["id"]));
  }

  /** Those that were under way when the server ended, the oldest first. */
  async unfinished(): Promise<WalkForwardDetail[]> {
    const rows = await this.#database.read.find(WalkForwardEntity, {
      where: { status: "running", deletedMs: 0 },
      order: { createdMs: "ASC" },
    });
    return rows.map(detailOf);
  }

  /** For good. */
  async delete(id: string): Promise<boolean> {
    return (await this.#database.write((manager) => manager.delete(WalkForwardEntity, { id }))).affected === 1;
  }
}
