import { type SweepDetail, type SweepSummary, VariantSpace } from "@plan-tester/contract";
import { SWEEP_FIGURES, spreadPoints, widened } from "@plan-tester/core";
import type { SweepFailure, SweepState } from "@plan-tester/runner";
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

function summaryOf(row: Omit<SweepRow, "source" | "inputSpecs" | "points" | "figures" | "daily" | "dailyStride">): SweepSummary {
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

/** A sweep as it was written down. */
export interface StoredSweep extends SweepState {
  readonly detail: SweepDetail;
}

/** The bytes of a blob in memory of their own, aligned for any typed array. */
const ownBuffer = ({ buffer, byteOffset, byteLength }: Buffer): ArrayBuffer =>
  buffer.slice(byteOffset, byteOffset + byteLength) as ArrayBuffer;

/** Points of a sweep from before they were kept: its conditions were asked only after so many points had been spread. */
function pointsBefore({ inputSpecs, request }: SweepDetail): number[] {
  const space = new VariantSpace(inputSpecs, request.inputs, request);
  const { search } = request;
  if (!search) return space.points();
  return spreadPoints({ sizes: space.sizes, ordered: space.ordered, admits: () => true }, search.count, search.seed).filter(space.admits);
}

export class SweepRepository {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  async list(): Promise<SweepSummary[]> {
    return (await this.#database.read.find(SweepEntity, { select: LIST_COLUMNS, order: { createdMs: "DESC" } })).map(summaryOf);
  }

  async find(id: string): Promise<StoredSweep | null> {
    const row = await this.#database.read.findOneBy(SweepEntity, { id });
    if (!row) return null;
    const failures: SweepFailure[] = JSON.parse(row.failures);
    const detail: SweepDetail = {
      ...summaryOf(row),
      source: row.source,
      inputSpecs: JSON.parse(row.inputSpecs),
      failures: failures.filter(({ message }) => message !== ""),
      figures: SWEEP_FIGURES,
    };
    const { points, figures, daily } = row;
    const known = points ? [...new Float64Array(ownBuffer(points))] : pointsBefore(detail);
    const stretches = detail.request.outOfSample ? 2 : 1;
    const rows = [row.variants, known.length, detail.request.search?.count ?? 0].map((count) => count * stretches);
    return {
      detail,
      points: known,
      figures: widened(new Float64Array(ownBuffer(figures)), ...rows),
      daily: daily ? new Float32Array(ownBuffer(daily)) : new Float32Array(0),
      dailyStride: row.dailyStride,
      failures,
    };
  }

  async save(detail: SweepDetail, { points, figures, daily, dailyStride, failures }: SweepState): Promise<void> {
    const { request, inputSpecs, failures: _told, failed: _failed, figures: _names, ...plain } = detail;
    const row: SweepRow = {
      ...plain,
      request: JSON.stringify(request),
      inputSpecs: JSON.stringify(inputSpecs),
      failures: JSON.stringify(failures),
      points: Buffer.from(Float64Array.from(points).buffer),
      figures: Buffer.from(figures.buffer, figures.byteOffset, figures.byteLength),
      daily: Buffer.from(daily.buffer, daily.byteOffset, daily.byteLength),
      dailyStride,
    };
    await this.#database.write((manager) => manager.upsert(SweepEntity, row, ["id"]));
  }

  async delete(id: string): Promise<boolean> {
    return (await this.#database.write((manager) => manager.delete(SweepEntity, { id }))).affected === 1;
  }

  /** Sweeps that were under way when the server ended, the oldest first. */
  async unfinished(): Promise<string[]> {
    const rows = await this.#database.read.find(SweepEntity, {
      select: { id: true },
      where: { status: "running" },
      order: { createdMs: "ASC" },
    });
    return rows.map(({ id }) => id);
  }
}
