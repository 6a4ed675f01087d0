/** Keys of what was read from the server: the route's name, then what it was asked for. A name alone stands for all its answers. */
import type { RouteName } from "@plan-tester/contract";

/** Routes whose answers are kept. */
export type ReadRoute =
  | Extract<RouteName, `${"list" | "get"}${string}`>
  | "stressRun"
  | "checkChance"
  | "checkRules"
  | "estimateSweep"
  | "findConditions"
  | "readProgram";

export type Key = readonly [name: ReadRoute, fields?: Readonly<Record<string, unknown>>, asOf?: unknown];

/** @param asOf what an answer depends on besides its fields: it is read again when that changes. */
export const keyOf = (name: ReadRoute, fields: Readonly<Record<string, unknown>> = {}, asOf?: unknown): Key =>
  asOf === undefined ? (Object.keys(fields).length === 0 ? [name] : [name, fields]) : [name, fields, asOf];
