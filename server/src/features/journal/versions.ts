/** The texts that plans had, each once; they can be named. */
import { randomUUID } from "node:crypto";
import type { PlanVersion, PlanVersionDetail, VersionCreate } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import { hashText } from "@plan-tester/runner";
import type { Database } from "../../db/database.ts";
import { PlanVersionEntity, type PlanVersionRow } from "../../db/entities.ts";

function versionOf({ id, planId, createdMs, name, source }: PlanVersionRow): PlanVersion {
  return { id, planId, createdMs, name, lines: source.split("\n").length };
}

function detailOf(row: PlanVersionRow): PlanVersionDetail {
  const { source, inputs, settings } = row;
  return { ...versionOf(row), source, inputs, settings };
}

export class VersionRepository {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  /** Keeps a text of a plan, once; a name given later names it. */
  async keep(planId: string, { source, inputs, settings, name }: VersionCreate, createdMs = Date.now()): Promise<PlanVersion> {
    const hash = hashText(source);
    const known = await this.#database.read.findOneBy(PlanVersionEntity, { planId, hash });
    if (known) {
      if (name) await this.rename(known.id, name);
      return versionOf({ ...known, name: name || known.name });
    }
    const row: PlanVersionRow = {
      id: randomUUID().slice(0, 8),
      planId,
      createdMs,
      name,
      hash,
      source,
      inputs,
      settings,
    };
    await this.#database.write((manager) => manager.insert(PlanVersionEntity, row));
    return versionOf(row);
  }

  async list(planId: string): Promise<PlanVersion[]> {
    return (await this.#database.read.find(PlanVersionEntity, { where: { planId }, order: { createdMs: "DESC" } })).map(versionOf);
  }

  /** Whole, the oldest first. */
  all(planId: string): Promise<PlanVersionRow[]> {
    return this.#database.read.find(PlanVersionEntity, { where: { planId }, order: { createdMs: "ASC" } });
  }

  async get(id: string): Promise<PlanVersionDetail> {
    const row = await this.#database.read.findOneBy(PlanVersionEntity, { id });
    if (!row) throw new PlanTesterError("not-found", `There is no version "${id}".`, { id });
    return detailOf(row);
  }

  async rename(id: string, name: string): Promise<void> {
    await this.#database.write((manager) => manager.update(PlanVersionEntity, { id }, { name }));
  }
}
