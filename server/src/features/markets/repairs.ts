/** Which repairs of an instrument's bars were in force when. */
import type { Repair } from "@plan-tester/core";
import type { RepairRow } from "../../db/entities.ts";

/** Those that were in force at a time, in the order in which they were made. @param atMs Infinity for those of now */
export function repairsAt(rows: readonly RepairRow[], atMs: number): Repair[] {
  return rows
    .filter(({ createdMs, undoneMs }) => createdMs <= atMs && (undoneMs === 0 || (atMs !== Number.POSITIVE_INFINITY && undoneMs > atMs)))
    .sort((a, b) => a.id - b.id)
    .map(({ repair }) => repair);
}
