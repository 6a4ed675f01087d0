/**
 * What a plan holds of its data: number columns, crossings and states. They are windows on whole columns, read at the
 * run's cursor; the arrays behind them are out of a plan's reach.
 */
import { PlanTesterError } from "../errors.ts";
import { type ColumnValues, newColumn } from "../studies/definition.ts";
import { displaced } from "../studies/expression.ts";
import type { Cursor } from "./cursor.ts";
import { bitsOf, type Crossings, type FlagEntry, type FlagValues, type NumberEntry, type StudyStore, toInt32 } from "./study-store.ts";

/** One run's scope: its store, its cursor and whether studies may still be declared. */
export interface Scope {
  readonly store: StudyStore;
  readonly cursor: Cursor;
  /** Largest `first` of all columns used so far: handlers start there (R7.3). */
  warmUp: number;
  sealed: boolean;
}

export type Value = Column | number;

export let entryOf: (column: Column) => NumberEntry;
export let scopeOf: (column: Column) => Scope;
export let flagsOf: (condition: Condition) => FlagEntry;
let scopeOfCondition: (condition: Condition) => Scope;

function checkBack(bars: number): void {
  if (!(bars >= 0) || !Number.isInteger(bars))
    throw new PlanTesterError("plan-error", `ago(${String(bars)}): give a whole number of bars back, 0 or more. A plan can't look ahead.`);
}

export class Column {
  readonly #entry: NumberEntry;
  readonly #scope: Scope;
  readonly #cursor: Cursor;

  static {
    entryOf = (column) => column.#entry;
    scopeOf = (column) => column.#scope;
  }

  constructor(scope: Scope, entry: NumberEntry) {
    this.#entry = entry;
    this.#scope = scope;
    this.#cursor = scope.cursor;
    if (entry.first > scope.warmUp) scope.warmUp = entry.first;
  }

  get now(): number {
    return this.#entry.values[this.#cursor.index]!;
  }

  ago(bars: number): number {
    checkBack(bars);
    const at = this.#cursor.index - bars;
    return at < 0 ? Number.NaN : this.#entry.values[at]!;
  }

  earlier(bars: number): Column {
    checkBack(bars);
    const from = this.#entry;
    return derive(this.#scope, `${from.key}[${bars}]`, () => displaced(from, bars));
  }

  plus(other: Value): Column {
    return combine(this, "+", other, (a, b) => a + b);
  }

  minus(other: Value): Column {
    return combine(this, "-", other, (a, b) => a - b);
  }

  times(other: Value): Column {
    return combine(this, "*", other, (a, b) => a * b);
  }

  over(other: Value): Column {
    return combine(this, "/", other, (a, b) => a / b);
  }

  toString(): string {
    return this.#entry.key;
  }
}

/** @throws PlanTesterError plan-error once build() is over: a study made bar by bar would be computed anew each time. */
function checkOpen(scope: Scope, key: string): void {
  if (scope.sealed)
    throw new PlanTesterError(
      "plan-error",
      `${key} is declared in a handler. Declare studies and conditions in build(), once, and read them with .now in handlers.`,
    );
}

function derive(scope: Scope, key: string, compute: NumberEntry["compute"]): Column {
  checkOpen(scope, key);
  return new Column(scope, scope.store.number(key, compute));
}

export { derive as deriveColumn };

/** The entry of a column, or of a column that holds one number throughout. */
function operand(scope: Scope, value: Value, where: string): NumberEntry {
  if (typeof value !== "number") return entryOf(asColumn(value, where));
  return scope.store.number(String(value), (bars) => ({ values: new Float64Array(bars.length).fill(value), first: 0 }));
}

function combine(a: Column, sign: string, b: Value, operation: (x: number, y: number) => number): Column {
  const left = entryOf(a);
  const right = operand(scopeOf(a), b, sign);
  return derive(scopeOf(a), `(${left.key} ${sign} ${right.key})`, () => {
    const first = Math.max(left.first, right.first);
    const values = newColumn(left.values.length, first);
    const n = values.length;
    for (let i = first; i < n; i++) values[i] = operation(left.values[i]!, right.values[i]!);
    return { values, first };
  });
}

/** @throws PlanTesterError plan-error when the value is not a column. */
export function asColumn(value: unknown, where: string): Column {
  if (value instanceof Column) return value;
  throw new PlanTesterError("plan-error", `${where} takes a column such as bars.close or a study; it got ${describe(value)}.`);
}

export function describe(value: unknown): string {
  if (value === undefined) return "nothing";
  if (typeof value === "string") return `the text "${value.slice(0, 40)}"`;
  if (typeof value === "number" || typeof value === "boolean" || value === null) return String(value);
  if (value instanceof Condition) return "a condition";
  if (value instanceof Column) return "a column";
  return typeof value === "function" ? "a function" : "an object";
}

/** A yes or no for every bar. */
export class Condition {
  readonly #entry: FlagEntry;
  readonly #scope: Scope;
  readonly #cursor: Cursor;

