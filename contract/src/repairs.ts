/** Repairs of an instrument's bars: what is asked for, and what there is. */
import type { Repair } from "@plan-tester/core";

const ms = { type: "number", minimum: -8.64e15, maximum: 8.64e15 } as const;
const price = { type: "number", exclusiveMinimum: 0, maximum: 1e15 } as const;

const spanned = <const Fields extends object>(kind: string, fields: Fields) =>
  ({
    type: "object",
    additionalProperties: false,
    required: ["kind", "fromMs", "toMs", ...Object.keys(fields)],
    properties: { kind: { const: kind }, fromMs: ms, toMs: ms, ...fields },
  }) as const;

const repairSchema = {
  type: "object",
  required: ["kind"],
  discriminator: { propertyName: "kind" },
  oneOf: [
    spanned("drop", {}),
    spanned("interpolate", { tickSize: price }),
    spanned("shift", { minutes: { type: "integer", minimum: -1440, maximum: 1440 } }),
    spanned("multiply", { factor: { type: "number", minimum: 1e-6, maximum: 1e6 } }),
    spanned("round", { tickSize: price }),
    {
      type: "object",
      additionalProperties: false,
      required: ["kind", "timeMs", "open", "high", "low", "close", "volume"],
      properties: {
        ...{ kind: { const: "correct" }, timeMs: ms, open: price, high: price, low: price, close: price },
        volume: { type: "number", minimum: 0, maximum: 1e15 },
      },
    },
  ],
} as const;

export const repairBodySchema = {
  type: "object",
  additionalProperties: false,
  required: ["repair", "reason"],
  properties: { repair: repairSchema, reason: { type: "string", minLength: 1, maxLength: 400 } },
} as const;

export interface RepairBody {
  readonly repair: Repair;
  /** In the user's words. */
  readonly reason: string;
}

/** One that is, or was, applied to an instrument's bars; later ones see what the earlier ones left. */
export interface MadeRepair extends RepairBody {
  readonly id: number;
  readonly createdMs: number;
  /** When it was undone; 0 while it is in force. */
  readonly undoneMs: number;
}

/** Whether a repair lay over the bars at a time. @param atMs Infinity for now */
export const isInForce = ({ createdMs, undoneMs }: Pick<MadeRepair, "createdMs" | "undoneMs">, atMs: number): boolean =>
  createdMs <= atMs && (undoneMs === 0 || undoneMs > atMs);
