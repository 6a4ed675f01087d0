/** The inputs of the program that a sheet writes: every number of a rule, an exit, a size or a guard is one. */

import { camelCase, type Identifiers } from "./identifiers.ts";
import type { NumberRole } from "./map-numbers.ts";
import type { SheetTest, SheetValue } from "./sheet.ts";
import { spokenStudy } from "./study-words.ts";

/** Text as the program may hold it: what would load code or look like HTML is spelt otherwise. */
export const safeText = (text: string): string =>
  text
    .replace(/\s+/g, " ")
    .replace(/\bimport(\s*)\(/g, "import$1[")
    .replace(/<!--|-->/g, "--")
    .trim();

export const quoted = (text: string): string => JSON.stringify(safeText(text));

const MOST_BARS = 100_000;

export const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

export class ProgramInputs {
  readonly lines: string[] = [];
  /** What each is where nothing else is set. */
  readonly defaults = new Map<string, number | string>();
  readonly #names: Identifiers;

  constructor(names: Identifiers) {
    this.#names = names;
  }

  /** Declares an input; answers how the program speaks of it. */
  #declare(wanted: string, call: string, value: number | string, options: Readonly<Record<string, string | number | null>>): string {
    const name = this.#names.take(wanted);
    const given = Object.entries(options)
      .filter(([, option]) => option !== null && option !== "")
      .map(([key, option]) => `${key}: ${typeof option === "string" ? quoted(option) : option}`);
    this.defaults.set(name, value);
    this.lines.push(`${name}: ${call}(${JSON.stringify(value)}${given.length > 0 ? `, { ${given.join(", ")} }` : ""}),`);
    return `inputs.${name}`;
  }

  number(wanted: string, value: number, role: Omit<NumberRole, "name" | "of">, label: string, group: string): string {
    const { min, unit } = role;
    // A bound that nobody meets says nothing.
    const max = role.max !== null && role.max >= MOST_BARS ? null : role.max;
    const isWhole = role.whole && Number.isInteger(value);
    return this.#declare(wanted, isWhole ? "whole" : "decimal", value, { min, max, unit, label, group });
  }

  /** A number of a rule, named after the rule and what it is there for. */
  ofRule(value: number, role: NumberRole, rule: { readonly base: string; readonly about: string; readonly group: string }): string {
    const base = rule.base || (role.of === "" ? camelCase(rule.about) : role.of);
    const label = capital(role.of === "" ? role.name : `${spokenStudy(role.of)} ${role.name}`);
    return this.number(camelCase(`${base} ${role.name}`), value, role, label, rule.group);
  }

  time(wanted: string, value: string, label: string, group: string): string {
    return this.#declare(wanted, "time", value, { label, group });
  }

  instrument(symbol: string): string {
    return this.#declare(camelCase(symbol.toLowerCase()), "instrument", symbol, { label: symbol });
  }
}

/** A short name for what a value is: "close", "rsi". */
export function valueName<N>(value: SheetValue<N>): string {
  switch (value.kind) {
    case "number":
      return "number";
    case "price":
      return value.price;
    case "study":
    case "own":
      return value.study;
    case "math":
      return value.left.kind === "number" ? valueName(value.right) : valueName(value.left);
    case "size of":
      return valueName(value.value);
    case "since":
      return `${value.what} since`;
    case "bars since":
      return "bars since";
    case "count":
      return "count";
    case "of two":
      return valueName(value.left.kind === "number" ? value.right : value.left);
  }
}

/** A short name for what a test says: "rsi crosses below". */
export function testName<N>(test: SheetTest<N>): string {
  switch (test.kind) {
    case "compare":
      return `${aboutOf(test)} ${test.relation}`;
    case "between":
      return `${valueName(test.value)} is between`;
    case "trend":
      return `${valueName(test.value)} is ${test.way}`;
    case "bar":
      return test.against === "open" ? `bar is ${test.way}` : `bar closes ${test.way}`;
    case "time":
      return "hours";
    case "weekday":
      return "weekdays";
  }
}

/** What a test is about: "close", "rsi". */
export function aboutOf<N>(test: SheetTest<N>): string {
  switch (test.kind) {
    case "compare":
      return valueName(test.left.kind === "number" ? test.right : test.left);
    case "between":
    case "trend":
      return valueName(test.value);
    default:
      return test.kind;
  }
}
