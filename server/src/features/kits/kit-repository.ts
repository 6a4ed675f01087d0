/** The workspace's library of exit kits, and where each is in use. */
import { randomUUID } from "node:crypto";
import type { KitBody, LibraryKit } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import type { Database } from "../../db/database.ts";
import { KitEntity, type KitRow } from "../../db/entities.ts";
import { refuseTaken } from "../../db/taken-name.ts";

interface Use {
  readonly kit: string;
  readonly planId: string;
  readonly title: string;
  readonly variants: number;
}

/** Plans whose settings have a kit of a name, and how many of their variants have. */
const USES = `SELECT "kit", "planId", "plan"."title" AS "title", sum("variants") AS "variants" FROM (
    SELECT lower(json_extract("settings", '$.kit.name')) AS "kit", "id" AS "planId", 0 AS "variants" FROM "plan"
    UNION ALL SELECT lower(json_extract("kit", '$.name')), "planId", 1 FROM "variant"
  ) JOIN "plan" ON "plan"."id" = "planId" WHERE "kit" IS NOT NULL GROUP BY "kit", "planId" ORDER BY "title"`;

const detailOf = (row: KitRow, uses: readonly Use[]): LibraryKit => ({
  ...row,
  // What a kit is called is said once: in the library.
  kit: { ...row.kit, name: row.name },
  usedBy: uses
    .filter(({ kit }) => kit === row.name.toLowerCase())
    .map(({ planId, title, variants }) => ({ planId, title, variants: Number(variants) })),
});

export class KitRepository {
  readonly #database: Database;

  constructor(database: Database) {
    this.#database = database;
  }

  async list(): Promise<LibraryKit[]> {
    const rows = await this.#database.read.find(KitEntity, { order: { name: "ASC" } });
    const uses = await this.#database.read.query<Use[]>(USES);
    return rows.map((row) => detailOf(row, uses));
  }

  async #get(id: string): Promise<LibraryKit> {
    const found = (await this.list()).find((kit) => kit.id === id);
    if (!found) throw new PlanTesterError("not-found", `There is no exit kit "${id}" in the library.`, { id });
    return found;
  }

  /** @throws PlanTesterError conflict when another kit of the library has the name */
  async insert(body: KitBody): Promise<LibraryKit> {
    const now = Date.now();
    const row: KitRow = { id: randomUUID().slice(0, 8), ...body, createdMs: now, updatedMs: now };
    await this.#database.write(async (manager) => {
      await refuseTaken(manager, "kit", row, takenWords(body));
      await manager.insert(KitEntity, row);
    });
    return this.#get(row.id);
  }

  /** @throws as `insert`, and not-found */
  async replace(id: string, body: KitBody): Promise<LibraryKit> {
    await this.#database.write(async (manager) => {
      await refuseTaken(manager, "kit", { id, name: body.name }, takenWords(body));
      await manager.update(KitEntity, { id }, { ...body, updatedMs: Date.now() });
    });
    return this.#get(id);
  }

  async delete(id: string): Promise<void> {
    const { affected } = await this.#database.write((manager) => manager.delete(KitEntity, { id }));
    if (affected !== 1) throw new PlanTesterError("not-found", `There is no exit kit "${id}" in the library.`, { id });
  }
}

const takenWords = ({ name }: KitBody): string =>
  `The library has an exit kit "${name}" already. Give this one another name, or replace that one.`;
