/**
 * A study of a plan's own: computed bar by bar from the values of other columns. So that it can't look ahead, each
 * computation takes its step from an instance of the plan that has seen nothing and is never asked again (`OwnStudies`).
 */
import { PlanTesterError } from "../errors.ts";
import { apart, isGoingOn, isGrowing, newColumn, startAt } from "../studies/growth.ts";
import { asColumn, type Column, deriveColumn, describe, meetingScope, operand, scopeOf } from "./columns.ts";
import { type NumberEntry, ONE_RUN } from "./study-store.ts";

type Step = (...values: number[]) => unknown;

const MOST_COLUMNS = 8;
let made = 0;

/**
 * @param columns one to eight columns; the step gets their values at each bar, from the first bar on which all are full.
 * @param start makes the memory and returns the step. It runs once for each computation, so a run leaves nothing to another.
 * @throws PlanTesterError plan-error when an argument is of the wrong kind, or the step returns no number.
 */
export function stepwise(columns: unknown, start: unknown): Column {
  if (!Array.isArray(columns) || columns.length === 0 || columns.length > MOST_COLUMNS)
    throw new PlanTesterError(
      "plan-error",
      `stepwise() takes a list of 1 to ${MOST_COLUMNS} columns first, e.g. [bars.close]; it got ${describe(columns)}.`,
    );
  if (typeof start !== "function")
    throw new PlanTesterError("plan-error", `stepwise() takes a function that returns the step second; it got ${describe(start)}.`);
  const given = columns.map((column) => asColumn(column, "stepwise()"));
  const scope = given.map(scopeOf).reduce(meetingScope);
  const parts = given.map((column) => operand(scope, column, "stepwise()"));
  const { own } = scope.run;
  const index = own.names.length;
  if (own.search?.index === index) {
    own.search.start ??= start;
    throw new PlanTesterError("plan-error", "The start of this study is found; the rest of build() is not needed.");
  }
  // Two functions can't be told apart, so each declaration has a column of its own.
  const name = own.search?.names[index] ?? String(++made);
  own.names.push(name);
  const key = `stepwise${ONE_RUN}${name}(${parts.map((part) => part.key).join(", ")})`;
  const freshStep = (): Step => {
    const begin = (own.freshStart ? own.freshStart(index) : start) as () => unknown;
    const step = begin() as Step;
    if (typeof step === "function") return step;
    throw new PlanTesterError(
      "plan-error",
      `stepwise(): the second argument must return the step function; it returned ${describe(step)}.`,
    );
  };
  let kept: Step | null = null;
  return deriveColumn(scope, key, Number.POSITIVE_INFINITY, parts, (_bars, entries) => {
    const step = isGoingOn() && kept ? kept : apart(freshStep);
    // What has seen a bar that is not final could not go on from it: the last of a series that grows is left out.
    const isOpen = isGrowing();
    if (isOpen) kept = step;
    const sources = (entries as readonly NumberEntry[]).map(({ values }) => values);
    const first = (entries as readonly NumberEntry[]).reduce((latest, entry) => Math.max(latest, entry.first), 0);
    const length = sources[0]!.length;
    const n = isOpen ? length - 1 : length;
    const width = sources.length;
    const out = newColumn(length, first);
    if (isOpen) out[n] = Number.NaN;
    const values: number[] = new Array(width).fill(0);
    for (let i = startAt(first); i < n; i++) {
      for (let k = 0; k < width; k++) values[k] = sources[k]![i]!;
      const value = width === 1 ? step(values[0]!) : width === 2 ? step(values[0]!, values[1]!) : step.apply(undefined, values);
      if (typeof value !== "number")
        throw new PlanTesterError(
          "plan-error",
          `stepwise(): the step must return a number for every bar; at bar ${i} it returned ${describe(value)}.`,
        );
      out[i] = value;
    }
    return { values: out, first };
  });
}
