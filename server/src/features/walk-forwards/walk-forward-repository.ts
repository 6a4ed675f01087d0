import type { WalkForwardDetail, WalkForwardSummary } from "@plan-tester/contract";
import type { Database } from "../../db/database.ts";
import { WalkForwardEntity, type WalkForwardRow } from "../../db/entities.ts";

/** What is written down with the windows. */
type Kept = Pick<WalkForwardSummary, "windows" | "total" | "variants" | "runId" | "efficiency">;

function detailOf(row: WalkForwardRow): WalkForwardDetail {
  const { id, planId, planTitle, source, status, createdMs, elapsedMs, error } = row;
  return {
    ...{ id, planId, planTitle, source, createdMs, elapsedMs, error },
    status: status as WalkForwardSummary["status"],
    request: JSON.parse(row.request),
    inputSpecs: JSON.parse(row.inputSpecs),
    ...(JSON.parse(row.windows) as Kept),
  };
}

export class WalkForwardRepository {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  async list(): Promise<WalkForwardSummary[]> {
    const rows = await this.#database.read.find(WalkForwardEntity, { order: { createdMs: "DESC" } });
    return rows.map((row) => {
      const { source: _source, inputSpecs: _specs, ...summary } = detailOf(row);
      return summary;
    });
  }

  async find(id: string): Promise<WalkForwardDetail | null> {
    const row = await this.#database.read.findOneBy(WalkForwardEntity, { id });
    return row && detailOf(row);
  }

  async save(detail: WalkForwardDetail): Promise<void> {
    const { request, inputSpecs, windows, total, variants, runId, efficiency, ...plain } = detail;
    const kept: Kept = { windows, total, variants, runId, efficiency };
    const row: WalkForwardRow = {
      ...plain,
      request: JSON.stringify(request),
      inputSpecs: JSON.stringify(inputSpecs),
      windows: JSON.stringify(kept),
      done: windows.length,
      result: null,
    };
    await this.#database.write((manager) => manager.upsert(WalkForwardEntity, row, ["id"]));
  }

  /** One that was under way when the server ended keeps the windows that it had. */
  async settleUnfinished(): Promise<void> {
    await this.#database.write((manager) =>
      manager.update(WalkForwardEntity, { status: "running" }, { status: "stopped", error: "The server ended while it was under way." }),
    );
  }

  async delete(id: string): Promise<boolean> {
    return (await this.#database.write((manager) => manager.delete(WalkForwardEntity, { id }))).affected === 1;
  }
}
