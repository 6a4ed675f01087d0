/**
 * What a plan holds of its data: number columns, crossings and states. They are windows on whole columns, read at the
 * run's cursor; the arrays behind them are out of a plan's reach.
 */
import type { Distance } from "../engine/orders.ts";
import { PlanTesterError } from "../errors.ts";
import type { BarSeries } from "../market/bars.ts";
import type { ColumnValues } from "../studies/definition.ts";
import { displaced } from "../studies/displaced.ts";
import { firstBar, isGrowing, newBits, newColumn, startAt } from "../studies/growth.ts";
import type { Cursor } from "./cursor.ts";
import { formingFlag, formingNumber } from "./forming.ts";
import type { Scope } from "./scope.ts";
import {
  bitsOf,
  type Crossings,
  type Entry,
  type FlagEntry,
  type FlagFormula,
  type FlagValues,
  type NumberEntry,
  type NumberFormula,
  toInt32,
} from "./study-store.ts";

export type Value = Column | number;

export let entryOf: (column: Column) => NumberEntry;
export let scopeOf: (column: Column) => Scope;
/** Distances that are multiples of it, by their factors: kept with it, since what outlives a run may not point into one. */
export let multiplesOf: (column: Column) => Map<number, Distance>;
export let flagsOf: (condition: Condition) => FlagEntry;
export let scopeOfCondition: (condition: Condition) => Scope;

function checkBack(bars: number): void {
  if (!(bars >= 0) || !Number.isInteger(bars))
    throw new PlanTesterError("plan-error", `ago(${String(bars)}): give a whole number of bars back, 0 or more. A plan can't look ahead.`);
}

export class Column {
  readonly #entry: NumberEntry;
  readonly #scope: Scope;
  readonly #cursor: Cursor;
  #multiples: Map<number, Distance> | null = null;

