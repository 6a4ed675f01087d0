/** Named sets of inputs and exit kit of a plan, some with a market. */
import { randomUUID } from "node:crypto";
import type { Variant, VariantBody } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import type { Database } from "../../db/database.ts";
import { VariantEntity, type VariantRow } from "../../db/entities.ts";

export class VariantRepository {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  list(planId: string): Promise<Variant[]> {
    return this.#database.read.find(VariantEntity, { where: { planId }, order: { createdMs: "ASC" } });
  }

  async insert(planId: string, body: VariantBody): Promise<Variant> {
    const row: VariantRow = { id: randomUUID().slice(0, 8), planId, createdMs: Date.now(), ...body };
    await this.#database.write((manager) => manager.insert(VariantEntity, row));
    return row;
  }

  async replace(id: string, body: VariantBody): Promise<Variant> {
    const { affected } = await this.#database.write((manager) => manager.update(VariantEntity, { id }, { ...body }));
    if (affected !== 1) throw new PlanTesterError("not-found", `There is no variant "${id}".`, { id });
    return (await this.#database.read.findOneBy(VariantEntity, { id }))!;
  }

  async delete(id: string): Promise<void> {
    const { affected } = await this.#database.write((manager) => manager.delete(VariantEntity, { id }));
    if (affected !== 1) throw new PlanTesterError("not-found", `There is no variant "${id}".`, { id });
  }
}
