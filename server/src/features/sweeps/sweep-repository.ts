import type { SweepDetail, SweepSummary } from "@plan-tester/contract";
import { SWEEP_FIGURES } from "@plan-tester/core";
import type { Database } from "../../db/database.ts";
import { SweepEntity, type SweepRow } from "../../db/entities.ts";

/** All but the long ones. */
const LIST_COLUMNS = {
  id: true,
  planId: true,
  planTitle: true,
  request: true,
  status: true,
  variants: true,
  done: true,
  failures: true,
  createdMs: true,
  elapsedMs: true,
  error: true,
} as const;

function summaryOf(row: Omit<SweepRow, "source" | "inputSpecs" | "figures">): SweepSummary {
  const { id, planId, planTitle, status, variants, done, createdMs, elapsedMs, error } = row;
  return {
    id,
    planId,
    planTitle,
    status: status as SweepSummary["status"],
    variants,
    done,
    createdMs,
    elapsedMs,
    error,
    request: JSON.parse(row.request),
    failed: (JSON.parse(row.failures) as unknown[]).length,
  };
}

export class SweepRepository {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  async list(): Promise<SweepSummary[]> {
    return (await this.#database.read.find(SweepEntity, { select: LIST_COLUMNS, order: { createdMs: "DESC" } })).map(summaryOf);
  }

  async find(id: string): Promise<{ detail: SweepDetail; figures: Float64Array } | null> {
    const row = await this.#database.read.findOneBy(SweepEntity, { id });
    if (!row) return null;
    const detail: SweepDetail = {
      ...summaryOf(row),
      source: row.source,
      inputSpecs: JSON.parse(row.inputSpecs),
      failures: JSON.parse(row.failures),
      figures: SWEEP_FIGURES,
    };
    const bytes = row.figures;
    return { detail, figures: new Float64Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength)) };
  }

  async save(detail: SweepDetail, figures: Float64Array): Promise<void> {
    const { request, inputSpecs, failures, failed: _failed, figures: _names, ...plain } = detail;
    const row: SweepRow = {
      ...plain,
      request: JSON.stringify(request),
      inputSpecs: JSON.stringify(inputSpecs),
      failures: JSON.stringify(failures),
      figures: Buffer.from(figures.buffer, figures.byteOffset, figures.byteLength),
    };
    await this.#database.write((manager) => manager.upsert(SweepEntity, row, ["id"]));
  }

  async delete(id: string): Promise<boolean> {
    return (await this.#database.write((manager) => manager.delete(SweepEntity, { id }))).affected === 1;
  }

  /** A sweep that was under way when the server ended keeps what it had. */
  async settleUnfinished(): Promise<void> {
    await this.#database.write((manager) =>
      manager.update(SweepEntity, { status: "running" }, { status: "stopped", error: "The server ended while it was under way." }),
    );
  }
}
