/** Kept runs: a light row for lists, and a body of compressed parts that only an opened run needs. */
import { promisify } from "node:util";
import { deflateRaw, inflateRaw } from "node:zlib";
import type { RunEvidence, RunOrders, RunSummary } from "@plan-tester/contract";
import type { Database } from "../../db/database.ts";
import { RunBodyEntity, RunEntity, type RunRow } from "../../db/entities.ts";

const deflate = promisify(deflateRaw);
const inflate = promisify(inflateRaw);

/** A run with its orders and its packed columns. */
export interface WholeRun {
  readonly evidence: RunEvidence;
  readonly orders: RunOrders;
  readonly columns: Uint8Array;
}

/** What earlier versions did not write down. */
const NOT_WRITTEN = { resultHash: "", notes: [], slips: [] };

function summaryOf(row: RunRow): RunSummary {
  return { ...row, settings: JSON.parse(row.settings), status: row.status as RunSummary["status"], spark: JSON.parse(row.spark) };
}

export class RunRepository {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  async list(): Promise<RunSummary[]> {
    return (await this.#database.read.find(RunEntity, { order: { createdMs: "DESC" } })).map(summaryOf);
  }

  async lastOfEachPlan(): Promise<Map<string, RunSummary>> {
    const last = new Map<string, RunSummary>();
    for (const run of await this.list()) if (!last.has(run.planId)) last.set(run.planId, run);
    return last;
  }

  async insert(summary: RunSummary, whole: WholeRun): Promise<void> {
    const row: RunRow = { ...summary, settings: JSON.stringify(summary.settings), spark: JSON.stringify(summary.spark) };
    const [evidence, orders, columns] = await Promise.all([
      deflate(JSON.stringify(whole.evidence)),
      deflate(JSON.stringify(whole.orders)),
      deflate(whole.columns, { level: 1 }),
    ]);
    await this.#database.write(async (manager) => {
      await manager.insert(RunEntity, row);
      await manager.insert(RunBodyEntity, { runId: summary.id, evidence, orders, columns });
    });
  }

  async rename(id: string, name: string, note: string): Promise<void> {
    await this.#database.write((manager) => manager.update(RunEntity, { id }, { name, note }));
  }

  async find(id: string): Promise<WholeRun | null> {
    const row = await this.#database.read.findOneBy(RunEntity, { id });
    const body = row && (await this.#database.read.findOneBy(RunBodyEntity, { runId: id }));
    if (!row || !body) return null;
    const [evidence, orders, columns] = await Promise.all([inflate(body.evidence), inflate(body.orders), inflate(body.columns)]);
    return {
      evidence: {
        ...NOT_WRITTEN,
        ...(JSON.parse(evidence.toString()) as RunEvidence),
        kept: { name: row.name, note: row.note },
      },
      orders: JSON.parse(orders.toString()) as RunOrders,
      columns,
    };
  }

  async delete(id: string): Promise<boolean> {
    return (await this.#database.write((manager) => manager.delete(RunEntity, { id }))).affected === 1;
  }
}
