/** Random rule sheets: every kind of value and test, on small spans, so that few bars are enough. */
import fc from "fast-check";
import { emptySheet } from "../sheet/empty-sheet.ts";
import {
  CROSSINGS,
  ENDS,
  GROUPINGS,
  MATH,
  type RuleSheet,
  SHEET_PRICES,
  type SheetGroup,
  type SheetRow,
  type SheetRule,
  type SheetTest,
  type SheetValue,
  STANDINGS,
  WEEKDAYS,
  type Where,
} from "../sheet/sheet.ts";
import { STUDIES } from "../studies/catalogue.ts";
import type { StudyDefinition, StudyInput } from "../studies/definition.ts";

const where: fc.Arbitrary<Where> = fc.constantFrom("", "", "", "1h", "1d").map((timeframe) => ({ timeframe, instrument: "" }));
const ago = fc.option(fc.integer({ min: 1, max: 3 }), { freq: 3 });
const number: fc.Arbitrary<SheetValue> = fc
  .constantFrom(-20, 0, 0.5, 30, 50, 70, 100, 399.75, 400)
  .map((value) => ({ kind: "number", value }));

/** Spans of few bars; other numbers as they usually are. */
const numberFor = (input: StudyInput): fc.Arbitrary<number>[] => {
  if (input.kind !== "number") return [];
  if (!input.whole) return [fc.constant(input.default)];
  return [fc.integer({ min: Math.max(input.min, 1), max: Math.max(input.min, 1) + 5 })];
};

const price: fc.Arbitrary<SheetValue> = fc.record({
  kind: fc.constant("price" as const),
  price: fc.constantFrom(...SHEET_PRICES),
  on: where,
  ago,
});

function studyOf(definition: StudyDefinition, depth: number): fc.Arbitrary<SheetValue> {
  const takesBars = definition.inputs.some(({ kind }) => kind === "bars");
  const columns = definition.inputs.filter(({ kind }) => kind === "column").length;
  return fc.record({
    kind: fc.constant("study" as const),
    study: fc.constant(definition.name),
    output: fc.constantFrom(...definition.outputs),
    numbers: fc.tuple(...definition.inputs.flatMap(numberFor)).map((numbers) => [...numbers]),
    sources: fc.tuple(...Array.from({ length: columns }, () => column(depth - 1))).map((sources) => [...sources]),
    on: takesBars ? where : fc.constant({ timeframe: "", instrument: "" }),
    ago,
  });
}

const event = (depth: number): fc.Arbitrary<SheetTest> => test(depth - 1);

/** A value that has a history. */
function column(depth: number): fc.Arbitrary<SheetValue> {
  if (depth <= 0) return price;
  const math = fc
    .record({ kind: fc.constant("math" as const), by: fc.constantFrom(...MATH), left: column(depth - 1), right: value(depth - 1), ago })
    .filter(({ by, right }) => by !== "over" || right.kind !== "number" || right.value !== 0);
  return fc.oneof(
    { weight: 3, arbitrary: price },
    { weight: 5, arbitrary: fc.constantFrom(...STUDIES).chain((definition) => studyOf(definition, depth)) },
    { weight: 2, arbitrary: math },
    { weight: 1, arbitrary: fc.record({ kind: fc.constant("size of" as const), value: column(depth - 1), ago }) },
    {
      weight: 1,
      arbitrary: fc.record({
        kind: fc.constant("since" as const),
        what: fc.constantFrom("highest" as const, "lowest" as const, "value" as const),
        value: column(depth - 1),
        event: event(depth),
        ago,
      }),
    },
    { weight: 1, arbitrary: fc.record({ kind: fc.constant("bars since" as const), event: event(depth), ago }) },
  );
}

const value = (depth: number): fc.Arbitrary<SheetValue> =>
  fc.oneof({ weight: 1, arbitrary: number }, { weight: 2, arbitrary: column(depth) });

const clock = fc.integer({ min: 0, max: 23 }).map((hour) => `${String(hour).padStart(2, "0")}:30`);

