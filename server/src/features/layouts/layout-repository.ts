/** Studies of a chart and a table, kept under a name. */
import type { ChartLayout, LayoutBody } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import type { Database } from "../../db/database.ts";
import { ChartLayoutEntity } from "../../db/entities.ts";

export class LayoutRepository {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  list(): Promise<ChartLayout[]> {
    return this.#database.read.find(ChartLayoutEntity, { order: { name: "ASC" } });
  }

  /** Makes a layout, or changes it. @throws PlanTesterError conflict when another has the name */
  async put(id: string, body: LayoutBody): Promise<void> {
    await this.#database.write(async (manager) => {
      const [taken] = await manager.query<{ id: string }[]>(
        `SELECT "id" FROM "chart_layout" WHERE lower("name") = lower(?) AND "id" <> ?`,
        [body.name, id],
      );
      if (taken) throw new PlanTesterError("conflict", `There is a layout named "${body.name}" already. Choose another name.`, {});
      await manager.upsert(ChartLayoutEntity, { id, ...body, studies: [...body.studies], changedMs: Date.now() }, ["id"]);
    });
  }

  async delete(id: string): Promise<void> {
    const { affected } = await this.#database.write((manager) => manager.delete(ChartLayoutEntity, { id }));
    if (!affected) throw new PlanTesterError("not-found", `There is no layout "${id}".`, { id });
  }
}
