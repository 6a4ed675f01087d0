/** The rules of a plan, as what each of them earns is asked: the rows of its rule sheet, or the conditions that its program names. */
import { sheetIn } from "@plan-tester/contract";
import { mirroredId, type RuleSheet, rowText, SHEET_PARTS, type SheetGroup, type SheetRow, writeProgram } from "@plan-tester/core";
import { splitModules } from "../modules.ts";
import { type NamedRule, namedRules } from "./rule-roles.ts";

export interface PlanRule extends NamedRule {
  /** Of a sheet's row its part and id, "longEntry:a"; else its name. */
  readonly key: string;
  /** What it says, in words; its name where that is all there is. */
  readonly label: string;
  /** Names of its conditions: a row and the row turned from it are one rule. */
  readonly names: readonly string[];
}

/** @throws PlanTesterError bad-plan with line and column when the text can't be read */
export function rulesOf(source: string): readonly PlanRule[] {
  const named = namedRules(source);
  const sheet = sheetIn(splitModules(source).plan);
  const rows = sheet ? rowsOf(sheet, new Map(named.map((rule) => [rule.name, rule]))) : [];
  // Case: a sheet that is written otherwise now than when it was run.
  return rows.length > 0 ? rows : named.map((rule) => ({ ...rule, key: rule.name, label: rule.name, names: [rule.name] }));
}

function rowsOf(sheet: RuleSheet, named: ReadonlyMap<string, NamedRule>): PlanRule[] {
  const { conditions } = writeProgram(sheet);
  const rows = SHEET_PARTS.flatMap((part) => rowsIn(sheet[part]).map((row) => ({ part, row })));
  return rows.flatMap(({ part, row }) => {
    const key = `${part}:${row.id}`;
    const turned = part.startsWith("long") ? conditions.get(`${part.replace("long", "short")}:${mirroredId(row.id)}`) : undefined;
    const names = [conditions.get(key), turned].filter((name) => name !== undefined);
    const rule = named.get(names[0] ?? "");
    // A short row that stands in for a turned one belongs to the long one's rule.
    const isTurned = sheet.shortMirrorsLong && part.startsWith("short") && conditions.has(longOf(part, row.id));
    return rule && !isTurned ? [{ ...rule, key, label: row.name || rowText(row), names }] : [];
  });
}

const longOf = (part: string, id: string): string =>
  `${part.replace("short", "long")}:${id.startsWith(mirroredId("")) ? id.slice(mirroredId("").length) : ""}`;

const rowsIn = (group: SheetGroup): SheetRow[] => group.rules.flatMap((rule) => (rule.kind === "row" ? [rule] : rowsIn(rule)));
