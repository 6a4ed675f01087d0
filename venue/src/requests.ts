/** What may be asked of the venue, as schemas that its border checks. JSON has no NaN or Infinity: they come as null. */
import type { EngineSettings, OrderTicket } from "@plan-tester/core";

const numberOrNull = { anyOf: [{ type: "number" }, { type: "null" }] } as const;
const word = { type: "string", maxLength: 60 } as const;
const distance = {
  anyOf: [
    { type: "null" },
    {
      type: "object",
      additionalProperties: false,
      required: ["unit", "value"],
      properties: { unit: { enum: ["price", "ticks", "percent", "money"] }, value: numberOrNull },
    },
  ],
} as const;

const ticketProperties = {
  side: { enum: [1, -1] },
  kind: { enum: ["market", "stop", "limit"] },
  price: numberOrNull,
  quantity: numberOrNull,
  intent: { enum: ["enter", "exit", "reverse"] },
  tag: word,
  stopLoss: distance,
  target: distance,
  timeInForce: { type: "object", required: ["until"], properties: { until: { enum: ["cancelled", "session", "bars", "time"] } } },
  group: word,
  line: { type: "integer", minimum: 0 },
  reason: { enum: ["stop", "target", "signal", "reverse", "time", "session end", "end of data"] },
  submittedBar: { type: "integer" },
  submittedTime: { type: "number" },
  expiresBar: numberOrNull,
  expiresTime: numberOrNull,
} as const;

export interface OpenAccount {
  readonly id: string;
  /** Read by `readInstrument`. */
  readonly instrument: unknown;
  /** Completed and checked by `resolveSettings`. */
  readonly settings: Partial<EngineSettings>;
}

export const openAccountSchema = {
  type: "object",
  additionalProperties: false,
  required: ["id", "instrument", "settings"],
  properties: { id: { type: "string", pattern: "^[A-Za-z0-9_-]{1,64}$" }, instrument: { type: "object" }, settings: { type: "object" } },
} as const;

export interface SentOrder {
  readonly clientId: number;
  readonly ticket: OrderTicket;
}

export const sentOrderSchema = {
  type: "object",
  additionalProperties: false,
  required: ["clientId", "ticket"],
  properties: {
    clientId: { type: "integer", minimum: 1 },
    ticket: { type: "object", additionalProperties: false, required: Object.keys(ticketProperties), properties: ticketProperties },
  },
} as const;

export const movedOrderSchema = {
  type: "object",
  additionalProperties: false,
  required: ["price"],
  properties: { price: { type: "number", exclusiveMinimum: 0 } },
} as const;

export interface MovedExit {
  readonly which: "stop" | "target";
  readonly price: number | null;
}

export const movedExitSchema = {
  type: "object",
  additionalProperties: false,
  required: ["which", "price"],
  properties: { which: { enum: ["stop", "target"] }, price: numberOrNull },
} as const;
