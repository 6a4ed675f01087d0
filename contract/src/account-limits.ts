/** What an account may lose, as data that comes in. */
import { ACCOUNT_LIMIT_ACTS } from "@plan-tester/core";
import { LEAST_POSITIVE, MOST } from "./bounds.ts";

/** That percent are 100 at most the engine says. */
const limitSchema = {
  type: "object",
  additionalProperties: false,
  required: ["unit", "value", "act"],
  properties: {
    unit: { enum: ["money", "percent"] },
    value: { type: "number", minimum: LEAST_POSITIVE, maximum: MOST },
    act: { enum: [...ACCOUNT_LIMIT_ACTS] },
  },
} as const;

export const accountLimitsSchema = {
  type: "object",
  nullable: true,
  additionalProperties: false,
  required: ["drawdown", "dailyLoss"],
  properties: {
    drawdown: { anyOf: [{ type: "null" }, limitSchema] },
    dailyLoss: { anyOf: [{ type: "null" }, limitSchema] },
  },
} as const;
