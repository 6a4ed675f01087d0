/** Blends of kept runs. A run that is a member of one is there on purpose: no rule clears it. */
import { randomUUID } from "node:crypto";
import type { Blend, BlendBody, BlendChange } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import { shortHash } from "@plan-tester/runner";
import { In } from "typeorm";
import type { Database } from "../../db/database.ts";
import { BlendEntity, type BlendRow, RunEntity } from "../../db/entities.ts";

type Manager = Parameters<Parameters<Database["write"]>[0]>[0];

function blendOf({ deletedMs: _deleted, ...row }: BlendRow): Blend {
  // Kept runs never change: their ids stand for what they are.
  return { ...row, fingerprint: shortHash(row.setup) };
}

const missing = (id: string): PlanTesterError => new PlanTesterError("not-found", `There is no blend "${id}".`, { id });

export class BlendRepository {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  /** The last changed first. */
  async list(): Promise<Blend[]> {
    const rows = await this.#database.read.find(BlendEntity, { where: { deletedMs: 0 }, order: { updatedMs: "DESC", id: "ASC" } });
    return rows.map(blendOf);
  }

  /** @throws PlanTesterError not-found */
  async get(id: string): Promise<Blend> {
    const row = await this.#database.read.findOneBy(BlendEntity, { id, deletedMs: 0 });
    if (!row) throw missing(id);
    return blendOf(row);
  }

  /** @throws PlanTesterError not-found when a member is no kept run, bad-input when one is there twice */
  async insert({ name, note, setup }: BlendBody, id = randomUUID().slice(0, 8)): Promise<Blend> {
    const now = Date.now();
    const row: BlendRow = {
      ...{ id, name, note, setup, revision: 1 },
      ...{ createdMs: now, updatedMs: now, deletedMs: 0 },
    };
    await this.#database.write(async (manager) => {
      await this.#holdMembers(manager, setup, now);
      await manager.insert(BlendEntity, row);
    });
    return this.get(row.id);
  }

  /** @throws PlanTesterError conflict when it has changed since it was read, and as `insert` */
  async replace(id: string, { name, note, setup, revision }: BlendChange): Promise<Blend> {
    await this.#database.write(async (manager) => {
      const row = await manager.findOneBy(BlendEntity, { id, deletedMs: 0 });
      if (!row) throw missing(id);
      if (row.revision !== revision)
        throw new PlanTesterError(
          "conflict",
          `The blend "${row.name}" was changed elsewhere: it is at revision ${row.revision}, and this change is of revision ${revision}. Load it again.`,
          { revision: row.revision },
        );
      const now = Date.now();
      await this.#holdMembers(manager, setup, now);
      await manager.update(BlendEntity, { id }, { name, note, setup, revision: revision + 1, updatedMs: now });
    });
    return this.get(id);
  }

  async remove(id: string): Promise<void> {
    await this.#database.write((manager) => manager.delete(BlendEntity, { id }));
  }

  /** Members must have been kept, and count as compared from now on. One that was put into the bin since may stay named. */
  async #holdMembers(manager: Manager, { members }: BlendBody["setup"], nowMs: number): Promise<void> {
    const ids = members.map(({ runId }) => runId);
    const twice = ids.find((id, k) => ids.indexOf(id) < k);
    if (twice !== undefined)
      throw new PlanTesterError("bad-input", `The run "${twice}" is a member twice. Give it twice the size instead.`, { id: twice });
    const found = await manager.find(RunEntity, { select: { id: true }, where: { id: In(ids) } });
    const unknown = ids.find((id) => !found.some((run) => run.id === id));
    if (unknown !== undefined)
      throw new PlanTesterError("not-found", `There is no kept run "${unknown}": a blend is of runs that were kept.`, { id: unknown });
    await manager.update(RunEntity, { id: In(ids) }, { comparedMs: nowMs });
  }
}
