/** Rule sheets at the border: their form is checked, whoever wrote them. */
import { PlanTesterError, type RuleSheet } from "@plan-tester/core";
import { SHEET_LINE } from "./sheet-line.ts";
import { sheetSchema } from "./sheet-schema.ts";
import { check } from "./validate.ts";

/** Groups, values and events inside each other: far more than anybody reads, and far less than a stack holds. */
const MOST_NESTED = 60;

/** As deep as brackets stand inside each other, those in strings left out. */
function depthOf(json: string): number {
  let [depth, most] = [0, 0];
  let inString = false;
  for (let i = 0; i < json.length; i++) {
    const mark = json[i];
    if (inString) {
      if (mark === "\\") i++;
      else if (mark === '"') inString = false;
    } else if (mark === '"') inString = true;
    else if (mark === "{" || mark === "[") most = Math.max(most, ++depth);
    else if (mark === "}" || mark === "]") depth--;
  }
  return most;
}

/**
 * A sheet of its JSON.
 * @throws PlanTesterError bad-plan when it is no JSON, bad-input naming what does not fit in it
 */
export function readSheet(json: string): RuleSheet {
  if (depthOf(json) > MOST_NESTED)
    throw new PlanTesterError("bad-plan", `The rule sheet has more than ${MOST_NESTED} levels inside each other; split its rules.`, {});
  let data: unknown;
  try {
    data = JSON.parse(json);
  } catch (error) {
    throw new PlanTesterError("bad-plan", `The rule sheet is no JSON: ${error instanceof Error ? error.message : String(error)}.`, {});
  }
  return check<RuleSheet>(sheetSchema, data, "the rule sheet");
}

/** The sheet that made a plan's text, or null where none did. @throws as `readSheet` */
export function sheetOf(text: string): RuleSheet | null {
  const json = SHEET_LINE.exec(text)?.[1];
  return json === undefined ? null : readSheet(json);
}
