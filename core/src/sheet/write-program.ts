/**
 * The program of a rule sheet: what is run, and what one goes on with in code. Every number is an input, every rule a
 * named condition under its own sentence. The same sheet gives the same text.
 */

import { rowCode } from "./codes.ts";
import { camelCase } from "./identifiers.ts";
import { mapRow } from "./map-numbers.ts";
import { aboutOf, capital, safeText, testName } from "./program-inputs.ts";
import { ProgramText, wrapped } from "./program-text.ts";
import { isMoment, type RuleSheet, type SheetGroup, type SheetPart, type SheetRow, type SheetRule } from "./sheet.ts";
import { checkSheet } from "./sheet-problems.ts";
import { rulesOfSides, sidesOf } from "./sides.ts";
import { activeRules, rowText } from "./words.ts";
import { ActsWriter, type Named, turnedCode } from "./write-acts.ts";

export interface WrittenProgram {
  readonly source: string;
  /** The row that each line says, by line number from 1; lines of no row are not in it. */
  readonly rowOfLine: ReadonlyMap<number, string>;
  /** The name of each row's condition, by its part and id: "longEntry:a"; of a whole part by its own: "longEntry". */
  readonly conditions: ReadonlyMap<string, string>;
  /** Each input with what it is where nothing else is set. */
  readonly inputs: ReadonlyMap<string, number | string>;
}

/** @throws PlanTesterError bad-plan naming what does not fit in the sheet */
export function writeProgram(sheet: RuleSheet): WrittenProgram {
  checkSheet(sheet);
  return new ProgramWriter(sheet).write();
}

class ProgramWriter {
  readonly #sheet: RuleSheet;
  readonly #text = new ProgramText();
  readonly #acts: ActsWriter;
  readonly #conditions = new Map<string, string>();

  constructor(sheet: RuleSheet) {
    this.#sheet = sheet;
    this.#acts = new ActsWriter(sheet, this.#text);
  }

  write(): WrittenProgram {
    this.#rules();
    return { ...this.#text.assemble(this.#sheet), conditions: this.#conditions, inputs: this.#text.inputs.defaults };
  }

  /** A group with code in place of its numbers. */
  #inCode(group: SheetGroup, suffix: string): SheetGroup<string> {
    const code = (rule: SheetRule): SheetRule<string> =>
      rule.kind === "group" ? { ...rule, rules: activeRules(rule).map(code) } : this.#rowInCode(rule, suffix);
    return { ...group, rules: activeRules(group).map(code) };
  }

  #rowInCode(row: SheetRow, suffix: string): SheetRow<string> {
    const group = capital(safeText(row.name) || rowText(row));
    const base = row.name === "" ? "" : camelCase(row.name);
    const rule = { base: base && base + suffix, about: aboutOf(row.test), group: group.length > 60 ? `${group.slice(0, 58)}…` : group };
    return mapRow(row, this.#text.mapFor(rule));
  }

  #rules(): void {
    const sheet = this.#sheet;
    const parts = {
      longEntry: this.#inCode(sheet.longEntry, ""),
      longExit: this.#inCode(sheet.longExit, ""),
      shortEntry: this.#inCode(sheet.shortEntry, sheet.shortMirrorsLong ? "Short" : ""),
      shortExit: this.#inCode(sheet.shortExit, sheet.shortMirrorsLong ? "Short" : ""),
    };
    const code = sidesOf(sheet, parts, turnedCode);
    const words = rulesOfSides(sheet);
    const filters = this.#group(this.#inCode(sheet.filters, ""), sheet.filters, "filters", "Filters of every entry", "");
    this.#acts.begin();
    const exits = this.#acts.exits(code);
    for (const side of ["long", "short"] as const) {
      const suffix = side === "short" && sheet.shortMirrorsLong ? "Short" : "";
      const entry = this.#group(code[side].entry, words[side].entry, `${side}Entry`, `${side === "long" ? "Long" : "Short"} entry`, suffix);
      if (entry) this.#acts.entry(side, entry, filters, exits);
      const exit = this.#group(code[side].exit, words[side].exit, `${side}Exit`, `${side === "long" ? "Long" : "Short"} exit`, suffix);
      if (exit) this.#acts.exit(side, exit);
    }
    this.#acts.end();
  }

  /** Declares the rows of a part, each under its sentence; answers their combination, or null when there is none. */
  #group(code: SheetGroup<string>, words: SheetGroup, part: SheetPart, heading: string, suffix: string): Named | null {
    const rules = activeRules(code);
    if (rules.length === 0) return null;
    this.#text.gap();
    this.#text.add(`// ${heading}`);
    const sentences = new Map<string, SheetRow>();
    const collect = (rule: SheetRule): void => {
      if (rule.kind === "row") sentences.set(rule.id, rule);
      else for (const inner of rule.rules) collect(inner);
    };
    collect(words);
    const whole = this.#combined({ ...code, rules }, (row) => {
      const { name, comment } = row;
      const sentence = rowText(sentences.get(row.id)!);
      for (const text of wrapped(safeText(comment))) this.#text.add(`// ${text}`, row.id);
      this.#text.add(`// ${safeText(name) ? `${safeText(name)}: ${sentence}` : sentence}`, row.id);
      const variable = this.#text.names.take(camelCase(name === "" ? testName(row.test) : `${name}${suffix === "" ? "" : ` ${suffix}`}`));
      this.#conditions.set(`${part}:${row.id}`, variable);
      this.#text.add(`const ${variable} = ${rowCode(row, this.#text.barNames)};`, row.id);
      return { code: variable, isMoment: isMoment(row) };
    });
    const isNamed = /^\w+$/.test(whole.code);
    const name = isNamed ? whole.code : this.#text.names.take(part);
    this.#conditions.set(part, name);
    if (!isNamed) this.#text.add(`const ${name} = ${whole.code};`);
    return { ...whole, code: name };
  }

  #combined(group: SheetGroup<string>, declare: (row: SheetRow<string>) => Named): Named {
    const parts = group.rules.map((rule) => (rule.kind === "row" ? declare(rule) : this.#combined(rule, declare)));
    const [first, ...rest] = parts as [Named, ...Named[]];
    const word = group.of === "all" ? "and" : "or";
    const joined = first.code + rest.map(({ code }) => `.${word}(${code})`).join("");
    if (group.of === "none") return { code: `${joined}.not()`, isMoment: false };
    const happens = group.of === "all" ? parts.some((part) => part.isMoment) : parts.every((part) => part.isMoment);
    return { code: joined, isMoment: happens };
  }
}
