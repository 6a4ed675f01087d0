/** Runs in the background, as they are written down: what was asked for, and how far it has come. */
import type { BatchRequest, QueuedRun } from "@plan-tester/contract";
import { In } from "typeorm";
import type { Database } from "../../db/database.ts";
import { QueuedRunEntity } from "../../db/entities.ts";

export interface QueueJob {
  shown: QueuedRun;
  readonly request: BatchRequest["runs"][number];
  readonly tag: string;
}

export class QueueRepository {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  /** In the order in which they were taken on. */
  async list(): Promise<QueueJob[]> {
    const rows = await this.#database.read.find(QueuedRunEntity, { order: { seq: "ASC" } });
    return rows.map(({ shown, request, tag }) => ({ shown, request, tag }));
  }

  async add(jobs: readonly QueueJob[]): Promise<void> {
    const rows = jobs.map((job) => ({ id: job.shown.id, ...job }));
    await this.#database.write((manager) => manager.insert(QueuedRunEntity, rows));
  }

  async save({ shown }: QueueJob): Promise<void> {
    await this.#database.write((manager) => manager.update(QueuedRunEntity, { id: shown.id }, { shown }));
  }

  async remove(ids: readonly string[]): Promise<void> {
    if (ids.length > 0) await this.#database.write((manager) => manager.delete(QueuedRunEntity, { id: In([...ids]) }));
  }
}
