/** Changes of a sheet, each as a new sheet: a word replaced, a rule added, moved, joined, copied to the other side, taken out. */
import {
  mirrorRow,
  type ReadRules,
  type RuleSheet,
  rulesOfSides,
  SHEET_PARTS,
  type SheetGroup,
  type SheetPart,
  type SheetPath,
  type SheetRow,
  type SheetRule,
} from "@plan-tester/core";

/** What stands at a path. */
export function valueAt(target: unknown, path: SheetPath): unknown {
  return path.reduce<unknown>((value, key) => (value as Record<string | number, unknown>)[key], target);
}

/** The same with another value at a path. */
export function withValueAt<T>(target: T, path: SheetPath, value: unknown): T {
  const [key, ...rest] = path;
  if (key === undefined) return value as T;
  const inner = withValueAt((target as Record<string | number, unknown>)[key], rest, value);
  return (Array.isArray(target) ? target.map((item, i) => (i === key ? inner : item)) : { ...target, [key]: inner }) as T;
}

const newId = (): string => crypto.randomUUID().slice(0, 8);

/** Rules as they were read, as rows. Several alternatives become a group of their own. */
export function rulesRead({ of, rows }: ReadRules): SheetRule[] {
  const made = rows.map((row): SheetRow => ({ kind: "row", id: newId(), name: "", comment: "", isOff: false, ...row }));
  return of === "any" && made.length > 1 ? [groupOf("any", made)] : made;
}

export const groupOf = (of: SheetGroup["of"], rules: readonly SheetRule[]): SheetGroup => ({
  ...{ kind: "group", id: newId(), name: "", comment: "", isOff: false, of, rules },
});

/** Every rule of a group passed through `change`, which may give none, or several, in its place; inner ones first. */
function eachRule(group: SheetGroup, change: (rule: SheetRule) => readonly SheetRule[]): SheetGroup {
  const rules = group.rules.flatMap((rule) => change(rule.kind === "group" ? eachRule(rule, change) : rule));
  return { ...group, rules };
}

const inEachPart = (sheet: RuleSheet, change: (group: SheetGroup) => SheetGroup): RuleSheet => ({
  ...sheet,
  ...Object.fromEntries(SHEET_PARTS.map((part) => [part, change(sheet[part])])),
});

/** The rule of an id with a change, wherever it stands; a group may be a whole part. */
export const changeRule = (sheet: RuleSheet, id: string, change: (rule: SheetRule) => SheetRule): RuleSheet =>
  inEachPart(sheet, (part) => {
    const group = eachRule(part, (rule) => [rule.id === id ? change(rule) : rule]);
    return group.id === id ? (change(group) as SheetGroup) : group;
  });

/** Without a rule. A group that is left empty goes with it. */
export const removeRule = (sheet: RuleSheet, id: string): RuleSheet =>
  inEachPart(sheet, (part) =>
    eachRule(part, (rule) => (rule.id === id || (rule.kind === "group" && rule.rules.length === 0 && hasRule(part, id)) ? [] : [rule])),
  );

const hasRule = (group: SheetGroup, id: string): boolean =>
  group.rules.some((rule) => rule.id === id || (rule.kind === "group" && hasRule(rule, id)));

export const addRules = (sheet: RuleSheet, groupId: string, rules: readonly SheetRule[]): RuleSheet =>
  changeRule(sheet, groupId, (group) => (group.kind === "group" ? { ...group, rules: [...group.rules, ...rules] } : group));

/** All rules of a part in the order in which they stand, groups ahead of what they hold. */
const flat = (group: SheetGroup): SheetRule[] => group.rules.flatMap((rule) => (rule.kind === "group" ? [rule, ...flat(rule)] : [rule]));

export function ruleOf(sheet: RuleSheet, id: string): SheetRule | null {
  for (const part of SHEET_PARTS) {
    const found = [sheet[part], ...flat(sheet[part])].find((rule) => rule.id === id);
    if (found) return found;
  }
  return null;
}

