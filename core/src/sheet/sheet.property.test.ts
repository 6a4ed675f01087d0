/**
 * Random sheets: a sentence is read back as the rule that it was written from; the written program's conditions hold on the
 * bars on which a slow reading of the sheet says so; and a mirrored rule does on bars turned upside down what the rule does.
 */
import fc from "fast-check";
import { expect, test } from "vitest";
import { alignedFlags, scopeOfCondition } from "../language/columns.ts";
import { bitsOf } from "../language/study-store.ts";
import { VOCABULARY } from "../language/vocabulary.ts";
import { tradedWalk } from "../testing/bars.ts";
import { backtestOf } from "../testing/run.ts";
import { row, sheet as sheets } from "../testing/sheets.ts";
import { SlowSheet } from "../testing/slow-sheet.ts";
import { readRules } from "./read-sentence.ts";
import { type RuleSheet, SHEET_PARTS, type SheetRow, type SheetRule } from "./sheet.ts";
import { rulesOfSides } from "./sides.ts";
import { activeRules, rowText } from "./words.ts";
import { writeProgram } from "./write-program.ts";

const RUNS = Number(process.env.SHEETS ?? 300);
const bars = tradedWalk(400, 5);

test("a row's sentence is read as the row", () => {
  fc.assert(
    fc.property(row, (one) => {
      const { of, rows } = readRules(rowText(one));
      expect(of).toBe("all");
      expect(rows).toEqual([{ test: one.test, heldFor: one.heldFor, within: one.within }]);
    }),
    { numRuns: RUNS * 5 },
  );
});

/** The bits of every named condition of a program, by name; the program is built on the bars, as a run does it. */
function conditionsOf(source: string, names: readonly string[]): Map<string, boolean[]> {
  const found = new Map<string, boolean[]>();
  const asScript = source
    .replace(/^export default /m, "return ")
    .replace(/^(\s*let \w+): Order \| undefined;/gm, "$1;")
    .replace(/\n {2}\},\n\}\);\n$/, `\n    keep({ ${names.join(", ")} });\n  },\n});\n`);
  expect(asScript).toContain("keep({");
  const known = { ...VOCABULARY, keep: undefined as unknown };
  known.keep = (conditions: Record<string, never>): void => {
    for (const [name, condition] of Object.entries(conditions)) {
      const seen = bitsOf(alignedFlags(scopeOfCondition(condition).run.scopes[0]!, condition));
      const holds = Array.from(seen, (bit) => bit === 1);
      found.set(name, holds);
    }
  };
  const declared = new Function(...Object.keys(known), asScript)(...Object.values(known));
  backtestOf(bars, declared.build, { inputs: declared.inputs });
  return found;
}

const rowsOf = (rules: readonly SheetRule[]): SheetRow[] =>
  rules.flatMap((rule) => (rule.kind === "row" ? [rule] : rowsOf(activeRules(rule))));

/** Every active row of every part, as the short side has it after mirroring. */
function activeRows(sheet: RuleSheet): { readonly key: string; readonly row: SheetRow }[] {
  const { long, short } = rulesOfSides(sheet);
  const parts = { longEntry: long.entry, longExit: long.exit, shortEntry: short.entry, shortExit: short.exit, filters: sheet.filters };
  return SHEET_PARTS.flatMap((part) => rowsOf(activeRules(parts[part])).map((one) => ({ key: `${part}:${one.id}`, row: one })));
}

test("the written program's conditions are those of a slow reading, bar by bar", () => {
  let held = 0;
  fc.assert(
    fc.property(sheets, (sheet) => {
      const { source, conditions } = writeProgram(sheet);
      const rows = activeRows(sheet);
      expect([...conditions.keys()].filter((key) => key.includes(":")).sort()).toEqual(rows.map(({ key }) => key).sort());
      const bits = conditionsOf(source, [...conditions.values()]);
      const slow = new SlowSheet(bars);
      for (const { key, row: one } of rows) {
        const expected = slow.bits(one);
        const name = conditions.get(key)!;
        const differs = expected.findIndex((holds, i) => holds !== bits.get(name)![i]);
        expect(differs, `first bar on which ${rowText(one)} differs\n${source}`).toBe(-1);
        if (expected.some(Boolean) && !expected.every(Boolean)) held++;
      }
    }),
    { numRuns: RUNS },
  );
  // Rules that hold now and then: the others would prove little.
  expect(held).toBeGreaterThan(RUNS / 2);
}, 300_000);