  static {
    entryOf = (column) => column.#entry;
    scopeOf = (column) => column.#scope;
    multiplesOf = (column) => (column.#multiples ??= new Map());
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

  /** The value that it would have if the bar that is forming closed as it stands; `now` where none is forming. */
  get forming(): number {
    return this.#scope.forming ? formingNumber(this.#scope, this.#entry) : this.now;
  }

  ago(bars: number): number {
    checkBack(bars);
    const at = this.#cursor.index - bars;
    return at < 0 ? Number.NaN : this.#entry.values[at]!;
  }

  earlier(bars: number): Column {
    checkBack(bars);
    const from = this.#entry;
    return derive(this.#scope, `${from.key}[${bars}]`, bars, [from], (_bars, parts) => displaced(parts[0] as NumberEntry, bars));
  }

  plus(other: Value): Column {
    return combine(this, "+", other, add);
  }

  minus(other: Value): Column {
    return combine(this, "-", other, subtract);
  }

  times(other: Value): Column {
    return combine(this, "*", other, multiply);
  }

  over(other: Value): Column {
    return combine(this, "/", other, divide);
  }

  abs(): Column {
    const from = this.#entry;
    return derive(this.#scope, `abs(${from.key})`, 0, [from], (_bars, parts) => {
      const { values, first } = parts[0] as NumberEntry;
      const n = values.length;
      const out = newColumn(n, first);
      for (let i = startAt(first); i < n; i++) out[i] = Math.abs(values[i]!);
      return { values: out, first };
    });
  }

  toString(): string {
    return this.#entry.key;
  }

  /** As a text it is what it is called. Else `a > b` would compare names, and nobody would hear of it. */
  [Symbol.toPrimitive](hint: string): string {
    if (hint === "string") return this.#entry.key;
    throw new PlanTesterError(
      "plan-error",
      `"${this.#entry.key}" is a column, and was taken for a number. Its value at the last bar is .now; for every bar there are isAbove(a, b), a.plus(b), a.times(b).`,
    );
  }
}

type Operation = (a: Float64Array, b: Float64Array, out: Float64Array, first: number, n: number) => void;

// Each operation has a loop of its own: one loop that calls them would be slow for all.
const add: Operation = (a, b, out, first, n) => {
  for (let i = first; i < n; i++) out[i] = a[i]! + b[i]!;
};
const subtract: Operation = (a, b, out, first, n) => {
  for (let i = first; i < n; i++) out[i] = a[i]! - b[i]!;
};
const multiply: Operation = (a, b, out, first, n) => {
  for (let i = first; i < n; i++) out[i] = a[i]! * b[i]!;
};
const divide: Operation = (a, b, out, first, n) => {
  for (let i = first; i < n; i++) out[i] = a[i]! / b[i]!;
};
const largest: Operation = (a, b, out, first, n) => {
  for (let i = first; i < n; i++) out[i] = Math.max(a[i]!, b[i]!);
};
const smallest: Operation = (a, b, out, first, n) => {
  for (let i = first; i < n; i++) out[i] = Math.min(a[i]!, b[i]!);
};

/** @throws PlanTesterError plan-error once build() is over: a study made bar by bar would be computed anew each time. */
function checkOpen(scope: Scope, key: string): void {
  if (scope.run.sealed)
    throw new PlanTesterError(
      "plan-error",
      `${key} is declared in a handler. Declare studies and conditions in build(), once, and read them with .now in handlers.`,
    );
}

export function deriveColumn(scope: Scope, key: string, own: number, parts: readonly Entry[], formula: NumberFormula): Column {
  checkOpen(scope, key);
  return new Column(scope, scope.store.number(key, own, parts, formula));
}
const derive = deriveColumn;

/** A column of another scope as this one sees it: the value of the last bar that is completed there at each close. */
export function alignedEntry(scope: Scope, from: Scope, entry: NumberEntry): NumberEntry {
  if (from === scope) return entry;
  return scope.store.number(`${from.name || "main"}:${entry.key}`, Number.POSITIVE_INFINITY, [], (bars) => {
    const { values, first } = entry;
    const map = scope.store.alignment(from.store);
    const n = bars.length;
    const start = firstBar(n, 0, (i) => map[i]! >= first);
    const out = newColumn(n, start);
    for (let i = startAt(start); i < n; i++) out[i] = values[map[i]!]!;
    return { values: out, first: start };
  });
}

/** The same for a condition. A crossing of longer bars happens on one bar here too: the one at whose close the longer is completed. */
export function alignedFlags(scope: Scope, condition: Condition): FlagEntry {
  const [from, entry] = [scopeOfCondition(condition), flagsOf(condition)];
  if (from === scope) return entry;
  const isMoment = condition instanceof Crossing;
  return scope.store.flag(`${from.name || "main"}:${entry.key}${isMoment ? " once" : ""}`, Number.POSITIVE_INFINITY, [], (bars) => {
    const source = bitsOf(entry);
    const map = scope.store.alignment(from.store);
    const n = bars.length;
    const bits = newBits(n);
    const start = firstBar(n, 0, (i) => map[i]! >= entry.first);
    for (let i = startAt(start); i < n; i++) if (!isMoment || i === 0 || map[i] !== map[i - 1]) bits[i] = source[map[i]!]!;
    return { bits, first: start };
  });
}

/** The entry of a column, or of a column that holds one number throughout. */
export function operand(scope: Scope, value: Value, where: string): NumberEntry {
  if (typeof value === "number")
    return scope.store.number(String(value), 0, [], (bars) => ({ values: newColumn(bars.length, 0).fill(value, startAt(0)), first: 0 }));
  const column = asColumn(value, where);
  return alignedEntry(scope, scopeOf(column), entryOf(column));
}

/**
 * The scope in which two columns meet: the one whose bars are finer, so that a daily average beside hourly prices is read
 * on each hourly bar; of two instruments the first.
 */
export function meetingScope(a: Scope, b: Scope): Scope {
  if (a === b) return a;
  if (a.base && b.base) return a.store.bars.length >= b.store.bars.length ? a : b;
  return a.base ? b : a;
}

const meet = (a: Column, b: Value, where: string): Scope => {
  const scope = scopeOf(asColumn(a, where));
  return b instanceof Column ? meetingScope(scope, scopeOf(b)) : scope;
};

function combine(a: Column, sign: string, b: Value, operation: Operation): Column {
  const scope = meet(a, b, sign);
  const left = operand(scope, a, sign);
  const right = operand(scope, b, sign);
  return derive(scope, `(${left.key} ${sign} ${right.key})`, 0, [left, right], (_bars, parts) => {
    const [x, y] = parts as readonly [NumberEntry, NumberEntry];
    const first = Math.max(x.first, y.first);
    const n = x.values.length;
    const values = newColumn(n, first);
    operation(x.values, y.values, values, startAt(first), n);
    return { values, first };
  });
}

/** @throws PlanTesterError plan-error when the value is not a column. */
export function asColumn(value: unknown, where: string): Column {
  if (value instanceof Column) return value;
  throw new PlanTesterError("plan-error", `${where} takes a column such as bars.close or a study; it got ${describe(value)}.`);
}

/** @throws PlanTesterError plan-error when the value is not a condition. */
export function asCondition(value: unknown, where: string): Condition {
  if (value instanceof Condition) return value;
  throw new PlanTesterError(
    "plan-error",
    `${where} takes a condition such as isAbove(...) or crossesAbove(...); it got ${describe(value)}.`,
  );
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

  /** Whether it would hold if the bar that is forming closed as it stands; `now` where none is forming. */
  get forming(): boolean {
    return this.#scope.forming ? formingFlag(this.#scope, this.#entry) : this.now;
  }

  ago(bars: number): boolean {
    checkBack(bars);
    const at = this.#cursor.index - bars;
    return at >= 0 && bitsOf(this.#entry)[at] === 1;
  }

  /** A crossing that also needs a state stays a crossing; two states make a state. */
  and(other: Condition): Condition {
    const kind = this instanceof Crossing || other instanceof Crossing ? Crossing : State;
    return logic(this, "and", other, kind, (a, b) => a & b);
  }

  or(other: Condition): Condition {
    const kind = this instanceof Crossing && other instanceof Crossing ? Crossing : State;
    return logic(this, "or", other, kind, (a, b) => a | b);
  }

  not(): State {
    const from = this.#entry;
    return deriveFlags(this.#scope, `not ${from.key}`, State, 0, [from], (_bars, parts) => {
      const part = parts[0] as FlagEntry;
      const source = bitsOf(part);
      const n = part.length;
      const bits = newBits(n);
      for (let i = startAt(part.first); i < n; i++) bits[i] = source[i]! ^ 1;
      return { bits, first: part.first };
    });
  }

  toString(): string {
    return this.#entry.key;
  }

  [Symbol.toPrimitive](hint: string): string {
    if (hint === "string") return this.#entry.key;
    throw new PlanTesterError(
      "plan-error",
      `"${this.#entry.key}" is a condition, and was taken for a value. Whether it holds at the last bar is .now; conditions are joined by a.and(b) and a.or(b).`,
    );
  }
}

/** True only on the bar on which something happens. */
export class Crossing extends Condition {}

/** True for as long as something holds. */
export class State extends Condition {}

type ConditionKind<T extends Condition> = new (scope: Scope, entry: FlagEntry) => T;

export function deriveFlags<T extends Condition>(
  scope: Scope,
  key: string,
  kind: ConditionKind<T>,
  own: number,
  parts: readonly Entry[],
  formula: FlagFormula,
): T {
  checkOpen(scope, key);
  return new kind(scope, scope.store.flag(key, own, parts, formula));
}

function logic<T extends Condition>(
  a: Condition,
  word: string,
  b: Condition,
  kind: ConditionKind<T>,
  operation: (x: number, y: number) => number,
): T {
  asCondition(b, `${word}()`);
  const [one, other] = [scopeOfCondition(a), scopeOfCondition(b)];
  const scope = meetingScope(one, other);
  const [left, right] = [alignedFlags(scope, a), alignedFlags(scope, b)];
  return deriveFlags(scope, `(${left.key} ${word} ${right.key})`, kind, 0, [left, right], (_bars, parts) => {
    const [p, q] = parts as readonly [FlagEntry, FlagEntry];
    const [x, y] = [bitsOf(p), bitsOf(q)];
    const n = p.length;
    const bits = newBits(n);
    const first = Math.max(p.first, q.first);
    for (let i = startAt(first); i < n; i++) bits[i] = operation(x[i]!, y[i]!);
    return { bits, first };
  });
}

/** Declares a condition on a column and a column or number. */
function compare<T extends Condition>(
  name: string,
  a: Column,
  b: Value,
  kind: ConditionKind<T>,
  own: number,
  test: (x: NumberEntry, y: NumberEntry, bars: BarSeries) => FlagValues,
): T {
  const scope = meet(a, b, `${name}()`);
  const left = operand(scope, a, `${name}()`);
  const right = operand(scope, b, `${name}()`);
  return deriveFlags(scope, `${name}(${left.key}, ${right.key})`, kind, own, [left, right], (bars, parts) =>
    test(parts[0] as NumberEntry, parts[1] as NumberEntry, bars),
  );
}

/** Both ways in one pass. */
function crossingsOf(x: Float64Array, y: Float64Array, first: number): Crossings {
  const n = x.length;
  const up: number[] = [];
  const down: number[] = [];
  // The first bar has no bar before it, so that nothing crosses on it. Then from one change of sides to the next.
  let i = first;
  while (i < n) {
    if (x[i]! > y[i]!) {
      do i++;
      while (i < n && x[i]! > y[i]!);
      if (i < n && x[i]! < y[i]!) down.push(i);
    } else if (x[i]! < y[i]!) {
      do i++;
      while (i < n && x[i]! < y[i]!);
      if (i < n && x[i]! > y[i]!) up.push(i);
    } else {
      i++;
      if (i < n && x[i]! > y[i]!) up.push(i);
      else if (i < n && x[i]! < y[i]!) down.push(i);
    }
  }
  return { up: toInt32(up), down: toInt32(down) };
}

/** The same one way, bar by bar: on a series that grows. */
function crossingBits(x: Float64Array, y: Float64Array, first: number, direction: "up" | "down"): Uint8Array {
  const n = x.length;
  const bits = newBits(n);
  const [a, b] = direction === "up" ? [x, y] : [y, x];
  for (let i = startAt(first + 1); i < n; i++) if (a[i]! > b[i]! && !(a[i - 1]! > b[i - 1]!)) bits[i] = 1;
  return bits;
}

function crossing(name: string, a: Column, b: Value, direction: "up" | "down"): Crossing {
  const scope = meet(a, b, `${name}()`);
  return compare(name, a, b, Crossing, 1, (x, y, bars) => {
    const first = Math.max(x.first, y.first);
    if (isGrowing()) return { bits: crossingBits(x.values, y.values, first, direction), first: first + 1 };
    const make = (): Crossings => crossingsOf(x.values, y.values, first);
    const both = bars === scope.store.bars ? scope.store.crossings(x, y, make) : make();
    return { hits: both[direction], first: first + 1 };
  });
}

function state(test: (x: Float64Array, y: Float64Array, bits: Uint8Array, first: number, n: number) => void) {
  return (x: ColumnValues, y: ColumnValues): FlagValues => {
    const n = x.values.length;
    const bits = newBits(n);
    const first = Math.max(x.first, y.first);
    // The end goes in as a number: reading a length in a loop is slow once prototypes are frozen.
    test(x.values, y.values, bits, startAt(first), n);
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

/** True on the bar on which a crosses b either way. */
export function crosses(a: Column, b: Value): Crossing {
  return crossesAbove(a, b).or(crossesBelow(a, b)) as Crossing;
}

const above = state((x, y, bits, first, n) => {
  for (let i = first; i < n; i++) if (x[i]! > y[i]!) bits[i] = 1;
});

const below = state((x, y, bits, first, n) => {
  for (let i = first; i < n; i++) if (x[i]! < y[i]!) bits[i] = 1;
});

const atOrAbove = state((x, y, bits, first, n) => {
  for (let i = first; i < n; i++) if (x[i]! >= y[i]!) bits[i] = 1;
});

const atOrBelow = state((x, y, bits, first, n) => {
  for (let i = first; i < n; i++) if (x[i]! <= y[i]!) bits[i] = 1;
});

export const isAbove = (a: Column, b: Value): State => compare("isAbove", a, b, State, 0, above);
export const isBelow = (a: Column, b: Value): State => compare("isBelow", a, b, State, 0, below);
export const isAtOrAbove = (a: Column, b: Value): State => compare("isAtOrAbove", a, b, State, 0, atOrAbove);
export const isAtOrBelow = (a: Column, b: Value): State => compare("isAtOrBelow", a, b, State, 0, atOrBelow);

/** The larger of two, bar by bar. */
export const larger = (a: Column, b: Value): Column => combine(a, "larger", b, largest);
/** The smaller of two, bar by bar. */
export const smaller = (a: Column, b: Value): Column => combine(a, "smaller", b, smallest);

/** The bar on which a state begins: it holds now and did not on the bar before. */
export function becomes(state: Condition): Crossing {
  const from = flagsOf(asCondition(state, "becomes()"));
  return deriveFlags(scopeOfCondition(state), `becomes(${from.key})`, Crossing, 1, [from], (_bars, parts) => {
    const part = parts[0] as FlagEntry;
    const source = bitsOf(part);
    const n = part.length;
    const bits = newBits(n);
    const first = part.first + 1;
    for (let i = startAt(first); i < n; i++) if (source[i] === 1 && source[i - 1] === 0) bits[i] = 1;
    return { bits, first };
  });
}
