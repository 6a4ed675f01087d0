/** What a sheet's schema can't say: that its studies exist, its numbers are in bounds, and its sentences make sense. */
import { PlanTesterError } from "../errors.ts";
import { parseTimeframe } from "../market/timeframe.ts";
import { studyNamed } from "../studies/catalogue.ts";
import { type RuleSheet, SHEET_PARTS, type SheetRow, type SheetRule, type SheetTest, type SheetValue, type Where } from "./sheet.ts";
import { columnInputs, numberInputs, spokenStudy, takesBars } from "./study-words.ts";
import { testText, valueText } from "./words.ts";

export interface SheetProblem {
  /** The row, or "" for what stands beside the rules. */
  readonly rowId: string;
  readonly message: string;
}

type Note = (message: string) => void;

function checkWhere({ timeframe }: Where, note: Note): void {
  if (timeframe === "") return;
  try {
    parseTimeframe(timeframe);
  } catch {
    note(`"${timeframe}" is not a timeframe; write one such as 1h or 1d.`);
  }
}

/** Where only a column can stand, as a number has no history. */
function checkColumn(value: SheetValue, note: Note): void {
  if (value.kind === "number") note(`${value.value} stands where a price or a study is needed.`);
  checkValue(value, note);
}

function checkValue(value: SheetValue, note: Note): void {
  switch (value.kind) {
    case "number":
      if (!Number.isFinite(value.value)) note("A number is missing.");
      return;
    case "price":
      checkWhere(value.on, note);
      return;
    case "study":
      checkStudy(value, note);
      return;
    case "math":
      if (value.left.kind === "number" && (value.right.kind === "number" || value.by === "over"))
        note(`"${valueText(value)}" begins with a number; begin with a price or a study.`);
      checkValue(value.left, note);
      checkValue(value.right, note);
      return;
    case "size of":
      checkColumn(value.value, note);
      return;
    case "since":
      checkColumn(value.value, note);
      checkTest(value.event, note);
      return;
    case "bars since":
    case "count":
      checkTest(value.event, note);
      return;
    case "of two":
      if (value.left.kind === "number" && value.right.kind === "number")
        note(`"${valueText(value)}" compares two numbers; one of them has to be a price or a study.`);
      checkValue(value.left, note);
      checkValue(value.right, note);
      return;
    case "own":
      for (const given of value.given) checkValue(given, note);
  }
}

function checkStudy(value: Extract<SheetValue, { kind: "study" }>, note: Note): void {
  let definition: ReturnType<typeof studyNamed>;
  try {
    definition = studyNamed(value.study);
  } catch {
    note(`There is no study "${value.study}".`);
    return;
  }
  const spoken = spokenStudy(value.study);
  if (!definition.outputs.includes(value.output)) note(`${spoken} has no "${value.output}"; it has ${definition.outputs.join(", ")}.`);
  const declared = numberInputs(value.study);
  if (value.numbers.length !== declared.length) note(`${spoken} takes ${declared.length} numbers; it got ${value.numbers.length}.`);
  declared.forEach(({ name, min, max, whole }, i) => {
    const number = value.numbers[i];
    if (number !== undefined && (number < min || number > max || (whole && !Number.isInteger(number))))
      note(`${spoken}: ${name} is ${number}; it must be a ${whole ? "whole " : ""}number from ${min} to ${max}.`);
  });
  const columns = columnInputs(value.study).length;
  if (value.sources.length !== columns) note(`${spoken} is taken of ${columns} values; it got ${value.sources.length}.`);
  if (takesBars(value.study)) checkWhere(value.on, note);
  for (const source of value.sources) checkColumn(source, note);
}

function checkTest(test: SheetTest, note: Note): void {
  switch (test.kind) {
    case "compare":
      if (test.left.kind === "number" && test.right.kind === "number") note(`"${testText(test)}" compares two numbers.`);
      checkValue(test.left, note);
      checkValue(test.right, note);
      return;
    case "between":
      checkColumn(test.value, note);
      checkValue(test.low, note);
      checkValue(test.high, note);
      return;
    case "trend":
      checkColumn(test.value, note);
      return;
    case "bar":
      checkWhere(test.on, note);
      return;
    case "weekday":
      if (test.days.length === 0) note("No weekday is chosen.");
      return;
    case "time":
      return;
  }
}

/** All that does not fit, in the order of the sheet; switched-off rows too, since they can be switched on. */
export function sheetProblems(sheet: RuleSheet): SheetProblem[] {
  const problems: SheetProblem[] = [];
  const ids = new Set<string>();
  const rowNote =
    (row: SheetRow): Note =>
    (message) =>
      problems.push({ rowId: row.id, message });
  const visit = (rule: SheetRule): void => {
    if (ids.has(rule.id)) problems.push({ rowId: rule.id, message: `Two rules have the id "${rule.id}".` });
    ids.add(rule.id);
    if (rule.kind === "row") checkTest(rule.test, rowNote(rule));
    else for (const inner of rule.rules) visit(inner);
  };
  for (const part of SHEET_PARTS) for (const rule of sheet[part].rules) visit(rule);
  const note: Note = (message) => problems.push({ rowId: "", message });
  if (sheet.order.kind !== "market") checkColumn(sheet.order.level, note);
  const isRisk = sheet.size?.by === "risk percent" || sheet.size?.by === "risk money";
  if (isRisk && sheet.acts === "orders" && [sheet.longExits, sheet.shortExits].some((exits) => exits && !exits.stopLoss))
    note("A size by risk needs a stop loss: it is what the risk is measured to.");
  for (const exits of [sheet.longExits, sheet.shortExits])
    if (exits?.flat && (exits.flat.minutes < 1 || exits.flat.of === "week"))
      note(
        "A rule sheet can be flat at least 1 minute before each session's close; at the close itself, or of the week, is for exit kits.",
      );
  return problems;
}

/** @throws PlanTesterError bad-plan with every problem, and the row of the first (`row`) */
export function checkSheet(sheet: RuleSheet): void {
  const problems = sheetProblems(sheet);
  if (problems.length === 0) return;
  const [first] = problems;
  throw new PlanTesterError("bad-plan", problems.map(({ message }) => message).join(" "), { row: first!.rowId });
}
