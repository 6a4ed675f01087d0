/** Blends: kept runs on one account, with sizes. What they come to is computed by the core, from the runs' own columns. */
import {
  type AccountLimits,
  type LimitHit,
  type MatchedTrade,
  type PlanFailure,
  type RunStatus,
  WEIGHTINGS,
  type Weighting,
} from "@plan-tester/core";
import { accountLimitsSchema } from "./account-limits.ts";

export const MAX_BLEND_MEMBERS = 20;

/** What a blend's account is to be ready for. */
export const BLEND_FALLS = ["measured", "days 95", "days 99"] as const;
export type BlendFall = (typeof BLEND_FALLS)[number];

/** Over which days a blend is looked at. */
export const BLEND_DAYS = ["shared", "all"] as const;
export type BlendDays = (typeof BLEND_DAYS)[number];

const id = { type: "string", pattern: "^[A-Za-z0-9_-]{1,64}$" } as const;

export const blendSetupSchema = {
  type: "object",
  additionalProperties: false,
  required: ["cash", "currency", "members"],
  properties: {
    /** Money of the account that the blend begins with. */
    cash: { type: "number", minimum: 1, maximum: 1e12 },
    currency: { type: "string", minLength: 1, maxLength: 12 },
    /** Money of the blend for one of another account's currency. */
    rates: {
      type: "object",
      default: {},
      required: [],
      maxProperties: 50,
      additionalProperties: { type: "number", minimum: 1e-9, maximum: 1e9 },
    },
    /** What the account may lose; left out for no limit. */
    limits: accountLimitsSchema,
    /** Percent of the account that may be lost. */
    tolerated: { type: "number", minimum: 0.1, maximum: 100, default: 20 },
    /** Percent that is added to the fall for a worse future. */
    allowance: { type: "number", minimum: 0, maximum: 500, default: 0 },
    fall: { enum: BLEND_FALLS, default: "measured" },
    /** How sizes are found; by hand: they are those of the members. */
    weighting: { enum: ["by hand", ...WEIGHTINGS], default: "by hand" },
    /** shared: from the day on which the last member begins to that on which the first ends, where there are such days. */
    days: { enum: BLEND_DAYS, default: "shared" },
    /** Percent of the days, the first ones, by which weights are chosen. */
    chosenBy: { type: "number", minimum: 10, maximum: 90, default: 60 },
    members: {
      type: "array",
      maxItems: MAX_BLEND_MEMBERS,
      items: {
        type: "object",
        additionalProperties: false,
        required: ["runId", "size"],
        properties: {
          runId: id,
          /** Units of an entry; times the run where its entries are of several sizes. 0 leaves it out. */
          size: { type: "number", minimum: 0, maximum: 1e12 },
        },
      },
    },
  },
} as const;

export const blendBodySchema = {
  type: "object",
  additionalProperties: false,
  required: ["name", "setup"],
  properties: {
    name: { type: "string", minLength: 1, maxLength: 120, pattern: "\\S" },
    note: { type: "string", maxLength: 5000, default: "" },
    setup: blendSetupSchema,
  },
} as const;

export const blendChangeSchema = {
  ...blendBodySchema,
  required: ["name", "setup", "revision"],
  /** The one that was read. */
  properties: { ...blendBodySchema.properties, revision: { type: "integer", minimum: 1, maximum: 1e9 } },
} as const;

/** A run of a blend as several plans on one account. */
export const blendRunSchema = {
  type: "object",
  additionalProperties: false,
  required: ["id", "cash", "members"],
  properties: {
    /** Of the run, for its progress and for stopping it. */
    id,
    /** What the blend is called, for the Journal of its plans. */
    name: { type: "string", maxLength: 120, default: "" },
    cash: blendSetupSchema.properties.cash,
    limits: accountLimitsSchema,
    members: {
      type: "array",
      minItems: 1,
      maxItems: MAX_BLEND_MEMBERS,
      items: {
        type: "object",
        additionalProperties: false,
        required: ["runId"],
        properties: {
          runId: id,
          /** Units of each entry; null as the run sized them. */
          units: { type: "number", nullable: true, default: null, exclusiveMinimum: 0, maximum: 1e12 },
          /** Account money for one of the run's own. */
          rate: { type: "number", default: 1, minimum: 1e-9, maximum: 1e9 },
        },
      },
    },
  },
} as const;

export interface BlendRunRequest {
  readonly id: string;
  readonly name?: string;
  readonly cash: number;
  readonly limits?: AccountLimits | null;
  readonly members: readonly { readonly runId: string; readonly units: number | null; readonly rate: number }[];
}

/** What one plan did on the account of all; money is that of its own run's account. */
export interface BlendedMember {
  readonly runId: string;
  readonly status: RunStatus;
  readonly failure: PlanFailure | null;
  readonly netProfit: number;
  readonly trades: readonly (MatchedTrade & { readonly quantity: number })[];
  /** Refused orders by their reason, numbers left out. */
  readonly refused: readonly { readonly reason: string; readonly orders: number }[];
}

/** Columns: `equity0`, `time0` for the first member, and so on: its own ledger at the closes of its bars. */
export interface BlendRunMeta {
  readonly members: readonly BlendedMember[];
  /** Close at which the account was wiped out; null where it was not. */
  readonly ruinMs: number | null;
  /** Limits of the account that were hit, in order of time. */
  readonly limitHits: readonly LimitHit[];
  readonly elapsedMs: number;
}

export type BlendWeighting = Weighting | "by hand";
export interface BlendMemberSetup {
  readonly runId: string;
  readonly size: number;
}
/** What a blend is asked to be; the schema says what each field means. */
export interface BlendSetup {
  readonly cash: number;
  readonly currency: string;
  readonly limits?: AccountLimits | null;
  readonly rates: Readonly<Record<string, number>>;
  readonly tolerated: number;
  readonly allowance: number;
  readonly fall: BlendFall;
  readonly weighting: BlendWeighting;
  readonly days: BlendDays;
  readonly chosenBy: number;
  readonly members: readonly BlendMemberSetup[];
}
export interface BlendBody {
  readonly name: string;
  readonly note: string;
  readonly setup: BlendSetup;
}
export interface BlendChange extends BlendBody {
  readonly revision: number;
}

export interface Blend extends BlendBody {
  readonly id: string;
  /** Grows by one with each change. */
  readonly revision: number;
  /** Of all that decides its result: account, weights, and each member's run with its size. */
  readonly fingerprint: string;
  readonly createdMs: number;
  readonly updatedMs: number;
}
