/** What takes space, what of it may go by itself and when, and the bin. */
import type { RetentionRules, StorageReport } from "@plan-tester/contract";
import { DAY_MS } from "@plan-tester/core";
import { LessThan } from "typeorm";
import type { Background } from "../../background.ts";
import type { Bin } from "../../db/bin.ts";
import type { Database } from "../../db/database.ts";
import { RunEntity, SweepEntity, WorkspaceEntity } from "../../db/entities.ts";
import { freeBytesAt } from "../../db/write-failures.ts";
import type { WorkThread } from "../../work/work-thread.ts";
import type { SweepRepository } from "../sweeps/sweep-repository.ts";

const NAME = "retention";
const FIRST_RULES: RetentionRules = { binDays: 14, batchRunDays: null, dailyReturnDays: null };

export interface StorageParts {
  readonly database: Database;
  readonly thread: WorkThread;
  readonly background: Background;
  readonly bin: Bin;
  readonly sweeps: SweepRepository;
}

export class StorageService {
  readonly #parts: StorageParts;

  constructor(parts: StorageParts) {
    this.#parts = parts;
  }

  async rules(): Promise<RetentionRules> {
    const row = await this.#parts.database.read.findOneBy(WorkspaceEntity, { name: NAME });
    return row ? { ...FIRST_RULES, ...(JSON.parse(row.value) as Partial<RetentionRules>) } : FIRST_RULES;
  }

  async setRules(rules: RetentionRules): Promise<StorageReport> {
    await this.#parts.database.write((manager) => manager.upsert(WorkspaceEntity, { name: NAME, value: JSON.stringify(rules) }, ["name"]));
    return this.report();
  }

  async report(): Promise<StorageReport> {
    const { database, thread, bin } = this.#parts;
    const { fileBytes, emptyBytes, ...parts } = await thread.storageFacts(database.file);
    return {
      ...{ fileBytes, emptyBytes, freeBytes: freeBytesAt(database.file) },
      parts: Object.entries(parts).map(([kind, part]) => ({ kind: kind as keyof typeof parts, ...part })),
      bin: await bin.list(),
      rules: await this.rules(),
    };
  }

  /** What the rules say may go, goes: into the bin, or for good where it has been there long enough. Named, tagged and compared runs stay. */
  async applyRules(nowMs: number): Promise<void> {
    const { database, bin, sweeps } = this.#parts;
    const { binDays, batchRunDays, dailyReturnDays } = await this.rules();
    const before = (days: number): number => nowMs - days * DAY_MS;
    if (batchRunDays !== null) {
      const old = { isNamed: false, comparedMs: 0, deletedMs: 0, createdMs: LessThan(before(batchRunDays)) };
      for (const { id } of await database.read.find(RunEntity, { select: { id: true }, where: old })) await bin.put("run", id);
    }
    if (dailyReturnDays !== null) {
      const old = { status: "complete" as const, createdMs: LessThan(before(dailyReturnDays)) };
      for (const { id, dailyStride } of await database.read.find(SweepEntity, { select: { id: true, dailyStride: true }, where: old }))
        if (dailyStride > 0) await sweeps.dropDaily(id);
    }
    await bin.empty(before(binDays));
  }

  /** Removes for good what is in the bin. */
  async emptyBin(): Promise<StorageReport> {
    await this.#parts.bin.empty(Number.POSITIVE_INFINITY);
    return this.report();
  }

  /** Gives empty pages back to the disk. Writes wait meanwhile, reads do not. */
  async compact(): Promise<StorageReport> {
    const { database, thread } = this.#parts;
    await database.pause(() => thread.compact(database.file));
    return this.report();
  }

  /** At the start, and once a day from then on. */
  start(): void {
    const { background } = this.#parts;
    const apply = (): void => background.run("old runs and sweeps were not cleared", {}, () => this.applyRules(Date.now()));
    apply();
    setInterval(apply, DAY_MS).unref();
  }
}