export function test(depth: number): fc.Arbitrary<SheetTest> {
  const days = fc.subarray([...WEEKDAYS], { minLength: 1 });
  return fc.oneof(
    {
      weight: 6,
      arbitrary: fc
        .record({
          kind: fc.constant("compare" as const),
          left: value(depth),
          relation: fc.constantFrom(...CROSSINGS, ...STANDINGS),
          right: value(depth),
        })
        .filter(({ left, right }) => left.kind !== "number" || right.kind !== "number"),
    },
    {
      weight: 2,
      arbitrary: fc.record({
        kind: fc.constant("between" as const),
        value: column(depth),
        low: value(depth),
        high: value(depth),
        ends: fc.constantFrom(...ENDS),
      }),
    },
    {
      weight: 2,
      arbitrary: fc.record({
        kind: fc.constant("trend" as const),
        value: column(depth),
        way: fc.constantFrom("rising" as const, "falling" as const),
        bars: fc.integer({ min: 1, max: 4 }),
      }),
    },
    {
      weight: 1,
      arbitrary: fc.record({
        kind: fc.constant("bar" as const),
        way: fc.constantFrom("up" as const, "down" as const),
        against: fc.constantFrom("open" as const, "close before" as const),
        on: where,
      }),
    },
    { weight: 1, arbitrary: fc.record({ kind: fc.constant("time" as const), from: clock, to: clock }) },
    { weight: 1, arbitrary: fc.record({ kind: fc.constant("weekday" as const), days }) },
  );
}

const names = fc.constantFrom("", "", "", "Über­kauft!", "trend", "when", "3 bars", "close");
const isOff = fc.constantFrom(false, false, false, false, true);
const few = fc.option(fc.integer({ min: 1, max: 4 }), { freq: 4 });

export const row: fc.Arbitrary<SheetRow> = fc.record({
  kind: fc.constant("row" as const),
  id: fc.constant(""),
  name: names,
  comment: fc.constantFrom("", "", "why: import(this) <!-- is -->\nso"),
  isOff,
  test: test(2),
  heldFor: few,
  within: few,
});

const group = (depth: number, rules: { readonly min: number }): fc.Arbitrary<SheetGroup> =>
  fc.record({
    kind: fc.constant("group" as const),
    id: fc.constant(""),
    name: names,
    comment: fc.constant(""),
    isOff: fc.constant(false),
    of: fc.constantFrom(...GROUPINGS),
    rules: fc.array<SheetRule>(depth > 0 ? fc.oneof({ weight: 4, arbitrary: row }, group(depth - 1, { min: 0 })) : row, {
      minLength: rules.min,
      maxLength: 3,
    }),
  });

/** Ids by place: unique in the sheet. */
function numbered(rules: SheetGroup, id: string): SheetGroup {
  return {
    ...rules,
    id,
    rules: rules.rules.map((rule, i) => (rule.kind === "row" ? { ...rule, id: `${id}.${i}` } : numbered(rule, `${id}.${i}`))),
  };
}

/** Sheets with rules of every kind at market; what an order and its exits may be is for tests of their own. */
export const sheet: fc.Arbitrary<RuleSheet> = fc
  .record({
    longEntry: group(2, { min: 1 }),
    longExit: group(1, { min: 0 }),
    shortEntry: group(1, { min: 0 }),
    shortExit: group(1, { min: 0 }),
    filters: group(1, { min: 0 }),
    shortMirrorsLong: fc.boolean(),
    entersOn: fc.constantFrom("beginning" as const, "every bar" as const),
  })
  .map(({ longEntry, longExit, shortEntry, shortExit, filters, ...rest }) => ({
    ...emptySheet("A random sheet"),
    ...rest,
    longEntry: numbered(longEntry, "longEntry"),
    longExit: numbered(longExit, "longExit"),
    shortEntry: numbered(shortEntry, "shortEntry"),
    shortExit: numbered(shortExit, "shortExit"),
    filters: numbered(filters, "filters"),
  }));
