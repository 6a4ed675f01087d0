/** A bundle: plans with all that belongs to them, kept runs and bars as one zip file of open formats; docs/bundles.md describes it. */
import type { InputValues } from "@plan-tester/core";
import type { FromSchema } from "json-schema-to-ts";
import { TRIAL_KINDS } from "./api.ts";
import {
  inputValuesSchema,
  instrumentSchema,
  kitBodySchema,
  type PlanFile,
  planFileSchema,
  type RunSettings,
  runSettingsSchema,
} from "./schemas.ts";

export const BUNDLE_KIND = "plan-tester bundle";
export const BUNDLE_VERSION = 1;
export const BUNDLE_LIMITS = {
  /** Of the file, and of all that it holds, bytes. */
  packedBytes: 512 * 2 ** 20,
  bytes: 2 ** 30,
  files: 4000,
} as const;

const id = { type: "string", pattern: "^[A-Za-z0-9_-]{1,64}$" } as const;
const title = { type: "string", minLength: 1, maxLength: 200 } as const;
const note = { type: "string", maxLength: 20_000, default: "" } as const;
const hash = { type: "string", maxLength: 2000 } as const;
const timeMs = { type: "number", minimum: 0, maximum: 8.64e15 } as const;
const source = { type: "string", minLength: 1, maxLength: 1_048_576 } as const;
const figure = { type: "number", nullable: true } as const;

/** What a bundle is to hold. Plans of its runs, instruments, and kits of the library that they use come along. */
export const bundleRequestSchema = {
  type: "object",
  additionalProperties: false,
  required: ["title", "plans", "runs"],
  properties: {
    title,
    note,
    plans: { type: "array", maxItems: 200, uniqueItems: true, items: id },
    runs: { type: "array", maxItems: 500, uniqueItems: true, items: id },
    /** All bars of its instruments: then its runs can be made again anywhere. */
    hasBars: { type: "boolean", default: true },
  },
} as const;

/** bundle.json: what the file holds, each with its size and checksum. */
export const bundleManifestSchema = {
  type: "object",
  additionalProperties: false,
  required: ["kind", "version", "title", "note", "madeMs", "files"],
  properties: {
    kind: { const: BUNDLE_KIND },
    version: { const: BUNDLE_VERSION },
    title,
    note,
    madeMs: timeMs,
    files: {
      type: "object",
      required: [],
      maxProperties: BUNDLE_LIMITS.files,
      additionalProperties: {
        type: "object",
        additionalProperties: false,
        required: ["bytes", "sha256"],
        properties: { bytes: { type: "integer", minimum: 0 }, sha256: { type: "string", pattern: "^[0-9a-f]{64}$" } },
      },
    },
  },
} as const;

/** plans/ID.json */
export const bundledPlanSchema = {
  type: "object",
  additionalProperties: false,
  required: ["id", "file", "reservedFrom", "versions", "trials"],
  properties: {
    id,
    file: planFileSchema,
    reservedFrom: { type: "string", maxLength: 10 },
    versions: {
      type: "array",
      maxItems: 10_000,
      items: {
        type: "object",
        additionalProperties: false,
        required: ["name", "createdMs", "source", "inputs", "settings"],
        properties: {
          name: { type: "string", maxLength: 200 },
          createdMs: timeMs,
          source,
          inputs: inputValuesSchema,
          settings: runSettingsSchema,
        },
      },
    },
    /** Its Journal: how much was tried before comes along, or results would look better than they are. */
    trials: {
      type: "array",
      maxItems: 100_000,
      items: {
        type: "object",
        additionalProperties: false,
        required: [
          "createdMs",
          "kind",
          "runId",
          "version",
          "inputs",
          "settings",
          "changes",
          "variants",
          "independent",
          "status",
          "netProfit",
          "maxDrawdown",
          "trades",
          "sharpe",
        ],
        properties: {
          createdMs: timeMs,
          kind: { enum: TRIAL_KINDS },
          runId: { type: "string", maxLength: 64 },
          /** Place of its text among the versions; -1 where there is none. */
          version: { type: "integer", minimum: -1 },
          inputs: inputValuesSchema,
          settings: runSettingsSchema,
          changes: { type: "array", maxItems: 1000, items: { type: "string", maxLength: 4000 } },
          variants: { type: "integer", minimum: 0 },
          independent: figure,
          status: { type: "string", maxLength: 40 },
          ...{ netProfit: figure, maxDrawdown: figure, trades: figure, sharpe: figure },
        },
      },
    },
  },
} as const;

/** runs/ID.json: what made a run and what it came to. All that it reported is in documents/ID.json, its run document. */
export const bundledRunSchema = {
  type: "object",
  additionalProperties: false,
  required: ["id", "planId", "title", "source", "inputs", "settings", "name", "note", "tags", "madeBy", "dataHash", "resultHash"],
  properties: {
    id,
    planId: id,
    title,
    source,
    inputs: inputValuesSchema,
    settings: runSettingsSchema,
    name: title,
    note,
    tags: { type: "array", maxItems: 100, items: { type: "string", maxLength: 200 } },
    /** Only what one run of a plan made can be made again. */
    madeBy: { enum: ["plan", "walk-forward", "watch"] },
    dataHash: hash,
    resultHash: hash,
  },
} as const;

/** instruments/N.json; its bars, where the bundle has them, are bars/N.csv. */
export const bundledInstrumentSchema = {
  type: "object",
  additionalProperties: false,
  required: ["instrument", "timeframe", "bars"],
  properties: {
    instrument: instrumentSchema,
    timeframe: { type: "string", maxLength: 10 },
    bars: {
      type: "object",
      nullable: true,
      additionalProperties: false,
      required: ["count", "hash"],
      properties: { count: { type: "integer", minimum: 1 }, hash },
    },
  },
} as const;

export { kitBodySchema as bundledKitSchema };

export type BundleRequest = Required<FromSchema<typeof bundleRequestSchema>>;
export type SentBundleRequest = FromSchema<typeof bundleRequestSchema>;
export type BundleManifest = FromSchema<typeof bundleManifestSchema>;
export type BundledInstrument = FromSchema<typeof bundledInstrumentSchema>;
type Settled<T> = Omit<T, "inputs" | "settings"> & { readonly inputs: InputValues; readonly settings: RunSettings };
type PlanParts = FromSchema<typeof bundledPlanSchema>;
export type BundledPlan = Omit<PlanParts, "file" | "versions" | "trials"> & {
  readonly file: PlanFile;
  readonly versions: readonly Settled<PlanParts["versions"][number]>[];
  readonly trials: readonly Settled<PlanParts["trials"][number]>[];
};
export type BundledRun = Settled<FromSchema<typeof bundledRunSchema>>;

/** What became of each thing that an opened bundle held. */
export interface BundleReport {
  readonly title: string;
  readonly note: string;
  readonly plans: readonly { readonly id: string; readonly title: string }[];
  readonly kits: readonly { readonly name: string; readonly outcome: "added" | "there already" | "another of the name is there" }[];
  readonly instruments: readonly {
    readonly symbol: string;
    readonly outcome: "added" | "there already" | "other facts or bars are there" | "no bars";
  }[];
  readonly runs: readonly {
    /** In this workspace; null where it was not made. */
    readonly id: string | null;
    readonly name: string;
    readonly outcome: "same" | "differs" | "not made";
    readonly text: string;
  }[];
}
