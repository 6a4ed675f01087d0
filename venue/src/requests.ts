/** What may be asked of the venue, as schemas that its border checks. JSON has no NaN or Infinity: they come as null. */
import { DISTANCE_UNITS, type EngineSettings, EXIT_REASONS, type PlanCommand } from "@plan-tester/core";
import type { ClientMessage } from "./protocol.ts";

const numberOrNull = { anyOf: [{ type: "number" }, { type: "null" }] } as const;
const word = { type: "string", maxLength: 60 } as const;
const plainDistance = {
  type: "object",
  additionalProperties: false,
  required: ["unit", "value"],
  properties: { unit: { enum: [...DISTANCE_UNITS] }, value: numberOrNull },
} as const;
const distance = { anyOf: [{ type: "null" }, plainDistance] } as const;

const moves = {
  anyOf: [
    { type: "null" },
    {
      type: "object",
      additionalProperties: false,
      required: ["trail", "locks", "timeLimit"],
      properties: {
        trail: {
          anyOf: [
            { type: "null" },
            {
              type: "object",
              additionalProperties: false,
              required: ["distance", "after", "step"],
              properties: { distance: plainDistance, after: distance, step: distance },
            },
          ],
        },
        locks: {
          type: "array",
          maxItems: 40,
          items: {
            type: "object",
            additionalProperties: false,
            required: ["after", "keep", "reason"],
            properties: { after: plainDistance, keep: plainDistance, reason: { enum: ["break-even", "lock"] } },
          },
        },
        timeLimit: {
          anyOf: [
            { type: "null" },
            { type: "object", additionalProperties: false, required: ["bars"], properties: { bars: { type: "number" } } },
            { type: "object", additionalProperties: false, required: ["milliseconds"], properties: { milliseconds: { type: "number" } } },
          ],
        },
      },
    },
  ],
} as const;

const ticketProperties = {
  side: { enum: [1, -1] },
  kind: { enum: ["market", "stop", "limit", "stop-limit"] },
  price: numberOrNull,
  limitPrice: numberOrNull,
  quantity: numberOrNull,
  intent: { enum: ["enter", "exit", "reverse"] },
  tag: word,
  stopLoss: distance,
  target: distance,
  moves,
  timeInForce: { type: "object", required: ["until"], properties: { until: { enum: ["cancelled", "session", "bars", "time"] } } },
  group: word,
  owner: word,
  onlyTag: word,
  line: { type: "integer", minimum: 0 },
  reason: { enum: [...EXIT_REASONS] },
  atClose: { type: "boolean" },
  submittedBar: { type: "integer" },
  submittedTime: { type: "number" },
  expiresBar: numberOrNull,
  expiresTime: numberOrNull,
} as const;

const NAME = { type: "string", pattern: "^[A-Za-z0-9_-]{1,64}$" } as const;
const address = { account: NAME, owner: NAME } as const;
const symbol = { type: "string", minLength: 1, maxLength: 24 } as const;
const orderId = { type: "integer", minimum: 1 } as const;
const above0 = { type: "number", exclusiveMinimum: 0 } as const;
const whole = { type: "integer", minimum: 0 } as const;

function closed<const P extends Record<string, object>>(properties: P, optional: readonly (keyof P)[] = []) {
  return {
    type: "object",
    additionalProperties: false,
    required: Object.keys(properties).filter((name) => !optional.includes(name)),
    properties,
  };
}

const { atClose: _atClose, ...ticketAlways } = ticketProperties;
const ticket = { type: "object", additionalProperties: false, required: Object.keys(ticketAlways), properties: ticketProperties } as const;
const change = {
  type: "object",
  additionalProperties: false,
  minProperties: 1,
  properties: { price: above0, quantity: above0, limitPrice: above0 },
};

const kind = (name: string): object => ({ const: name });
/** What a plan asks of its account, by its kind. */
export const COMMAND_SCHEMAS: Readonly<Record<PlanCommand["kind"], object>> = {
  submit: closed({ kind: kind("submit"), symbol, orderId, ticket }),
  cancel: closed({
    ...{ kind: kind("cancel"), symbol, orderId: { type: "integer" } },
    ...{ note: { type: "string", maxLength: 200 }, isExpiry: { type: "boolean" } },
  }),
  modify: closed({ kind: kind("modify"), symbol, orderId, change }),
  exits: closed({ kind: kind("exits"), symbol, which: { enum: ["stop", "target"] }, price: numberOrNull, mayLoosen: { type: "boolean" } }),
  due: closed({ kind: kind("due"), symbol, orderId: { type: "integer" } }),
};
const anyCommand = { type: "object", required: ["kind"], properties: { kind: { enum: Object.keys(COMMAND_SCHEMAS) } } };

/** One message of a client on the WebSocket, by its type. Kinds are told apart first, so that what is wrong is said of the right one. */
export const CLIENT_SCHEMAS: Readonly<Record<ClientMessage["type"], object>> = {
  hello: closed({ type: kind("hello"), answers: { type: "boolean" } }),
  follow: closed({ type: kind("follow"), ...address, after: whole, prices: { type: "boolean" } }),
  leave: closed({ type: kind("leave"), ...address }),
  commands: closed({
    type: kind("commands"),
    ...address,
    first: { type: "integer", minimum: 1 },
    commands: { type: "array", maxItems: 5000, items: anyCommand },
  }),
  ack: closed({ type: kind("ack"), seq: whole }),
};

export interface OpenAccount {
  readonly id: string;
  /** Read by `readInstrument`. */
  readonly instruments: readonly unknown[];
  /** Completed and checked by `resolveSettings`. */
  readonly settings: Partial<EngineSettings>;
  readonly timeframe: string;
}

export const openAccountSchema = closed({
  id: NAME,
  instruments: { type: "array", minItems: 1, maxItems: 20, items: { type: "object" } },
  settings: { type: "object" },
  timeframe: { type: "string", maxLength: 6 },
});

export interface ClockChange {
  readonly speed?: number;
  readonly holds?: boolean;
}

export const clockChangeSchema = {
  type: "object",
  additionalProperties: false,
  minProperties: 1,
  properties: { speed: { type: "number", minimum: 1, maximum: 100_000 }, holds: { type: "boolean" } },
} as const;

export interface Flatten {
  /** "others": only what something else than the plan has opened; working orders stay. */
  readonly only?: "everything" | "others";
}

export const flattenSchema = closed({ only: { enum: ["everything", "others"] } }, ["only"]);
