/** Names that are given once, whatever their case. */
import { PlanTesterError } from "@plan-tester/core";
import type { EntityManager } from "typeorm";

/** @throws PlanTesterError conflict with these words when another row of a table has the name */
export async function refuseTaken(
  manager: EntityManager,
  table: "kit" | "instrument_list",
  { id, name }: { readonly id: string; readonly name: string },
  words: string,
): Promise<void> {
  const [taken] = await manager.query<{ id: string }[]>(`SELECT "id" FROM "${table}" WHERE "name" = ? COLLATE NOCASE AND "id" <> ?`, [
    name,
    id,
  ]);
  if (taken) throw new PlanTesterError("conflict", words, { id: taken.id });
}
