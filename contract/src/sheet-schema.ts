/** The rule sheet as it crosses borders. Its types are the core's; a test holds the two together. */
import {
  SHEET_ENDS,
  SHEET_JOINS,
  SHEET_MATH,
  SHEET_OF_TWO,
  SHEET_PARTS,
  SHEET_PRICES,
  SHEET_SINCE,
  SHEET_WEEKDAYS,
} from "@plan-tester/core";
import { MOST } from "./bounds.ts";
import { exitsSchema, sizeSchema, windowSchema } from "./kit-schema.ts";

const MOST_BARS = 100_000;
const number = { type: "number", minimum: -MOST, maximum: MOST } as const;
const bars = (minimum: number) => ({ type: "integer", minimum, maximum: MOST_BARS }) as const;
const maybe = (schema: object) => ({ anyOf: [{ type: "null" }, schema] }) as const;
const text = (maxLength: number) => ({ type: "string", maxLength }) as const;
const word = { type: "string", pattern: "^[A-Za-z_][A-Za-z0-9_]*$", maxLength: 60 } as const;
const time = { type: "string", pattern: "^([01]\\d|2[0-3]):[0-5]\\d$|^24:00$" } as const;
const value = { $ref: "#/definitions/value" } as const;
const test = { $ref: "#/definitions/test" } as const;
const where = { $ref: "#/definitions/where" } as const;

/** An object of which every field is there and none besides. */
const record = (properties: Readonly<Record<string, object>>) => ({
  type: "object",
  additionalProperties: false,
  required: Object.keys(properties),
  properties,
});

/** One of several records, told apart by their `kind`. */
const kinds = (records: Readonly<Record<string, Readonly<Record<string, object>>>>) => ({
  type: "object",
  discriminator: { propertyName: "kind" },
  required: ["kind"],
  oneOf: Object.entries(records).map(([kind, properties]) => record({ kind: { const: kind }, ...properties })),
});

const ago = maybe(bars(0));
const entry = { id: { type: "string", minLength: 1, maxLength: 60 }, name: text(80), comment: text(2000), isOff: { type: "boolean" } };
const row = { ...entry, test, heldFor: maybe(bars(1)), within: maybe(bars(1)) };
const rules = { type: "array", maxItems: 60, items: { $ref: "#/definitions/rule" } };
const group = { ...entry, of: { enum: [...SHEET_JOINS] }, rules };
const level = { level: value, offsetTicks: number, goodForBars: bars(0), cancelsOther: { type: "boolean" } };

const definitions = {
  where: record({
    timeframe: text(10),
    instrument: { type: "string", maxLength: 20, pattern: "^$|^[A-Z0-9][A-Z0-9./_-]*$" },
  }),
  value: kinds({
    number: { value: number },
    price: { price: { enum: [...SHEET_PRICES] }, on: where, ago },
    study: {
      study: word,
      output: word,
      numbers: { type: "array", maxItems: 8, items: number },
      sources: { type: "array", maxItems: 4, items: value },
      on: where,
      ago,
    },
    math: { by: { enum: [...SHEET_MATH] }, left: value, right: value, ago },
    "size of": { value, ago },
    since: { what: { enum: [...SHEET_SINCE] }, value, event: test, ago },
    "bars since": { event: test, ago },
    count: { bars: bars(1), event: test, ago },
    "of two": { which: { enum: [...SHEET_OF_TWO] }, left: value, right: value, ago },
    own: {
      module: { type: "string", pattern: "^[a-z][a-z0-9-]{0,59}$" },
      study: word,
      given: { type: "array", maxItems: 12, items: value },
      ago,
    },
  }),
  test: kinds({
    compare: {
      left: value,
      relation: {
        enum: ["crosses above", "crosses below", "crosses", "is above", "is below", "is at or above", "is at or below"],
      },
      right: value,
    },
    between: { value, low: value, high: value, ends: { enum: [...SHEET_ENDS] } },
    trend: { value, way: { enum: ["rising", "falling"] }, bars: bars(1) },
    bar: { way: { enum: ["up", "down"] }, against: { enum: ["open", "close before"] }, on: where },
    time: { from: time, to: time },
    weekday: { days: { type: "array", minItems: 1, maxItems: 7, uniqueItems: true, items: { enum: [...SHEET_WEEKDAYS] } } },
  }),
  rule: kinds({ row, group }),
  part: record({ kind: { const: "group" }, ...group }),
};

const part = { $ref: "#/definitions/part" } as const;
const { default: _none, nullable: _never, ...exits } = exitsSchema;

export const sheetSchema = {
  $schema: "http://json-schema.org/draft-07/schema#",
  title: "Rule sheet",
  ...record({
    version: { const: 1 },
    title: { type: "string", minLength: 1, maxLength: 200 },
    description: text(4000),
    shortMirrorsLong: { type: "boolean" },
    entersOn: { enum: ["beginning", "every bar"] },
    ...Object.fromEntries(SHEET_PARTS.map((name) => [name, part])),
    longWindow: windowSchema,
    shortWindow: windowSchema,
    order: kinds({ market: {}, stop: level, limit: level, "price given": level }),
    longExits: exits,
    shortExits: { ...exits, nullable: true },
    size: sizeSchema,
    guards: record({
      whileOpen: { enum: ["wait", "add", "reverse"] },
      entriesPerSession: maybe({ type: "integer", minimum: 0, maximum: MOST_BARS }),
      coolDownBars: maybe(bars(0)),
    }),
    acts: { enum: ["orders", "alerts"] },
  }),
  definitions,
};
