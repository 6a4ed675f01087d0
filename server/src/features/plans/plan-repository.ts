import type { PlanDetail, PlanModule, PlanUpdate } from "@plan-tester/contract";
import { moduleName } from "@plan-tester/runner";
import { MoreThan } from "typeorm";
import type { Database } from "../../db/database.ts";
import { PlanEntity, type PlanRow } from "../../db/entities.ts";

const detailOf = ({ createdMs: _created, deletedMs: _deleted, ...plan }: PlanRow): PlanDetail => plan;

/** Whether a change makes a new revision: a note or a reserve is nobody's text. */
export const changesText = ({ source, inputs, settings }: PlanUpdate): boolean =>
  source !== undefined || inputs !== undefined || settings !== undefined;

export class PlanRepository {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  async list(): Promise<PlanDetail[]> {
    return (await this.#database.read.find(PlanEntity, { where: { deletedMs: 0 }, order: { updatedMs: "DESC" } })).map(detailOf);
  }

  async find(id: string): Promise<PlanDetail | null> {
    const row = await this.#database.read.findOneBy(PlanEntity, { id, deletedMs: 0 });
    return row && detailOf(row);
  }

  /** Text of the module of this name, the last changed where two have it; null when there is none. */
  async moduleSource(name: string): Promise<string | null> {
    return (await this.modules()).find((module) => module.name === name)?.source ?? null;
  }

  /** All modules of the workspace, the last changed first. */
  async modules(): Promise<PlanModule[]> {
    return (await this.list()).flatMap(({ source }) => {
      const name = moduleName(source);
      return name === null ? [] : [{ name, source }];
    });
  }

  async insert(plan: PlanDetail): Promise<void> {
    const row: PlanRow = { ...plan, createdMs: plan.updatedMs, deletedMs: 0 };
    await this.#database.write(async (manager) => {
      // One of the same id may be in the bin: the demo world is made again.
      await manager.delete(PlanEntity, { id: plan.id, deletedMs: MoreThan(0) });
      await manager.insert(PlanEntity, row);
    });
  }

  /** @returns false where the plan has been saved since the change was begun: nothing is changed then. */
  async update(id: string, { baseRevision, draft: _draft, ...part }: PlanUpdate, nowMs: number): Promise<boolean> {
    const change = {
      ...part,
      updatedMs: nowMs,
      ...(changesText(part) && { revision: () => '"revision" + 1' }),
    };
    const from = { id, deletedMs: 0, ...(baseRevision === undefined ? {} : { revision: baseRevision }) };
    return (await this.#database.write((manager) => manager.update(PlanEntity, from, change))).affected === 1;
  }

  /** For good. */
  async delete(id: string): Promise<void> {
    await this.#database.write((manager) => manager.delete(PlanEntity, { id }));
  }
}
