/** Which repairs of an instrument's bars were in force when. */
import { isInForce } from "@plan-tester/contract";
import type { Repair } from "@plan-tester/core";
import type { RepairRow } from "../../db/entities.ts";

/** Those that were in force at a time, in the order in which they were made. @param atMs those of now where it is left out */
export const repairsAt = (rows: readonly RepairRow[], atMs = Number.POSITIVE_INFINITY): Repair[] =>
  rows
    .filter((row) => isInForce(row, atMs))
    .sort((a, b) => a.id - b.id)
    .map(({ repair }) => repair);
