/** Named sets of inputs and exit kit of a plan, some with a market. */
import { randomUUID } from "node:crypto";
import type { Variant, VariantBody } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import type { Database } from "../../db/database.ts";
import { VariantEntity, type VariantRow } from "../../db/entities.ts";

const variantOf = (row: VariantRow): Variant => ({
  ...row,
  inputs: JSON.parse(row.inputs),
  kit: JSON.parse(row.kit),
  market: JSON.parse(row.market),
});
const rowOf = ({ name, inputs, kit, market }: VariantBody) => ({
  name,
  inputs: JSON.stringify(inputs),
  kit: JSON.stringify(kit),
  market: JSON.stringify(market),
});

export class VariantRepository {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  async list(planId: string): Promise<Variant[]> {
    return (await this.#database.read.find(VariantEntity, { where: { planId }, order: { createdMs: "ASC" } })).map(variantOf);
  }

  async insert(planId: string, body: VariantBody): Promise<Variant> {
    const row: VariantRow = { id: randomUUID().slice(0, 8), planId, createdMs: Date.now(), ...rowOf(body) };
    await this.#database.write((manager) => manager.insert(VariantEntity, row));
    return variantOf(row);
  }

  async replace(id: string, body: VariantBody): Promise<Variant> {
    const { affected } = await this.#database.write((manager) => manager.update(VariantEntity, { id }, rowOf(body)));
    if (affected !== 1) throw new PlanTesterError("not-found", `There is no variant "${id}".`, { id });
    return variantOf((await this.#database.read.findOneBy(VariantEntity, { id }))!);
  }

  async delete(id: string): Promise<void> {
    await this.#database.write((manager) => manager.delete(VariantEntity, { id }));
  }
}
