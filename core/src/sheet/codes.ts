/** Values and tests of a sheet as expressions of the plan language. Numbers are code already: the names of inputs. */
import { studyNamed } from "../studies/catalogue.ts";
import { type Relation, type SheetRow, type SheetTest, type SheetValue, TURNED_RELATIONS, type Where } from "./sheet.ts";

/** Names for the bars that rules look at, and for what comes from own modules. */
export interface BarNames {
  readonly bars: (on: Where) => string;
  readonly own: (module: string, study: string) => string;
}

export const RELATION_CALLS: Readonly<Record<Relation, string>> = {
  "crosses above": "crossesAbove",
  "crosses below": "crossesBelow",
  crosses: "crosses",
  "is above": "isAbove",
  "is below": "isBelow",
  "is at or above": "isAtOrAbove",
  "is at or below": "isAtOrBelow",
};

type Value = SheetValue<string>;

export function valueCode(value: Value, names: BarNames): string {
  if (value.kind === "number") return value.value;
  const bare = bareCode(value, names);
  return value.ago === null ? bare : `${bare}.earlier(${value.ago})`;
}

function bareCode(value: Exclude<Value, { kind: "number" }>, names: BarNames): string {
  const code = (inner: Value): string => valueCode(inner, names);
  switch (value.kind) {
    case "price":
      return `${names.bars(value.on)}.${value.price}`;
    case "study":
      return studyCode(value, names);
    case "math": {
      const { by, left, right } = value;
      // Case: a number first: only columns have arithmetic.
      if (left.kind === "number")
        return by === "minus" ? `${code(right)}.times(-1).plus(${left.value})` : `${code(right)}.${by}(${left.value})`;
      return `${code(left)}.${by}(${code(right)})`;
    }
    case "size of":
      return `${code(value.value)}.abs()`;
    case "since": {
      const call = { highest: "highestSince", lowest: "lowestSince", value: "valueWhen" }[value.what];
      return `${call}(${testCode(value.event, names)}, ${code(value.value)})`;
    }
    case "bars since":
      return `barsSince(${testCode(value.event, names)})`;
    case "count":
      return `countOf(${testCode(value.event, names)}, ${value.bars})`;
    case "of two": {
      // A number has no bars: it comes second.
      const [a, b] = value.left.kind === "number" ? [value.right, value.left] : [value.left, value.right];
      return `${value.which}(${code(a)}, ${code(b)})`;
    }
    case "own":
      return `${names.own(value.module, value.study)}(${value.given.map(code).join(", ")})`;
  }
}

function studyCode({ study, output, numbers, sources, on }: Extract<Value, { kind: "study" }>, names: BarNames): string {
  const { inputs, outputs } = studyNamed(study);
  let [column, number] = [0, 0];
  const args = inputs.map((input) => {
    if (input.kind === "bars") return names.bars(on);
    return input.kind === "column" ? valueCode(sources[column++]!, names) : numbers[number++]!;
  });
  return `${study}(${args.join(", ")})${outputs.length > 1 ? `.${output}` : ""}`;
}

export function testCode(test: SheetTest<string>, names: BarNames): string {
  const code = (inner: Value): string => valueCode(inner, names);
  switch (test.kind) {
    case "compare":
      return test.left.kind === "number"
        ? `${RELATION_CALLS[TURNED_RELATIONS[test.relation]]}(${code(test.right)}, ${code(test.left)})`
        : `${RELATION_CALLS[test.relation]}(${code(test.left)}, ${code(test.right)})`;
    case "between":
      return `isBetween(${code(test.value)}, ${code(test.low)}, ${code(test.high)}, "${test.ends}")`;
    case "trend":
      return `${test.way === "rising" ? "isRising" : "isFalling"}(${code(test.value)}, ${test.bars})`;
    case "bar": {
      const bars = names.bars(test.on);
      const against = test.against === "open" ? `${bars}.open` : `${bars}.close.earlier(1)`;
      return `${test.way === "up" ? "isAbove" : "isBelow"}(${bars}.close, ${against})`;
    }
    case "time":
      return `opensBetween(bars, ${test.from}, ${test.to})`;
    case "weekday":
      return `isOnWeekday(bars, [${test.days.map((day) => `"${day.toLowerCase()}"`).join(", ")}])`;
  }
}

export function rowCode({ test, heldFor, within }: SheetRow<string>, names: BarNames): string {
  let code = testCode(test, names);
  if (heldFor !== null) code = `isAtOrAbove(countOf(${code}, ${heldFor}), ${heldFor})`;
  // Not by barsSince(): that is unknown until it has held once, and a plan waits for all that is unknown.
  return within === null ? code : `isAtOrAbove(countOf(${code}, ${within} + 1), 1)`;
}
