/** What can be made to go wrong at the practice venue, on purpose. */
import type { FromSchema } from "json-schema-to-ts";

const few = { type: "integer", minimum: 0, maximum: 1000 } as const;

export const venueFaultsSchema = {
  type: "object",
  additionalProperties: false,
  properties: {
    /** The next so many entries, or exits, that plans send are refused. */
    refuseEntries: few,
    refuseExits: few,
    /** Of the next so many entries only half is taken. */
    halveEntries: few,
    /** The next so many reports are lost, told twice, or told behind the one after them. */
    loseReports: few,
    repeatReports: few,
    swapReports: few,
    /** Every word comes so much later, milliseconds. */
    delayMs: { type: "integer", minimum: 0, maximum: 60_000 },
    /** The venue's clock is so many seconds ahead of the true time; below 0 behind it. */
    skewSeconds: { type: "integer", minimum: -86_400, maximum: 86_400 },
    /** Lines to clients are broken, and none is taken for so many seconds. */
    breakSeconds: { type: "integer", minimum: 0, maximum: 3600 },
  },
} as const;

export type VenueFaults = Required<FromSchema<typeof venueFaultsSchema>>;
export type VenueFaultsChange = Partial<VenueFaults>;

export const NO_FAULTS: VenueFaults = Object.freeze({
  ...{
    refuseEntries: 0,
    refuseExits: 0,
    halveEntries: 0,
    loseReports: 0,
    repeatReports: 0,
    swapReports: 0,
    delayMs: 0,
    skewSeconds: 0,
    breakSeconds: 0,
  },
});

/** Something else than its plan trades under a watch's name: at the next price, at market. */
export const otherTradeSchema = {
  type: "object",
  additionalProperties: false,
  required: ["symbol", "side", "quantity"],
  properties: {
    symbol: { type: "string", minLength: 1, maxLength: 24 },
    side: { enum: [1, -1] },
    quantity: { type: "number", exclusiveMinimum: 0, maximum: 1e12 },
  },
} as const;

export type OtherTrade = FromSchema<typeof otherTradeSchema>;

/** The price of an instrument jumps with the next minute that opens, and goes on from there. */
export const priceJumpSchema = {
  type: "object",
  additionalProperties: false,
  required: ["symbol", "percent"],
  properties: {
    symbol: { type: "string", minLength: 1, maxLength: 24 },
    /** Up; below 0 down. */
    percent: { type: "number", minimum: -50, maximum: 100 },
  },
} as const;

export type PriceJump = FromSchema<typeof priceJumpSchema>;