/** Moves a rule ahead of another, or to the end of a group; nothing happens where it would stand in itself. */
export function moveRule(sheet: RuleSheet, id: string, to: { readonly before: string } | { readonly endOf: string }): RuleSheet {
  const moved = ruleOf(sheet, id);
  const target = "before" in to ? to.before : to.endOf;
  if (!moved || target === id || (moved.kind === "group" && hasRule(moved, target))) return sheet;
  const without = inEachPart(sheet, (part) => eachRule(part, (rule) => (rule.id === id ? [] : [rule])));
  if ("endOf" in to) return addRules(without, to.endOf, [moved]);
  return inEachPart(without, (part) => eachRule(part, (rule) => (rule.id === to.before ? [moved, rule] : [rule])));
}

/** One place up or down among its neighbours. */
export function nudgeRule(sheet: RuleSheet, id: string, by: 1 | -1): RuleSheet {
  const nudge = (group: SheetGroup): SheetGroup => {
    const at = group.rules.findIndex((rule) => rule.id === id);
    const rules = [...group.rules];
    const other = at + by;
    if (at >= 0 && other >= 0 && other < rules.length) [rules[at], rules[other]] = [rules[other]!, rules[at]!];
    return { ...group, rules: rules.map((rule) => (rule.kind === "group" ? nudge(rule) : rule)) };
  };
  return inEachPart(sheet, nudge);
}

/** Puts a rule into a group of its own, to which others can be added. */
export const groupRule = (sheet: RuleSheet, id: string, of: SheetGroup["of"]): RuleSheet =>
  changeRule(sheet, id, (rule) => groupOf(of, [rule]));

/** Takes the rules of a group out of it. */
export const ungroup = (sheet: RuleSheet, id: string): RuleSheet =>
  inEachPart(sheet, (part) => eachRule(part, (rule) => (rule.id === id && rule.kind === "group" ? rule.rules : [rule])));

const OTHER: Readonly<Record<SheetPart, SheetPart | null>> = {
  longEntry: "shortEntry",
  shortEntry: "longEntry",
  longExit: "shortExit",
  shortExit: "longExit",
  filters: null,
};

const turned = (rule: SheetRule): SheetRule => {
  const inner = rule.kind === "row" ? mirrorRow(rule, (number, about) => about - number) : { ...rule, rules: rule.rules.map(turned) };
  return { ...inner, id: newId() };
};

/** A copy of a rule, mirrored, at the end of the other side's part. */
export function copyToOther(sheet: RuleSheet, part: SheetPart, id: string): RuleSheet {
  const other = OTHER[part];
  const rule = ruleOf(sheet, id);
  return other && rule ? addRules(sheet, sheet[other].id, [turned(rule)]) : sheet;
}

/** A rule of the short side's own, in place of the mirrored one of its id; without `rule` the mirrored one again. */
export function withOwnRule(sheet: RuleSheet, part: SheetPart, id: string, rule: SheetRule | null): RuleSheet {
  const others = sheet[part].rules.filter((one) => one.id !== id);
  return { ...sheet, [part]: { ...sheet[part], rules: rule ? [...others, rule] : others } };
}

/**
 * With shorts made of longs or not; what is shown stays as it is. Switched off, the mirrored rules become the short side's own;
 * switched on again, those that were not changed since follow the long side again.
 */
export function withMirror(sheet: RuleSheet, isOn: boolean): RuleSheet {
  const made = rulesOfSides({
    ...sheet,
    shortMirrorsLong: true,
    shortEntry: { ...sheet.shortEntry, rules: [] },
    shortExit: { ...sheet.shortExit, rules: [] },
  }).short;
  const { short } = rulesOfSides(sheet);
  const side = (part: "shortEntry" | "shortExit", shown: SheetGroup, turned: SheetGroup): SheetGroup => {
    if (!isOn) return { ...shown, id: sheet[part].id };
    const unchanged = new Set(turned.rules.map((rule) => JSON.stringify(rule)));
    return { ...sheet[part], rules: sheet[part].rules.filter((rule) => !unchanged.has(JSON.stringify(rule))) };
  };
  return {
    ...sheet,
    shortMirrorsLong: isOn,
    shortEntry: side("shortEntry", short.entry, made.entry),
    shortExit: side("shortExit", short.exit, made.exit),
  };
}
