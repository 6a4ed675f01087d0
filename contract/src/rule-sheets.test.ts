/** Sheets cross borders whole: by their schema, and in the text of a plan. */
import { emptySheet, type RuleSheet } from "@plan-tester/core";
import { fullSheet } from "@plan-tester/core/testing/sheets";
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { readSheet, sheetOf } from "./check-sheet.ts";
import { sheetIn, textOfSheet } from "./rule-sheets.ts";
import { hasSheet, withoutSheet } from "./sheet-line.ts";
import { sheetSchema } from "./sheet-schema.ts";

test("every sheet fits the schema, and comes back from the text of its plan", () => {
  fc.assert(
    fc.property(fullSheet, (sheet) => {
      expect(readSheet(JSON.stringify(sheet))).toEqual(sheet);
      const text = textOfSheet(sheet);
      expect(hasSheet(text)).toBe(true);
      expect(sheetOf(text)).toEqual(sheet);
      expect(sheetIn(text)).toEqual(sheet);
      expect(text).not.toMatch(/\bimport\s*\(|<!--|-->/);
      expect(hasSheet(withoutSheet(text))).toBe(false);
      expect(text.startsWith(withoutSheet(text))).toBe(true);
    }),
    { numRuns: 200 },
  );
});

test("the schema is published", async () => {
  await expect(`${JSON.stringify(sheetSchema, null, 1)}\n`).toMatchFileSnapshot("./rule-sheet.schema.json");
});

test("modules of the workspace stand behind the sheet", () => {
  const linked = `${textOfSheet(emptySheet("A"))}//! module "keel-line"\nexport const keel = 3;\n`;
  expect(sheetOf(linked)).toEqual(emptySheet("A"));
  expect(withoutSheet(linked)).toContain('//! module "keel-line"');
});

test("a program has no sheet", () => {
  expect(sheetOf('export default plan({ title: "x", build() {} });')).toBeNull();
});

describe("what does not fit is named", () => {
  const sheet = emptySheet("A") as unknown as Record<string, unknown>;
  const { title: _left, ...untitled } = sheet;
  const group = sheet.longEntry as Record<string, unknown>;
  const rule = { kind: "row", id: "a", name: "", comment: "", isOff: false, heldFor: null, within: null };
  const withTest = (test: unknown) => ({ ...sheet, longEntry: { ...group, rules: [{ ...rule, test }] } });
  const deep = (levels: number): unknown =>
    levels === 0 ? { kind: "number", value: 1 } : { kind: "size of", value: deep(levels - 1), ago: null };

  test.each<[string, unknown, RegExp]>([
    ["a field that is missing", untitled, /lacks "title"/],
    ["a field too many", { ...sheet, colour: 1 }, /field "colour" that is not known/],
    ["another version", { ...sheet, version: 2 }, /version must be equal to constant/],
    ["a test of no kind", withTest({ kind: "guess" }), /longEntry.rules.0.test/],
    [
      "a relation",
      withTest({ kind: "compare", left: { kind: "number", value: 1 }, relation: "near", right: { kind: "number", value: 1 } }),
      /relation must be one of crosses above/,
    ],
    [
      "a number that is none",
      withTest({ kind: "trend", value: { kind: "number", value: "x" }, way: "rising", bars: 0 }),
      /bars must be >= 1/,
    ],
    ["a time", withTest({ kind: "time", from: "9", to: "11:00" }), /from must match pattern/],
    ["too deep", withTest({ kind: "trend", value: deep(70), way: "rising", bars: 1 }), /more than 60 levels/],
  ])("%s", (_what, given, message) => {
    expect(() => readSheet(JSON.stringify(given))).toThrow(message);
  });

  test("no JSON", () => expect(() => readSheet("{")).toThrow(/is no JSON/));
});

test("a type of the core and the schema are one", () => {
  const required: readonly (keyof RuleSheet)[] = Object.keys(emptySheet("A")) as (keyof RuleSheet)[];
  expect([...sheetSchema.required].sort()).toEqual([...required].sort());
});