  static {
    flagsOf = (condition) => condition.#entry;
    scopeOfCondition = (condition) => condition.#scope;
  }

  constructor(scope: Scope, entry: FlagEntry) {
    this.#entry = entry;
    this.#scope = scope;
    this.#cursor = scope.cursor;
    if (entry.first > scope.warmUp) scope.warmUp = entry.first;
  }

  get now(): boolean {
    return (this.#entry.bits ?? bitsOf(this.#entry))[this.#cursor.index] === 1;
  }

  ago(bars: number): boolean {
    checkBack(bars);
    const at = this.#cursor.index - bars;
    return at >= 0 && bitsOf(this.#entry)[at] === 1;
  }

  /** A crossing that also needs a state stays a crossing; two states make a state. */
  and(other: Condition): Condition {
    const kind = this instanceof Crossing || other instanceof Crossing ? Crossing : State;
    return logic(this.#scope, this, "and", other, kind, (a, b) => a & b);
  }

  or(other: Condition): Condition {
    const kind = this instanceof Crossing && other instanceof Crossing ? Crossing : State;
    return logic(this.#scope, this, "or", other, kind, (a, b) => a | b);
  }

  not(): State {
    const from = this.#entry;
    return deriveFlags(this.#scope, `not ${from.key}`, State, () => {
      const source = bitsOf(from);
      const bits = new Uint8Array(source.length);
      const n = bits.length;
      for (let i = from.first; i < n; i++) bits[i] = source[i]! ^ 1;
      return { bits, first: from.first };
    });
  }

  toString(): string {
    return this.#entry.key;
  }
}

/** True only on the bar on which something happens. */
export class Crossing extends Condition {}

/** True for as long as something holds. */
export class State extends Condition {}

type ConditionKind<T extends Condition> = new (scope: Scope, entry: FlagEntry) => T;

export function deriveFlags<T extends Condition>(scope: Scope, key: string, kind: ConditionKind<T>, compute: () => FlagValues): T {
  checkOpen(scope, key);
  return new kind(scope, scope.store.flag(key, compute));
}

function logic<T extends Condition>(
  scope: Scope,
  a: Condition,
  word: string,
  b: Condition,
  kind: ConditionKind<T>,
  operation: (x: number, y: number) => number,
): T {
  if (!(b instanceof Condition))
    throw new PlanTesterError(
      "plan-error",
      `${word}() takes a condition such as isAbove(...) or crossesAbove(...); it got ${describe(b)}.`,
    );
  const [left, right] = [flagsOf(a), flagsOf(b)];
  return deriveFlags(scope, `(${left.key} ${word} ${right.key})`, kind, () => {
    const [one, two] = [bitsOf(left), bitsOf(right)];
    const bits = new Uint8Array(one.length);
    const first = Math.max(left.first, right.first);
    const n = bits.length;
    for (let i = first; i < n; i++) bits[i] = operation(one[i]!, two[i]!);
    return { bits, first };
  });
}

/** Declares a condition on a column and a column or number. */
function compare<T extends Condition>(
  name: string,
  a: Column,
  b: Value,
  kind: ConditionKind<T>,
  test: (x: NumberEntry, y: NumberEntry) => FlagValues,
): T {
  const left = entryOf(asColumn(a, `${name}()`));
  const right = operand(scopeOf(a), b, `${name}()`);
  return deriveFlags(scopeOf(a), `${name}(${left.key}, ${right.key})`, kind, () => test(left, right));
}

/** Both ways in one pass. */
function crossingsOf(x: Float64Array, y: Float64Array, first: number): Crossings {
  const n = x.length;
  const up: number[] = [];
  const down: number[] = [];
  let wasAbove = true;
  let wasBelow = true;
  for (let i = first; i < n; i++) {
    const a = x[i]!;
    const b = y[i]!;
    if (a > b) {
      if (!wasAbove) up.push(i);
      wasAbove = true;
      wasBelow = false;
    } else {
      wasAbove = false;
      if (a < b) {
        if (!wasBelow) down.push(i);
        wasBelow = true;
      } else wasBelow = false;
    }
  }
  // The first bar has no bar before it: it begins as both, so that nothing crosses on it.
  return { up: toInt32(up), down: toInt32(down) };
}

function crossing(name: string, a: Column, b: Value, direction: "up" | "down"): Crossing {
  return compare(name, a, b, Crossing, (x, y) => {
    const first = Math.max(x.first, y.first);
    const both = scopeOf(a).store.crossings(x, y, () => crossingsOf(x.values, y.values, first));
    return { hits: both[direction], first: first + 1 };
  });
}

function state(test: (x: Float64Array, y: Float64Array, bits: Uint8Array, first: number, n: number) => void) {
  return (x: ColumnValues, y: ColumnValues): FlagValues => {
    const n = x.values.length;
    const bits = new Uint8Array(n);
    const first = Math.max(x.first, y.first);
    // The end goes in as a number: reading a length in a loop is slow once prototypes are frozen.
    test(x.values, y.values, bits, first, n);
    return { bits, first };
  };
}

/** True on the bar on which a, at or below b on the bar before, is above b. */
export function crossesAbove(a: Column, b: Value): Crossing {
  return crossing("crossesAbove", a, b, "up");
}

/** True on the bar on which a, at or above b on the bar before, is below b. */
export function crossesBelow(a: Column, b: Value): Crossing {
  return crossing("crossesBelow", a, b, "down");
}

const above = state((x, y, bits, first, n) => {
  for (let i = first; i < n; i++) if (x[i]! > y[i]!) bits[i] = 1;
});

const below = state((x, y, bits, first, n) => {
  for (let i = first; i < n; i++) if (x[i]! < y[i]!) bits[i] = 1;
});

export function isAbove(a: Column, b: Value): State {
  return compare("isAbove", a, b, State, above);
}

export function isBelow(a: Column, b: Value): State {
  return compare("isBelow", a, b, State, below);
}

/** The bar on which a state begins: it holds now and did not on the bar before. */
export function becomes(state: Condition): Crossing {
  if (!(state instanceof Condition))
    throw new PlanTesterError("plan-error", `becomes() takes a state such as isAbove(...); it got ${describe(state)}.`);
  const from = flagsOf(state);
  return deriveFlags(scopeOfCondition(state), `becomes(${from.key})`, Crossing, () => {
    const source = bitsOf(from);
    const bits = new Uint8Array(source.length);
    const first = from.first + 1;
    const n = bits.length;
    for (let i = first; i < n; i++) if (source[i] === 1 && source[i - 1] === 0) bits[i] = 1;
    return { bits, first };
  });
}
