/** Random rule sheets: every kind of value and test, on small spans, so that few bars are enough. */
import fc from "fast-check";
import type { KitDistance, KitExits, KitWindow } from "../engine/kit.ts";
import { emptySheet } from "../sheet/empty-sheet.ts";
import {
  type RuleSheet,
  SHEET_CROSSINGS,
  SHEET_ENDS,
  SHEET_JOINS,
  SHEET_MATH,
  SHEET_OF_TWO,
  SHEET_PRICES,
  SHEET_STANDINGS,
  SHEET_WEEKDAYS,
  type SheetGroup,
  type SheetOrder,
  type SheetRow,
  type SheetRule,
  type SheetTest,
  type SheetValue,
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
    .record({
      kind: fc.constant("math" as const),
      by: fc.constantFrom(...SHEET_MATH),
      left: column(depth - 1),
      right: value(depth - 1),
      ago,
    })
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
    {
      weight: 1,
      arbitrary: fc.record({ kind: fc.constant("count" as const), bars: fc.integer({ min: 1, max: 9 }), event: event(depth), ago }),
    },
    {
      weight: 1,
      arbitrary: fc.record({
        kind: fc.constant("of two" as const),
        which: fc.constantFrom(...SHEET_OF_TWO),
        left: column(depth - 1),
        right: value(depth - 1),
        ago,
      }),
    },
  );
}

const value = (depth: number): fc.Arbitrary<SheetValue> =>
  fc.oneof({ weight: 1, arbitrary: number }, { weight: 2, arbitrary: column(depth) });

const clock = fc.integer({ min: 0, max: 23 }).map((hour) => `${String(hour).padStart(2, "0")}:30`);

export function test(depth: number): fc.Arbitrary<SheetTest> {
  const days = fc.subarray([...SHEET_WEEKDAYS], { minLength: 1 });
  return fc.oneof(
    {
      weight: 6,
      arbitrary: fc
        .record({
          kind: fc.constant("compare" as const),
          left: value(depth),
          relation: fc.constantFrom(...SHEET_CROSSINGS, ...SHEET_STANDINGS),
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
        ends: fc.constantFrom(...SHEET_ENDS),
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

const names = fc.constantFrom("", "", "", "Über­kauft!", "trend", "when", "3 bars", "close", "entries", "cool down", "exits", "filters");
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
    of: fc.constantFrom(...SHEET_JOINS),
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

/** Sheets with rules of every kind, at market, without exits. */
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

const distance = fc.constantFrom<KitDistance>(
  { unit: "ticks", value: 40 },
  { unit: "percent", value: 0.5 },
  { unit: "points", value: 2, study: "atr(14)" },
  { unit: "points", value: 3.5 },
);
const step = fc.constantFrom<KitDistance>({ unit: "R", value: 1 }, { unit: "ticks", value: 8 });
const lock = fc.record({ after: step, keep: fc.constantFrom<KitDistance>({ unit: "points", value: 0 }, { unit: "ticks", value: -4 }) });
const maybe = <T>(arbitrary: fc.Arbitrary<T>): fc.Arbitrary<T | null> => fc.option(arbitrary, { freq: 2 });
const exits: fc.Arbitrary<KitExits> = fc.record({
  stopLoss: distance,
  target: maybe(fc.oneof(distance, fc.constant<KitDistance>({ unit: "R", value: 2 }))),
  trail: maybe(fc.record({ distance, after: maybe(step), step: maybe(fc.constant<KitDistance>({ unit: "ticks", value: 2 })) })),
  breakEven: maybe(lock),
  locks: fc.array(lock, { maxLength: 2 }),
  timeLimit: maybe(fc.constantFrom({ bars: 20 }, { minutes: 90 })),
  flat: maybe(fc.record({ minutes: fc.integer({ min: 1, max: 60 }), of: fc.constant("session" as const) })),
});
const window = maybe(
  fc.constantFrom<KitWindow>(
    { by: "clock", from: "09:30", to: "15:00" },
    { by: "bars", from: 2, to: 200 },
    { by: "clock", from: "22:00", to: "04:00" },
  ),
);
const order: fc.Arbitrary<SheetOrder> = fc.oneof(
  fc.constant<SheetOrder>({ kind: "market" }),
  fc.record({
    kind: fc.constantFrom("stop" as const, "limit" as const, "price given" as const),
    level: column(1),
    offsetTicks: fc.constantFrom(0, 2),
    goodForBars: fc.constantFrom(0, 5),
    cancelsOther: fc.boolean(),
  }),
);

/** Rules that hold every now and then on any walk: what an order does is seen where there are orders. */
const often: fc.Arbitrary<SheetRow> = fc.record({
  kind: fc.constant("row" as const),
  id: fc.constant(""),
  name: names,
  comment: fc.constant(""),
  isOff: fc.constant(false),
  test: fc.oneof(
    fc.record({
      kind: fc.constant("trend" as const),
      value: fc.constant<SheetValue>({ kind: "price", price: "close", on: { timeframe: "", instrument: "" }, ago: null }),
      way: fc.constantFrom("rising" as const, "falling" as const),
      bars: fc.integer({ min: 1, max: 3 }),
    }),
    fc.record({
      kind: fc.constant("bar" as const),
      way: fc.constantFrom("up" as const, "down" as const),
      against: fc.constantFrom("open" as const, "close before" as const),
      on: fc.constant({ timeframe: "", instrument: "" }),
    }),
  ),
  heldFor: few,
  within: few,
});
const oftenGroup = group(0, { min: 1 }).chain((made) =>
  fc.array(often, { minLength: 1, maxLength: 2 }).map((rules) => ({ ...made, of: "any" as const, rules })),
);

/** Sheets that say all that a sheet can say. */
export const fullSheet: fc.Arbitrary<RuleSheet> = fc
  .record({
    rules: sheet,
    // Every other one has rules that hold often; the others may wait for what never comes.
    holding: fc.oneof(fc.constant(null), fc.tuple(oftenGroup, oftenGroup)),
    more: fc.record({
      longWindow: window,
      shortWindow: window,
      order,
      longExits: exits,
      shortExits: maybe(exits),
      size: fc.constantFrom<RuleSheet["size"]>(
        null,
        { by: "units", value: 2 },
        { by: "risk percent", value: 0.5 },
        { by: "balance step", value: 1, step: 20_000 },
      ),
      guards: fc.record({
        whileOpen: fc.constantFrom("wait" as const, "add" as const, "reverse" as const),
        entriesPerSession: maybe(fc.integer({ min: 1, max: 4 })),
        coolDownBars: maybe(fc.integer({ min: 1, max: 9 })),
      }),
      acts: fc.constantFrom("orders" as const, "orders" as const, "alerts" as const),
    }),
  })
  .map(({ rules, holding, more }) => {
    if (!holding) return { ...rules, ...more };
    const [long, short] = holding;
    const none = emptySheet(rules.title);
    return { ...none, shortMirrorsLong: rules.shortMirrorsLong, ...more, longEntry: numbered(long, "l"), shortEntry: numbered(short, "s") };
  });
