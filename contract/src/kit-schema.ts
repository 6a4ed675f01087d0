/** The exit kit as it crosses borders. Its type is the core's; a test holds the two together. */
import { DISTANCE_UNITS } from "@plan-tester/core";
import { LEAST_POSITIVE, MOST } from "./bounds.ts";

const positive = { type: "number", minimum: LEAST_POSITIVE, maximum: MOST } as const;
const nothing = { type: "null" } as const;
const wallTime = { type: "string", pattern: "^\\d{1,2}:\\d{2}$" } as const;

const distance = {
  type: "object",
  additionalProperties: false,
  required: ["unit", "value"],
  properties: {
    unit: { enum: [...DISTANCE_UNITS] },
    value: { type: "number", minimum: -MOST, maximum: MOST },
    study: { type: "string", minLength: 1, maxLength: 400 },
  },
} as const;
const maybeDistance = { ...distance, nullable: true, default: null } as const;

const lock = {
  type: "object",
  additionalProperties: false,
  required: ["after", "keep"],
  properties: { after: distance, keep: distance },
} as const;

/** Exits of one side, null for none. */
export const exitsSchema = {
  type: "object",
  nullable: true,
  default: null,
  additionalProperties: false,
  properties: {
    stopLoss: maybeDistance,
    target: maybeDistance,
    trail: {
      type: "object",
      nullable: true,
      default: null,
      additionalProperties: false,
      required: ["distance"],
      properties: { distance, after: maybeDistance, step: maybeDistance },
    },
    breakEven: { ...lock, nullable: true, default: null },
    locks: { type: "array", maxItems: 20, items: lock, default: [] },
    timeLimit: {
      anyOf: [
        nothing,
        { type: "object", additionalProperties: false, required: ["bars"], properties: { bars: { type: "integer", minimum: 1 } } },
        { type: "object", additionalProperties: false, required: ["minutes"], properties: { minutes: positive } },
      ],
      default: null,
    },
    flat: {
      type: "object",
      nullable: true,
      default: null,
      additionalProperties: false,
      required: ["minutes"],
      properties: { minutes: { type: "integer", minimum: 0, maximum: 1440 }, of: { enum: ["session", "week"], default: "session" } },
    },
  },
} as const;

/** When entries of one side are allowed. */
export const windowSchema = {
  anyOf: [
    nothing,
    {
      type: "object",
      additionalProperties: false,
      required: ["by", "from", "to"],
      properties: { by: { const: "clock" }, from: wallTime, to: wallTime },
    },
    {
      type: "object",
      additionalProperties: false,
      required: ["by", "from", "to"],
      properties: { by: { const: "bars" }, from: { type: "integer", minimum: 0 }, to: { type: "integer", minimum: 0 } },
    },
  ],
} as const;

const sizeBy = (by: string) =>
  ({ type: "object", additionalProperties: false, required: ["by", "value"], properties: { by: { const: by }, value: positive } }) as const;

export const sizeSchema = {
  anyOf: [
    nothing,
    sizeBy("units"),
    sizeBy("equity percent"),
    sizeBy("risk percent"),
    sizeBy("risk money"),
    {
      type: "object",
      additionalProperties: false,
      required: ["by", "value", "step"],
      properties: { by: { const: "balance step" }, value: positive, step: positive },
    },
  ],
} as const;

export const kitSchema = {
  type: "object",
  additionalProperties: false,
  required: ["name"],
  properties: {
    name: { type: "string", maxLength: 80 },
    plansExits: { type: "boolean", default: true },
    long: exitsSchema,
    short: exitsSchema,
    size: { ...sizeSchema, default: null },
    maxQuantity: { anyOf: [nothing, positive] },
    sides: { enum: ["both", "long", "short"], default: "both" },
    entryLimit: {
      type: "object",
      nullable: true,
      additionalProperties: false,
      required: ["ticks", "bars"],
      properties: {
        ticks: { type: "number", minimum: 0, maximum: MOST },
        bars: { type: "integer", minimum: 1, maximum: 1_000_000 },
      },
    },
    onePosition: { type: "boolean", default: false },
    entriesPerSession: { anyOf: [nothing, { type: "integer", minimum: 0 }], default: null },
    coolDownBars: { anyOf: [nothing, { type: "integer", minimum: 0 }], default: null },
    dailyLoss: { anyOf: [nothing, positive], default: null },
    drawdown: {
      type: "object",
      nullable: true,
      additionalProperties: false,
      required: ["unit", "value"],
      properties: { unit: { enum: ["money", "percent"] }, value: positive },
    },
    atLimit: { enum: ["no entries", "flatten"] },
    longWindow: { ...windowSchema, default: null },
    shortWindow: { ...windowSchema, default: null },
    filter: { type: "string", maxLength: 400, default: "" },
    isFilterOff: { type: "boolean" },
  },
} as const;
