/** Columns and conditions that remember: since an event, when it last was, rising for some bars, between two bounds. */
import { PlanTesterError } from "../errors.ts";
import { firstBar, newBits, newColumn, startAt } from "../studies/growth.ts";
import {
  asColumn,
  asCondition,
  type Column,
  type Condition,
  deriveColumn,
  deriveFlags,
  describe,
  entryOf,
  flagsOf,
  isAbove,
  isAtOrAbove,
  isAtOrBelow,
  isBelow,
  operand,
  type State,
  State as StateClass,
  scopeOf,
  scopeOfCondition,
  type Value,
} from "./columns.ts";
import { bitsOf, type FlagEntry, type NumberEntry } from "./study-store.ts";

/** What is carried from bar to bar needs all of the history: no few bars are enough for a forming value. */
const ALL_HISTORY = Number.POSITIVE_INFINITY;

function wholeBars(value: unknown, where: string): number {
  if (typeof value === "number" && Number.isInteger(value) && value >= 1 && value <= 100_000) return value;
  throw new PlanTesterError("plan-error", `${where} takes a whole number of bars from 1 to 100000; it got ${describe(value)}.`);
}

/** Folds a column over the bars since a condition last held; NaN before it first did. */
function sinceEvent(
  name: string,
  condition: Condition,
  source: Column,
  next: (kept: number, value: number, holds: boolean) => number,
): Column {
  const flags = flagsOf(asCondition(condition, `${name}()`));
  const scope = scopeOfCondition(condition);
  const column = operand(scope, asColumn(source, `${name}()`), `${name}()`);
  return deriveColumn(scope, `${name}(${flags.key}, ${column.key})`, ALL_HISTORY, [flags, column], (_bars, parts) => {
    const [when, what] = parts as readonly [FlagEntry, NumberEntry];
    const bits = bitsOf(when);
    const n = when.length;
    const i = firstBar(n, Math.max(when.first, what.first), (k) => bits[k] === 1);
    const out = newColumn(n, i);
    const start = startAt(i);
    let kept = start > i ? out[start - 1]! : Number.NaN;
    for (let k = start; k < n; k++) {
      kept = next(kept, what.values[k]!, bits[k] === 1);
      out[k] = kept;
    }
    return { values: out, first: i };
  });
}

/** The value that a column had when a condition last held. */
export const valueWhen = (condition: Condition, source: Column): Column =>
  sinceEvent("valueWhen", condition, source, (kept, value, holds) => (holds ? value : kept));

/** The highest value since a condition last held, that bar included; values that are no number (0 over 0) are passed over. */
export const highestSince = (condition: Condition, source: Column): Column =>
  sinceEvent("highestSince", condition, source, (kept, value, holds) => (holds || value > kept || Number.isNaN(kept) ? value : kept));

/** The lowest value since a condition last held, that bar included; values that are no number (0 over 0) are passed over. */
export const lowestSince = (condition: Condition, source: Column): Column =>
  sinceEvent("lowestSince", condition, source, (kept, value, holds) => (holds || value < kept || Number.isNaN(kept) ? value : kept));

/** Bars since a condition last held: 0 on that bar. */
export function barsSince(condition: Condition): Column {
  const flags = flagsOf(asCondition(condition, "barsSince()"));
  return deriveColumn(scopeOfCondition(condition), `barsSince(${flags.key})`, ALL_HISTORY, [flags], (_bars, parts) => {
    const when = parts[0] as FlagEntry;
    const bits = bitsOf(when);
    const n = when.length;
    const i = firstBar(n, when.first, (k) => bits[k] === 1);
    const out = newColumn(n, i);
    const start = startAt(i);
    let since = start > i ? out[start - 1]! : 0;
    for (let k = start; k < n; k++) {
      since = bits[k] === 1 ? 0 : since + 1;
      out[k] = since;
    }
    return { values: out, first: i };
  });
}

/** On how many of the last `span` bars a condition held. */
export function countOf(condition: Condition, span: number): Column {
  const bars = wholeBars(span, "countOf()");
  const flags = flagsOf(asCondition(condition, "countOf()"));
  return deriveColumn(scopeOfCondition(condition), `countOf(${flags.key}, ${bars})`, bars, [flags], (_bars, parts) => {
    const when = parts[0] as FlagEntry;
    const flagged = bitsOf(when);
    const n = when.length;
    const first = when.first + bars - 1;
    const out = newColumn(n, first);
    const from = startAt(first);
    let count = 0;
    for (let i = Math.max(when.first, from - bars + 1); i < n; i++) {
      count += flagged[i]!;
      if (i > from && i - bars >= when.first) count -= flagged[i - bars]!;
      if (i >= from) out[i] = count;
    }
    return { values: out, first };
  });
}

function running(name: string, source: Column, span: number, goesOn: (now: number, before: number) => boolean): State {
  const bars = wholeBars(span, `${name}()`);
  const entry = entryOf(asColumn(source, `${name}()`));
  return deriveFlags(scopeOf(source), `${name}(${entry.key}, ${bars})`, StateClass, bars, [entry], (_bars, parts) => {
    const { values, first } = parts[0] as NumberEntry;
    const n = values.length;
    const flagged = newBits(n);
    const from = startAt(first + 1);
    let run = 0;
    while (run < bars && from - 1 - run > first && goesOn(values[from - 1 - run]!, values[from - 2 - run]!)) run++;
    for (let i = from; i < n; i++) {
      run = goesOn(values[i]!, values[i - 1]!) ? run + 1 : 0;
      if (run >= bars) flagged[i] = 1;
    }
    return { bits: flagged, first: first + bars };
  });
}

/** Each of the last `span` values is above the one before it. */
export const isRising = (source: Column, span = 1): State => running("isRising", source, span, (now, before) => now > before);
/** Each of the last `span` values is below the one before it. */
export const isFalling = (source: Column, span = 1): State => running("isFalling", source, span, (now, before) => now < before);

const ENDS = ["both", "neither", "lower", "upper"] as const;

/** Between two bounds; which of them count is said. */
export function isBetween(source: Column, low: Value, high: Value, ends: (typeof ENDS)[number]): State {
  if (!ENDS.includes(ends))
    throw new PlanTesterError(
      "plan-error",
      `isBetween() says which ends count: ${ENDS.map((end) => `"${end}"`).join(", ")}; it got ${describe(ends)}.`,
    );
  const fromLow = ends === "both" || ends === "lower" ? isAtOrAbove(source, low) : isAbove(source, low);
  const toHigh = ends === "both" || ends === "upper" ? isAtOrBelow(source, high) : isBelow(source, high);
  return fromLow.and(toHigh) as State;
}

/** One column where a condition holds, another where it does not. */
export function choose(condition: Condition, yes: Value, no: Value): Column {
  const flags = flagsOf(asCondition(condition, "choose()"));
  const scope = scopeOfCondition(condition);
  const [a, b] = [operand(scope, yes, "choose()"), operand(scope, no, "choose()")];
  return deriveColumn(scope, `choose(${flags.key}, ${a.key}, ${b.key})`, 0, [flags, a, b], (_bars, parts) => {
    const [when, x, y] = parts as readonly [FlagEntry, NumberEntry, NumberEntry];
    const bits = bitsOf(when);
    const n = when.length;
    const first = Math.max(when.first, x.first, y.first);
    const out = newColumn(n, first);
    for (let i = startAt(first); i < n; i++) out[i] = bits[i] === 1 ? x.values[i]! : y.values[i]!;
    return { values: out, first };
  });
}
