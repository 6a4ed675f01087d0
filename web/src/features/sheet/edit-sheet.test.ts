/** Changes of a sheet: what moves where, what stays, and what a sheet never loses. */
import {
  emptySheet,
  type RuleSheet,
  readRules,
  rowText,
  rulesOfSides,
  type SheetGroup,
  type SheetRow,
  type SheetRule,
  sheetProblems,
} from "@plan-tester/core";
import { describe, expect, test } from "vitest";
import {
  addRules,
  changeRule,
  copyToOther,
  groupOf,
  groupRule,
  moveRule,
  nudgeRule,
  removeRule,
  ruleOf,
  rulesRead,
  ungroup,
  valueAt,
  withMirror,
  withOwnRule,
  withValueAt,
} from "./edit-sheet.ts";
import { inputsKept } from "./use-sheet.ts";

const row = (text: string, id: string): SheetRow => ({
  ...{ kind: "row", id, name: "", comment: "", isOff: false },
  ...readRules(text).rows[0]!,
});
const withRules = (rules: readonly SheetRule[], more: Partial<RuleSheet> = {}): RuleSheet => {
  const sheet = emptySheet("A sheet");
  return { ...sheet, ...more, longEntry: { ...sheet.longEntry, rules } };
};
/** Ids as they stand: "a [b c]" for a group with two rules. */
const shape = (group: SheetGroup): string =>
  group.rules.map((rule) => (rule.kind === "row" ? rule.id : `${rule.id}[${shape(rule)}]`)).join(" ");

const [a, b, c] = [row("close is above open", "a"), row("the bar is up", "b"), row("volume is above 9", "c")];
const group: SheetGroup = { ...groupOf("any", [b, c]), id: "g" };
const sheet = withRules([a, group]);

describe("rules are moved", () => {
  test.each<[string, RuleSheet, string]>([
    ["down", nudgeRule(sheet, "a", 1), "g[b c] a"],
    ["past the end: nothing", nudgeRule(sheet, "g", 1), "a g[b c]"],
    ["up inside a group", nudgeRule(sheet, "c", -1), "a g[c b]"],
    ["into a group", moveRule(sheet, "a", { before: "c" }), "g[b a c]"],
    ["out of a group", moveRule(sheet, "c", { before: "a" }), "c a g[b]"],
    ["to the end of a group", moveRule(sheet, "a", { endOf: "g" }), "g[b c a]"],
    ["to the end of the part", moveRule(sheet, "b", { endOf: "longEntry" }), "a g[c] b"],
    ["into itself: nothing", moveRule(sheet, "g", { before: "b" }), "a g[b c]"],
    ["out of its group", ungroup(sheet, "g"), "a b c"],
    ["away", removeRule(sheet, "a"), "g[b c]"],
  ])("%s", (_what, changed, expected) => {
    expect(shape(changed.longEntry)).toBe(expected);
  });

  test("to another part", () => {
    const moved = moveRule(sheet, "b", { endOf: "filters" });
    expect([shape(moved.longEntry), shape(moved.filters)]).toEqual(["a g[c]", "b"]);
  });
});

test("a rule gets a group of its own, and words, wherever it stands", () => {
  const grouped = groupRule(sheet, "b", "none");
  expect(shape(grouped.longEntry)).toMatch(/^a g\[\w+\[b\] c\]$/);
  expect(
    ruleOf(
      changeRule(sheet, "c", (rule) => ({ ...rule, name: "busy" })),
      "c",
    )?.name,
  ).toBe("busy");
  expect(changeRule(sheet, "longEntry", (part) => ({ ...part, of: "any" }) as SheetRule).longEntry.of).toBe("any");
});

test("a word is replaced at its place alone", () => {
  const path = ["test", "right", "value"];
  const changed = withValueAt(c, path, 12);
  expect([valueAt(changed, path), valueAt(c, path)]).toEqual([12, 9]);
  expect(rowText(changed)).toBe("volume is above 12");
});

test("what is written as alternatives comes as a group", () => {
  expect(rulesRead(readRules("the bar is up, or volume is above 9"))).toMatchObject([{ kind: "group", of: "any", rules: [{}, {}] }]);
  expect(rulesRead(readRules("the bar is up, and volume is above 9"))).toMatchObject([{ kind: "row" }, { kind: "row" }]);
});

test("a copy for the other side is mirrored, with an id of its own", () => {
  const copied = copyToOther(sheet, "longEntry", "a");
  const [made] = copied.shortEntry.rules as [SheetRow];
  expect(rowText(made)).toBe("close is below open");
  expect(made.id).not.toBe("a");
  expect(copyToOther(sheet, "filters", "a")).toBe(sheet);
});

test("a rule of the short side's own is changed alone, and taken back", () => {
  const mirrored = { ...withRules([a]), shortMirrorsLong: true };
  const [turned] = rulesOfSides(mirrored).short.entry.rules as [SheetRow];
  const own = withOwnRule(mirrored, "shortEntry", turned.id, { ...turned, name: "own" });
  expect(own.shortEntry.rules).toMatchObject([{ id: "short a", name: "own" }]);
  const off = changeRule(own, "short a", (rule) => ({ ...rule, isOff: true }));
  expect([off.longEntry.rules[0]!.isOff, off.shortEntry.rules[0]!.isOff]).toEqual([false, true]);
  expect(sheetProblems(off)).toEqual([]);
  expect(removeRule(off, "short a").longEntry.rules).toEqual(mirrored.longEntry.rules);
  expect(withOwnRule(own, "shortEntry", "short a", null)).toEqual(mirrored);
});

test("switching the mirror off and on changes nothing that is shown, and loses no rule", () => {
  const mirrored = { ...withRules([a, group]), shortMirrorsLong: true };
  const shown = rulesOfSides(mirrored).short;
  const off = withMirror(mirrored, false);
  expect(off.shortEntry.rules).toEqual(shown.entry.rules);
  expect(sheetProblems(off)).toEqual([]);
  expect(withMirror(off, true)).toEqual(mirrored);
  const changed = changeRule(off, "short a", (rule) => ({ ...rule, name: "own" }));
  expect(rulesOfSides(withMirror(changed, true)).short.entry.rules).toEqual(changed.shortEntry.rules);
});

test("a value set beside the sheet stays until its number is changed in the sheet", () => {
  const before = withRules([{ ...row("the RSI (14) of close crosses below 30", "a"), name: "dip" }]);
  const inputs = { dipSpan: 9, dipLevel: 25 };
  const level = changeRule(before, "a", (rule) => withValueAt(rule, ["test", "right", "value"], 35));
  expect(inputsKept(before, before, inputs)).toEqual(inputs);
  expect(inputsKept(before, level, inputs)).toEqual({ dipSpan: 9 });
  expect(inputsKept(before, addRules(before, "filters", [b]), inputs)).toEqual(inputs);
});
