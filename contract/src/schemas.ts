/**
 * Every shape that crosses a border, once: as a JSON schema that Ajv checks and as the TypeScript type derived from it.
 */
import {
  BAR_FILES,
  type CsvLayout,
  DATE_FORMATS,
  type ExitKit,
  type InputValues,
  type Mark,
  type OverlapChoice,
  PATH_MODELS,
  POSITION_MODES,
  PRICE_BASES,
  RUIN_MODES,
  SEARCH_METHODS,
  SWEEP_FIGURES,
} from "@plan-tester/core";
import type { FromSchema } from "json-schema-to-ts";
import { accountLimitsSchema } from "./account-limits.ts";
import { ALERT_LEVELS, alertSetupSchema } from "./alerts.ts";
import { LEAST_POSITIVE, MOST } from "./bounds.ts";
import { venueFaultsSchema } from "./faults.ts";
import { kitSchema } from "./kit-schema.ts";
import { MOVING_PERIOD } from "./moving-period.ts";

const id = { type: "string", pattern: "^[A-Za-z0-9_-]{1,64}$" } as const;
const symbol = { type: "string", pattern: "^[A-Za-z0-9][A-Za-z0-9._/-]{0,23}$" } as const;
/** UTC milliseconds. */
const moment = { type: "integer", minimum: 0, maximum: 8.64e15 } as const;
const date = { type: "string", pattern: "^\\d{4}-\\d{2}-\\d{2}$", format: "calendar-date" } as const;
const wallTime = { type: "string", pattern: "^\\d{1,2}:\\d{2}$" } as const;
const timeframe = { type: "string", pattern: "^\\d{1,4}(m|h|d|w|mo)$" } as const;
const source = { type: "string", minLength: 1, maxLength: 524_288 } as const;
const positive = { type: "number", minimum: LEAST_POSITIVE, maximum: MOST } as const;
const notNegative = { type: "number", minimum: 0, maximum: MOST } as const;
const bounded = { type: "number", minimum: -MOST, maximum: MOST } as const;
const title = { type: "string", minLength: 1, maxLength: 200 } as const;
const note = { type: "string", maxLength: 20_000 } as const;

const tags = { type: "array", maxItems: 20, uniqueItems: true, items: { type: "string", minLength: 1, maxLength: 60 } } as const;

export const costsSchema = {
  type: "object",
  additionalProperties: false,
  required: ["commissionPerOrder", "commissionPerUnit", "commissionPercent", "commissionMinimum", "spreadTicks", "slippageTicks"],
  properties: {
    commissionPerOrder: notNegative,
    commissionPerUnit: notNegative,
    commissionPercent: notNegative,
    commissionMinimum: notNegative,
    spreadTicks: notNegative,
    slippageTicks: notNegative,
    slippageRange: { type: "number", minimum: 0, maximum: 1 },
    slippageRandomTicks: notNegative,
    financingLong: bounded,
    financingShort: bounded,
  },
} as const;

const fee = { ...notNegative, default: 0 } as const;

/** Costs of an instrument's file: what it does not name costs nothing. */
const instrumentCostsSchema = {
  ...costsSchema,
  properties: {
    ...costsSchema.properties,
    ...{
      commissionPerOrder: fee,
      commissionPerUnit: fee,
      commissionPercent: fee,
      commissionMinimum: fee,
      spreadTicks: fee,
      slippageTicks: fee,
    },
  },
} as const;

const marginSchema = {
  type: "object",
  additionalProperties: false,
  required: ["by", "value", "maintenancePercent"],
  properties: { by: { enum: ["unit", "leverage"] }, value: positive, maintenancePercent: { type: "number", minimum: 0, maximum: 100 } },
} as const;

const conversionSchema = {
  anyOf: [
    positive,
    {
      type: "object",
      additionalProperties: false,
      required: ["symbol", "inverse"],
      properties: { symbol, inverse: { type: "boolean" } },
    },
  ],
} as const;

const testPositionSchema = {
  type: "object",
  additionalProperties: false,
  required: ["side", "bar", "units"],
  properties: { side: { enum: [1, -1] }, bar: { type: "integer", minimum: 0 }, units: positive },
} as const;

export const inputValuesSchema = {
  type: "object",
  maxProperties: 200,
  additionalProperties: { anyOf: [bounded, { type: "boolean" }, { type: "string", maxLength: 400 }] },
} as const;

/** What a run is made on, besides plan and inputs. The words of the sentence on the Bench. */
export const runSettingsSchema = {
  type: "object",
  additionalProperties: false,
  required: ["symbol", "timeframe", "from", "to", "cash", "costs", "path"],
  properties: {
    symbol,
    timeframe,
    /** First session date. */
    from: date,
    /** Last session date, inclusive. */
    to: date,
    /** Days that move with the data, in words, such as "last 3 months": they are worked out anew for each run. null for the days above. */
    period: { anyOf: [{ type: "null" }, { type: "string", pattern: MOVING_PERIOD }] },
    cash: positive,
    /** Each instrument's own costs, none, or costs of one's own for all. */
    costs: { anyOf: [{ enum: ["market", "none"] }, costsSchema] },
    /** All costs times this. */
    costsScale: { type: "number", minimum: 0, maximum: 100, default: 1 },
    /** Instruments whose costs are told apart, by symbol. */
    costsFor: {
      type: "object",
      maxProperties: 10,
      default: {},
      additionalProperties: {
        type: "object",
        additionalProperties: false,
        properties: {
          costs: { anyOf: [{ enum: ["market", "none"] }, costsSchema] },
          scale: { type: "number", minimum: 0, maximum: 100 },
        },
      },
    },
    path: { enum: [...PATH_MODELS] },
    basis: { enum: [...PRICE_BASES], default: "last" },
    throughTicks: { ...notNegative, default: 0 },
    /** Further instruments of the run, on the same account. */
    alsoOn: { type: "array", maxItems: 6, uniqueItems: true, items: symbol, default: [] },
    positions: { enum: [...POSITION_MODES], default: "netting" },
    margin: { anyOf: [{ type: "null" }, marginSchema], default: null },
    maxQuantity: { anyOf: [{ type: "null" }, positive], default: null },
    maxPositions: { anyOf: [{ type: "null" }, { type: "integer", minimum: 1 }], default: null },
    /** What the account may lose; left out for no limit. */
    limits: accountLimitsSchema,
    conversions: { type: "object", maxProperties: 20, additionalProperties: conversionSchema, default: {} },
    kit: { ...kitSchema, nullable: true, default: null },
    testPosition: { anyOf: [{ type: "null" }, testPositionSchema], default: null },
    ruin: { enum: [...RUIN_MODES], default: "stop" },
    /** Of the account; empty for that of the plan's own instrument. */
    currency: { type: "string", maxLength: 8, default: "" },
    seed: { type: "integer", minimum: 0, maximum: 4_294_967_295, default: 1 },
    riskFree: { type: "number", minimum: -1, maximum: 1, default: 0 },
  },
} as const;

export const calendarSchema = {
  type: "object",
  additionalProperties: false,
  required: ["zone", "weekly"],
  properties: {
    zone: { type: "string", minLength: 1, maxLength: 60 },
    weekly: {
      type: "array",
      minItems: 1,
      maxItems: 21,
      items: {
        type: "object",
        additionalProperties: false,
        required: ["day", "open", "close"],
        properties: { day: { type: "integer", minimum: 1, maximum: 7 }, open: wallTime, close: wallTime },
      },
    },
    holidays: { type: "array", items: date, maxItems: 5000, default: [] },
    earlyCloses: {
      type: "array",
      maxItems: 5000,
      default: [],
      items: { type: "object", additionalProperties: false, required: ["date", "close"], properties: { date, close: wallTime } },
    },
    sessionsPerYear: { type: "number", exclusiveMinimum: 0, maximum: 366, default: 252 },
    names: {
      type: "array",
      maxItems: 10_000,
      items: {
        type: "object",
        additionalProperties: false,
        required: ["date", "name"],
        properties: { date, name: { type: "string", minLength: 1, maxLength: 60, pattern: "^[^\\r\\n]+$" } },
      },
    },
    isAssumed: { type: "boolean", default: false },
  },
} as const;

/** An instrument as a file gives it; what is left out gets a default. */
export const instrumentSchema = {
  type: "object",
  additionalProperties: false,
  required: ["symbol", "tickSize", "pointValue"],
  properties: {
    symbol,
    name: { type: "string", maxLength: 120, default: "" },
    class: { enum: ["future", "share", "currency", "other"], default: "other" },
    currency: { type: "string", minLength: 1, maxLength: 8, default: "XSC" },
    tickSize: positive,
    /** One tick when left out. */
    pipSize: positive,
    pointValue: positive,
    decimals: { type: "integer", minimum: 0, maximum: 10 },
    minQuantity: { ...positive, default: 1 },
    quantityStep: { ...positive, default: 1 },
    calendar: calendarSchema,
    costs: instrumentCostsSchema,
    note: { type: "string", maxLength: 2000, default: "" },
  },
} as const;

export const conditionsRequestSchema = {
  type: "object",
  additionalProperties: false,
  required: ["source", "inputs", "settings"],
  properties: { source, inputs: inputValuesSchema, settings: runSettingsSchema },
} as const;
export const describeRequestSchema = { type: "object", additionalProperties: false, required: ["source"], properties: { source } } as const;

export const planCreateSchema = {
  type: "object",
  additionalProperties: false,
  required: [],
  properties: { title, source, copyOf: id },
} as const;

export const planUpdateSchema = {
  type: "object",
  additionalProperties: false,
  minProperties: 1,
  properties: {
    title,
    source,
    inputs: inputValuesSchema,
    settings: runSettingsSchema,
    note,
    /** First session date that is kept unseen; empty opens it. */
    reservedFrom: { anyOf: [date, { const: "" }] },
    /** The revision that the change was made from; without it the change is taken whatever was saved meanwhile. */
    baseRevision: { type: "integer", minimum: 0 },
    /** Which draft it is a save of, counted up by one with each: a page that goes sends what another save still carries. */
    draft: {
      type: "object",
      additionalProperties: false,
      required: ["id", "save"],
      properties: { id, save: { type: "integer", minimum: 1 } },
    },
  },
} as const;

export const runRequestSchema = {
  type: "object",
  additionalProperties: false,
  required: ["id", "planId", "source", "inputs", "settings"],
  properties: { id, planId: id, source, inputs: inputValuesSchema, settings: runSettingsSchema },
} as const;

export const keepRequestSchema = {
  type: "object",
  additionalProperties: false,
  required: ["name"],
  properties: { name: title, note, tags: { ...tags, default: [] } },
} as const;

/** Columns by which the list of kept runs can be sorted. */
export const RUN_SORTS = [
  "createdMs",
  "name",
  "planTitle",
  "symbol",
  "netProfit",
  "totalReturn",
  "maxDrawdown",
  "returnToDrawdown",
  "trades",
  "winRate",
  "averageTrade",
  "profitFactor",
  "sharpe",
] as const;

/** What is looked for among kept runs. */
export const runQuerySchema = {
  type: "object",
  additionalProperties: false,
  required: [],
  properties: {
    search: { type: "string", maxLength: 200, default: "" },
    plan: { type: "string", maxLength: 64, default: "" },
    symbol: { type: "string", maxLength: 24, default: "" },
    tag: { type: "string", maxLength: 60, default: "" },
    batch: { type: "string", maxLength: 64, default: "" },
    sort: { enum: [...RUN_SORTS], default: "createdMs" },
    order: { enum: ["up", "down"], default: "down" },
    offset: { type: "integer", minimum: 0, default: 0 },
    limit: { type: "integer", minimum: 1, maximum: 500, default: 100 },
  },
} as const;

/** Runs to be made in the background and kept, one after the other. */
export const batchRequestSchema = {
  type: "object",
  additionalProperties: false,
  required: ["name", "runs"],
  properties: {
    name: title,
    runs: {
      type: "array",
      minItems: 1,
      maxItems: 100,
      items: {
        type: "object",
        additionalProperties: false,
        required: ["planId", "source", "inputs", "settings", "label"],
        properties: { planId: id, source, inputs: inputValuesSchema, settings: runSettingsSchema, label: title },
      },
    },
  },
} as const;

const days = { type: "integer", minimum: 1, maximum: 3650 } as const;
const daysOrNever = { ...days, nullable: true } as const;

/** After how many days something goes by itself; null is never. */
export const retentionRulesSchema = {
  type: "object",
  additionalProperties: false,
  required: ["binDays", "batchRunDays", "dailyReturnDays"],
  properties: {
    /** What was deleted, for good. */
    binDays: days,
    /** Runs that were kept in the background, if nobody has named, tagged or compared them: into the bin. */
    batchRunDays: daysOrNever,
    /** Daily returns of sweeps that are complete; their figures stay. */
    dailyReturnDays: daysOrNever,
  },
} as const;

export const BIN_KINDS = ["plan", "run", "sweep", "walk-forward", "blend", "market", "source"] as const;
/** What can be deleted and come back. */
export type BinKind = (typeof BIN_KINDS)[number];

export const restoreSchema = {
  type: "object",
  additionalProperties: false,
  required: ["kind", "id"],
  properties: { kind: { enum: BIN_KINDS }, id: { type: "string", minLength: 1, maxLength: 64 } },
} as const;

export const comparedSchema = {
  type: "object",
  additionalProperties: false,
  required: ["ids"],
  properties: { ids: { type: "array", minItems: 1, maxItems: 50, items: id } },
} as const;

/** Bars of a period: session dates, both inclusive. */
export const barsQuerySchema = {
  type: "object",
  additionalProperties: false,
  required: ["timeframe", "from", "to"],
  properties: { timeframe, from: date, to: date, fromMs: moment, toMs: moment },
  dependencies: { fromMs: ["toMs"], toMs: ["fromMs"] },
} as const;

export const barFileQuerySchema = {
  type: "object",
  additionalProperties: false,
  required: ["timeframe", "from", "to"],
  properties: {
    ...{ timeframe, from: date, to: date },
    form: { enum: BAR_FILES, default: "csv" },
    /** Expressions such as ema(close, 20), whose columns stand beside the bars. */
    studies: { type: "array", maxItems: 40, items: { type: "string", minLength: 1, maxLength: 400 }, default: [] },
  },
} as const;

const studyText = { type: "string", minLength: 1, maxLength: 400 } as const;

export const studyQuerySchema = {
  type: "object",
  additionalProperties: false,
  required: ["timeframe", "from", "to", "study"],
  /** An expression such as ema(close, 20), and behind it " on 1d" where it is read on longer bars. */
  properties: { timeframe, from: date, to: date, study: studyText },
} as const;

export const layoutBodySchema = {
  type: "object",
  additionalProperties: false,
  required: ["name", "studies"],
  properties: { name: { type: "string", minLength: 1, maxLength: 60 }, studies: { type: "array", maxItems: 40, items: studyText } },
} as const;

const orNull = <T extends object>(schema: T) => ({ anyOf: [schema, { type: "null" }] }) as const;
const price = { type: "number", exclusiveMinimum: 0 } as const;

export const markBodySchema = {
  type: "object",
  additionalProperties: false,
  required: ["side", "entryMs", "entryPrice", "exitMs", "exitPrice", "stop", "target", "note", "planId"],
  properties: {
    side: { enum: [1, -1] },
    ...{ entryMs: moment, entryPrice: price, exitMs: orNull(moment), exitPrice: orNull(price), stop: orNull(price), target: orNull(price) },
    note: { type: "string", maxLength: 400 },
    /** "" for any plan. */
    planId: { type: "string", maxLength: 64 },
  },
} as const;

export const placebosQuerySchema = {
  type: "object",
  additionalProperties: false,
  required: ["placebos"],
  /** How many of each rule: none for a quick answer. */
  properties: { placebos: { type: "integer", minimum: 0, maximum: 999 } },
} as const;

/** Bars of a run to step through, both inclusive. */
export const stepsQuerySchema = {
  type: "object",
  additionalProperties: false,
  required: ["from", "to"],
  properties: { from: { type: "integer", minimum: 0, maximum: MOST }, to: { type: "integer", minimum: 0, maximum: MOST } },
} as const;

/** What becomes of what is open when a watch ends (R8.5). */
export const LEAVINGS = ["flatten", "protected", "bare"] as const;
const leaving = { enum: LEAVINGS } as const;

export const stopWatchSchema = {
  type: "object",
  additionalProperties: false,
  required: ["leaving"],
  properties: { leaving },
} as const;

export const eventsQuerySchema = {
  type: "object",
  additionalProperties: false,
  properties: {
    offset: { type: "integer", minimum: 0, default: 0 },
    limit: { type: "integer", minimum: 1, maximum: 20_000, default: 200 },
    kind: { enum: ["", "state", "order", "fill", "trade", "log", "error", "prompt"], default: "" },
    search: { type: "string", maxLength: 100, default: "" },
    /** Lines of the plan's log alone, at this level or above. */
    level: { enum: ["", ...ALERT_LEVELS], default: "" },
  },
} as const;

export const answerPromptSchema = {
  type: "object",
  additionalProperties: false,
  required: ["accept"],
  properties: {
    accept: { type: "boolean" },
    /** It is known that the order's bar is over; without it such an order is not sent. */
    late: { type: "boolean", default: false },
  },
} as const;

export const versionCreateSchema = {
  type: "object",
  additionalProperties: false,
  required: ["source", "inputs", "settings", "name"],
  properties: { source, inputs: inputValuesSchema, settings: runSettingsSchema, name: { type: "string", maxLength: 200 } },
} as const;

export const renameSchema = { type: "object", additionalProperties: false, required: ["name"], properties: { name: title } } as const;

export const instrumentListSchema = {
  type: "object",
  additionalProperties: false,
  required: ["name", "symbols"],
  properties: {
    name: { type: "string", minLength: 1, maxLength: 80, pattern: "\\S" },
    symbols: { type: "array", maxItems: 500, uniqueItems: true, items: symbol },
  },
} as const;

export const marketShelfSchema = {
  type: "object",
  additionalProperties: false,
  required: ["symbols", "isArchived"],
  properties: { symbols: { type: "array", minItems: 1, maxItems: 500, uniqueItems: true, items: symbol }, isArchived: { type: "boolean" } },
} as const;

export const marketCopySchema = { type: "object", additionalProperties: false, required: ["symbol"], properties: { symbol } } as const;

export const kitBodySchema = {
  type: "object",
  additionalProperties: false,
  required: ["name", "kit"],
  properties: {
    name: { type: "string", minLength: 1, maxLength: 80, pattern: "\\S" },
    description: { type: "string", maxLength: 1000, default: "" },
    kit: kitSchema,
  },
} as const;

export const variantSchema = {
  type: "object",
  additionalProperties: false,
  required: ["name", "inputs", "kit"],
  properties: {
    name: title,
    inputs: inputValuesSchema,
    kit: { ...kitSchema, nullable: true },
    /** Where it belongs; null goes with any. */
    market: {
      type: "object",
      nullable: true,
      default: null,
      additionalProperties: false,
      required: ["symbol", "timeframe"],
      properties: { symbol: { type: "string", minLength: 1, maxLength: 40 }, timeframe: { type: "string", minLength: 1, maxLength: 20 } },
    },
  },
} as const;

/** A plan with everything it needs, as a file. */
export const planFileSchema = {
  type: "object",
  additionalProperties: false,
  required: ["kind", "version", "title", "source", "inputs", "settings"],
  properties: {
    kind: { const: "plan-tester plan" },
    version: { const: 1 },
    title,
    source,
    inputs: inputValuesSchema,
    settings: runSettingsSchema,
    note: { ...note, default: "" },
    /** Texts of the modules that it imports. */
    modules: { type: "array", maxItems: 40, default: [], items: source },
    variants: { type: "array", maxItems: 200, default: [], items: variantSchema },
  },
} as const;

/** Values of one input that a sweep tries: from, to and step for numbers, a list for the rest. */
export const rangeSchema = {
  anyOf: [
    {
      type: "object",
      additionalProperties: false,
      required: ["input", "from", "to", "step"],
      properties: { input: { type: "string" }, from: bounded, to: bounded, step: positive },
    },
    {
      type: "object",
      additionalProperties: false,
      required: ["input", "values"],
      properties: {
        input: { type: "string" },
        values: {
          type: "array",
          minItems: 1,
          maxItems: 1000,
          items: { anyOf: [bounded, { type: "boolean" }, { type: "string" }] },
        },
      },
    },
  ],
} as const;

const figure = { enum: [...SWEEP_FIGURES] } as const;

/** What is aimed at: a figure's name, or a blend of figures with conditions. */
export const aimSchema = {
  anyOf: [
    figure,
    {
      type: "object",
      additionalProperties: false,
      required: ["terms", "robust", "conditions"],
      properties: {
        /** Several are blended by their ranks. */
        terms: {
          type: "array",
          minItems: 1,
          maxItems: 6,
          items: {
            type: "object",
            additionalProperties: false,
            required: ["figure", "weight"],
            properties: { figure, weight: positive },
          },
        },
        /** Whether the median of a setting and its neighbours counts. */
        robust: { type: "boolean" },
        /** What a setting must meet to count at all. */
        conditions: {
          type: "array",
          maxItems: 10,
          items: {
            type: "object",
            additionalProperties: false,
            required: ["figure", "is", "value"],
            properties: { figure, is: { enum: ["at least", "at most"] }, value: bounded },
          },
        },
      },
    },
  ],
} as const;

export const sweepRequestSchema = {
  type: "object",
  additionalProperties: false,
  required: ["planId", "source", "inputs", "settings", "ranges", "outOfSample", "aim"],
  properties: {
    planId: id,
    source,
    inputs: inputValuesSchema,
    /** Its period is the in-sample stretch. */
    settings: runSettingsSchema,
    ranges: { type: "array", minItems: 1, maxItems: 8, items: rangeSchema },
    outOfSample: {
      anyOf: [
        { type: "null" },
        { type: "object", additionalProperties: false, required: ["from", "to"], properties: { from: date, to: date } },
      ],
    },
    aim: aimSchema,
    /** Conditions between inputs that every variant must meet, e.g. "fast < slow", and links, e.g. "slow = 3 * fast". */
    constraints: { type: "array", maxItems: 20, items: { type: "string", minLength: 3, maxLength: 200 }, default: [] },
    /** All of the lattice, or a number of its points found by a method. */
    search: {
      type: "object",
      nullable: true,
      default: null,
      additionalProperties: false,
      required: ["count", "seed"],
      properties: {
        method: { enum: [...SEARCH_METHODS], default: "spread" },
        count: { type: "integer", minimum: 1, maximum: 200_000 },
        seed: { type: "integer", minimum: 0, maximum: 1_000_000 },
      },
    },
  },
} as const;

/** Windows of a walk-forward, in sessions: settings are chosen on one stretch and tried, unchanged, on the next. */
export const walkForwardRequestSchema = {
  type: "object",
  additionalProperties: false,
  required: ["planId", "source", "inputs", "settings", "ranges", "aim", "inSample", "outOfSample", "anchored"],
  properties: {
    planId: id,
    source,
    inputs: inputValuesSchema,
    /** Its period holds all windows. */
    settings: runSettingsSchema,
    ranges: sweepRequestSchema.properties.ranges,
    constraints: sweepRequestSchema.properties.constraints,
    search: sweepRequestSchema.properties.search,
    aim: aimSchema,
    /** Sessions that settings are chosen on. */
    inSample: { type: "integer", minimum: 5, maximum: 5000 },
    /** Sessions that they are tried on after that. */
    outOfSample: { type: "integer", minimum: 1, maximum: 5000 },
    /** Whether each in-sample stretch begins at the start of the period rather than moving on. */
    anchored: { type: "boolean" },
    /** A setting with fewer trades in-sample is not chosen. */
    leastTrades: { type: "integer", minimum: 0, maximum: 100_000, default: 5 },
  },
} as const;

const watchName = { type: "string", minLength: 1, maxLength: 80 } as const;

/** How a watch goes about its orders. */
export const watchOptionsSchema = {
  type: "object",
  additionalProperties: false,
  properties: {
    /** Automatic sends what the plan sends; ask first waits for a word on each; alerts only sends nothing. */
    mode: { enum: ["automatic", "ask first", "alerts only"], default: "automatic" },
    /** In "ask first": exits wait for a word too. */
    asksExits: { type: "boolean", default: false },
    /** A prompt lapses after so many minutes of the venue's clock. */
    promptMinutes: { type: "integer", minimum: 1, maximum: 10_000, default: 5 },
    /** It ends after so many rounds, an entry and its exit each; null for endless. */
    rounds: { anyOf: [{ type: "integer", minimum: 1, maximum: 100_000 }, { type: "null" }], default: null },
    /** A bar older than so many seconds of the venue's clock sends no entry; null for half a bar, at least ten seconds (R8.3). */
    patienceSeconds: { anyOf: [{ type: "number", minimum: 1, maximum: 1e7 }, { type: "null" }], default: null },
    /** It tells when what it made differs by so much from the backtest of the same bars; null for never. */
    driftLimit: { anyOf: [positive, { type: "null" }], default: null },
    /** What becomes of what is open where the plan fails or hangs: it stays with its stop and target, or is closed. */
    onPlanFailure: { enum: ["leave", "flatten"], default: "leave" },
    /** Where the venue refuses an entry: it is passed over, sent again at the minutes that follow, or the watch ends. */
    onEntryRefused: { enum: ["skip", "retry", "stop"], default: "skip" },
    /** How often it is sent again. */
    entryRetries: { type: "integer", minimum: 1, maximum: 100, default: 3 },
    /** Where the venue refuses an exit: it is told, sent again each minute without end, or what is open is closed at the next price. */
    onExitRefused: { enum: ["alert", "retry", "flatten"], default: "flatten" },
    /** Where something is opened on the account under the watch's name that its plan did not ask for: taken as its own, or closed. */
    onUnknown: { enum: ["adopt", "flatten"], default: "adopt" },
    /** Where the line to the venue is back after it was broken for longer than `lineSeconds`. */
    onLineLost: { enum: ["go on", "flatten"], default: "go on" },
    /** A line that is broken for so many seconds is told as an alert. */
    lineSeconds: { type: "integer", minimum: 1, maximum: 86_400, default: 30 },
    /** Where the plan starts again with something open. */
    onRestart: { enum: ["go on", "flatten"], default: "go on" },
    /** Account at the venue, shared by all watches that name it; "" for one of its own. */
    account: { type: "string", pattern: "^[A-Za-z0-9_-]{0,40}$", default: "" },
  },
} as const;

export const watchRequestSchema = {
  type: "object",
  additionalProperties: false,
  required: ["planId", "source", "inputs", "settings"],
  properties: { planId: id, source, inputs: inputValuesSchema, settings: runSettingsSchema, name: watchName, options: watchOptionsSchema },
} as const;

/** What is left out stays as it is. */
export const changeWatchSchema = {
  type: "object",
  additionalProperties: false,
  minProperties: 1,
  properties: { name: watchName, isPaused: { type: "boolean" }, options: watchOptionsSchema },
} as const;

/** An ended watch starts again. What is open is taken over or closed first; or it does not start while something is. */
export const restartWatchSchema = {
  type: "object",
  additionalProperties: false,
  required: ["open"],
  properties: { open: { enum: ["adopt", "flatten", "refuse"] } },
} as const;

/** Another version of a watch's plan, or other inputs of the one at work (R8.6). What is left out stays. */
export const watchVersionSchema = {
  type: "object",
  additionalProperties: false,
  required: ["when"],
  properties: { source, inputs: inputValuesSchema, when: { enum: ["now", "when flat", "never"] } },
} as const;

/** So many of the last bars of a watch. */
export const watchChartSchema = {
  type: "object",
  additionalProperties: false,
  properties: {
    bars: { type: "integer", minimum: 10, maximum: 40_000, default: 400 },
    /** Bars that open by this time, UTC milliseconds; 0 for the last ones. */
    until: { type: "integer", minimum: 0, maximum: 8.64e15, default: 0 },
  },
} as const;

export const venueClockSchema = {
  type: "object",
  additionalProperties: false,
  minProperties: 1,
  properties: { speed: { type: "number", minimum: 1, maximum: 600 }, holds: { type: "boolean" } },
} as const;

const columnNumber = { type: "integer", minimum: 0, maximum: 50 } as const;
const columnOrNone = { anyOf: [columnNumber, { type: "null" }], default: null } as const;
const someColumn = (name: string) => ({ required: [name], properties: { [name]: columnNumber } });

/** How to read a CSV of bars or ticks. Column numbers count from 0. */
export const csvFormatSchema = {
  type: "object",
  additionalProperties: false,
  required: ["delimiter", "headerLines", "time", "dateFormat", "zone", "stamp"],
  properties: {
    /** Whether a line is a bar or a tick, which is a trade or a quote. */
    kind: { enum: ["bars", "ticks"], default: "bars" },
    delimiter: { enum: [",", ";", "\t", "|"] },
    headerLines: { type: "integer", minimum: 0, maximum: 10 },
    time: columnNumber,
    /** Column of the time of day when date and time stand apart. */
    clock: columnOrNone,
    /** Column of the zone, where each line names it. */
    zoneColumn: columnOrNone,
    /** Of bars, as are high, low and close. */
    open: columnNumber,
    high: columnNumber,
    low: columnNumber,
    close: columnNumber,
    /** Of ticks: the price of a trade, or bid and ask, or all. */
    price: columnOrNone,
    bid: columnOrNone,
    ask: columnOrNone,
    /** Of a bar, or the size of a trade. */
    volume: columnOrNone,
    /** Ask minus bid, in price units. */
    spread: columnOrNone,
    dateFormat: { enum: DATE_FORMATS },
    /** Sign between whole units and decimals; the other one, spaces and apostrophes may part thousands. */
    decimal: { enum: [".", ","], default: "." },
    /** Zone of times that name none themselves. */
    zone: { type: "string", minLength: 1, maxLength: 60 },
    /** Whether a time marks the bar's open or its close. */
    stamp: { enum: ["open", "close"] },
  },
  if: { required: ["kind"], properties: { kind: { const: "ticks" } } },
  // biome-ignore lint/suspicious/noThenProperty: a word of JSON schemas
  then: { anyOf: [someColumn("price"), someColumn("bid"), someColumn("ask")] },
  else: { required: ["open", "high", "low", "close"] },
} as const;

const shape = { type: "string", maxLength: 600, default: "" } as const;

export const importRequestSchema = {
  type: "object",
  additionalProperties: false,
  required: ["instrument", "format", "timeframe"],
  properties: {
    ...{ instrument: instrumentSchema, format: csvFormatSchema, timeframe },
    /** Whether the bars come in the place of all that there are, or to them. */
    mode: { enum: ["replace", "add"], default: "replace" },
    /** Where bars are added and some are there already with other values: change nothing and tell, take those that come, keep those there are. */
    overlap: { enum: ["ask", "replace", "keep"], default: "ask" },
    /** What the file looks like: how it was read is remembered under it; "" for nothing to be remembered. */
    shape,
  },
} as const;

export const sourceBodySchema = {
  type: "object",
  additionalProperties: false,
  required: ["name", "kind", "place", "symbol", "everyMinutes", "overlap", "allowsPrivate"],
  properties: {
    name: { type: "string", minLength: 1, maxLength: 60 },
    kind: { enum: ["folder", "web"] },
    /** Path of a folder, or an address; in an address {date} is a day and {symbol} the instrument. */
    place: { type: "string", minLength: 1, maxLength: 1000 },
    symbol: { type: "string", minLength: 1, maxLength: 24 },
    everyMinutes: { type: "integer", minimum: 1, maximum: 10_080 },
    /** Which stay of bars that are there already with other values: those that come, or those there are. */
    overlap: { enum: ["replace", "keep"] },
    /** Whether an address may be one of this machine or its network. */
    allowsPrivate: { type: "boolean" },
  },
} as const;

export const turnSourceSchema = {
  type: "object",
  additionalProperties: false,
  required: ["isOn"],
  properties: { isOn: { type: "boolean" } },
} as const;

export const mappingQuerySchema = { type: "object", additionalProperties: false, required: ["shape"], properties: { shape } } as const;

/** How to read the file that is the body. */
export const importQuerySchema = {
  type: "object",
  additionalProperties: false,
  required: ["spec"],
  properties: { spec: importRequestSchema },
} as const;

export const luckRequestSchema = {
  type: "object",
  additionalProperties: false,
  properties: { markets: { type: "integer", minimum: 1, maximum: 99, default: 19 } },
} as const;
export type LuckRequest = { readonly markets: number };

/** What a sweep or walk-forward was asked for, without the plan's text. */
const withoutSource = ({ required, properties, ...rest }: { readonly required: readonly string[]; readonly properties: object }) => ({
  ...rest,
  required: required.filter((name) => name !== "source"),
  properties: Object.fromEntries(Object.entries(properties).filter(([name]) => name !== "source")),
});

type SettingsFields = FromSchema<typeof runSettingsSchema>;
/** The kit is the core's own type, whose defaults the schema fills in. */
export type RunSettings = Omit<SettingsFields, "kit"> & { readonly kit: ExitKit | null };
/** Requests as they are when the defaults are filled in. */
type WithSettings<T extends { settings: unknown; inputs: unknown }> = Omit<T, "settings" | "inputs"> & {
  readonly settings: RunSettings;
  readonly inputs: InputValues;
};

/** What a run has where its sentence says nothing else. */
export const PLAIN_SETTINGS = {
  cash: 100_000,
  costs: "market",
  path: "assumed",
  basis: "last",
  throughTicks: 0,
  alsoOn: [] as string[],
  positions: "netting",
  margin: null,
  maxQuantity: null,
  maxPositions: null,
  conversions: {},
  kit: null,
  testPosition: null,
  ruin: "stop",
  currency: "",
  costsScale: 1,
  costsFor: {},
  seed: 1,
  riskFree: 0,
} satisfies Partial<RunSettings>;
export type InstrumentFile = FromSchema<typeof instrumentSchema>;
export type ConditionsRequest = WithSettings<FromSchema<typeof conditionsRequestSchema>>;
export type DescribeRequest = FromSchema<typeof describeRequestSchema>;
export type PlanCreate = FromSchema<typeof planCreateSchema>;
export type PlanUpdate = Omit<FromSchema<typeof planUpdateSchema>, "settings" | "inputs"> & {
  readonly settings?: RunSettings;
  readonly inputs?: InputValues;
};
export type RunRequestBody = WithSettings<FromSchema<typeof runRequestSchema>>;
export type KeepRequest = FromSchema<typeof keepRequestSchema>;
/** With its defaults filled in. */
export type RunQuery = Required<FromSchema<typeof runQuerySchema>>;
export type BatchRequest = { readonly name: string; readonly runs: readonly (Omit<RunRequestBody, "id"> & { readonly label: string })[] };
export type VersionCreate = WithSettings<FromSchema<typeof versionCreateSchema>>;
export type Rename = FromSchema<typeof renameSchema>;
/** The instrument and timeframe that a variant was found on. */
export type VariantMarket = Pick<RunSettings, "symbol" | "timeframe">;
export type InstrumentListBody = FromSchema<typeof instrumentListSchema>;
export type MarketShelfBody = FromSchema<typeof marketShelfSchema>;
export type MarketCopyBody = FromSchema<typeof marketCopySchema>;
export type KitBody = Required<Omit<FromSchema<typeof kitBodySchema>, "kit">> & { readonly kit: ExitKit };
export type VariantBody = Omit<FromSchema<typeof variantSchema>, "kit" | "market" | "inputs"> & {
  readonly inputs: InputValues;
  readonly kit: ExitKit | null;
  readonly market: VariantMarket | null;
};
export interface PlanFile {
  readonly kind: "plan-tester plan";
  readonly version: 1;
  readonly title: string;
  readonly source: string;
  readonly inputs: InputValues;
  readonly settings: RunSettings;
  readonly note: string;
  readonly modules: readonly string[];
  readonly variants: readonly VariantBody[];
}
export type SweepRange = FromSchema<typeof rangeSchema>;
export type SweepRequest = WithSettings<FromSchema<typeof sweepRequestSchema>>;
export type WalkForwardRequest = WithSettings<FromSchema<typeof walkForwardRequestSchema>>;
export type WatchRequest = Omit<WithSettings<FromSchema<typeof watchRequestSchema>>, "options" | "name"> & {
  readonly name?: string;
  readonly options?: Partial<WatchOptions>;
};
/** A sweep as it was asked for, without the plan's text. */
export type SweepSetup = Omit<SweepRequest, "source">;
export type WalkForwardSetup = Omit<WalkForwardRequest, "source">;
export type BarsQuery = FromSchema<typeof barsQuerySchema>;
export type BarFileQuery = Required<FromSchema<typeof barFileQuerySchema>>;
export type PlacebosQuery = FromSchema<typeof placebosQuerySchema>;
export type StepsQuery = FromSchema<typeof stepsQuerySchema>;
export type Leaving = (typeof LEAVINGS)[number];
export type StopWatch = FromSchema<typeof stopWatchSchema>;
export type EventsQuery = Required<FromSchema<typeof eventsQuerySchema>>;
export type AnswerPrompt = Required<FromSchema<typeof answerPromptSchema>>;

/** How a watch goes about its orders where nothing else is said. */
export const PLAIN_WATCH_OPTIONS: WatchOptions = Object.freeze({
  ...{ mode: "automatic", asksExits: false, promptMinutes: 5, rounds: null, patienceSeconds: null, driftLimit: null, account: "" },
  ...{
    onPlanFailure: "leave",
    onEntryRefused: "skip",
    entryRetries: 3,
    onExitRefused: "flatten",
    onUnknown: "adopt",
    onLineLost: "go on",
    lineSeconds: 30,
    onRestart: "go on",
  },
});

/** As `watchOptionsSchema` has them, filled in. */
export interface WatchOptions {
  readonly mode: "automatic" | "ask first" | "alerts only";
  readonly asksExits: boolean;
  readonly promptMinutes: number;
  readonly rounds: number | null;
  readonly patienceSeconds: number | null;
  readonly driftLimit: number | null;
  readonly onPlanFailure: "leave" | "flatten";
  readonly onEntryRefused: "skip" | "retry" | "stop";
  readonly entryRetries: number;
  readonly onExitRefused: "alert" | "retry" | "flatten";
  readonly onUnknown: "adopt" | "flatten";
  readonly onLineLost: "go on" | "flatten";
  readonly lineSeconds: number;
  readonly onRestart: "go on" | "flatten";
  readonly account: string;
}

export type ChangeWatch = Omit<FromSchema<typeof changeWatchSchema>, "options"> & { readonly options?: WatchOptions };
export type RestartWatch = FromSchema<typeof restartWatchSchema>;
export type WatchChartQuery = Required<FromSchema<typeof watchChartSchema>>;
export type WatchVersion = Omit<FromSchema<typeof watchVersionSchema>, "inputs"> & { readonly inputs?: InputValues };
export type RetentionRules = Readonly<FromSchema<typeof retentionRulesSchema>>;
export type RestoreRequest = FromSchema<typeof restoreSchema>;
export type ComparedRequest = FromSchema<typeof comparedSchema>;
export type VenueClockChange = FromSchema<typeof venueClockSchema>;
export type StudyQuery = FromSchema<typeof studyQuerySchema>;
export type LayoutBody = FromSchema<typeof layoutBodySchema>;
export type MarkBody = Omit<Mark, "id">;
export type SourceBody = FromSchema<typeof sourceBodySchema>;
export type TurnSource = FromSchema<typeof turnSourceSchema>;
export type MappingQuery = FromSchema<typeof mappingQuerySchema>;
export type ImportRequest = Omit<FromSchema<typeof importRequestSchema>, "format" | "mode" | "overlap" | "shape"> & {
  readonly shape?: string;
  readonly format: CsvLayout;
  readonly mode?: "replace" | "add";
  readonly overlap?: "ask" | OverlapChoice;
};

export interface ImportQuery {
  readonly spec: ImportRequest;
}

/** Schemas of types of this file that answers contain, by the type's name. */
export const SHARED_SCHEMAS: Readonly<Record<string, object>> = {
  RunSettings: runSettingsSchema,
  InputValues: inputValuesSchema,
  VariantMarket: { type: "object", additionalProperties: false, required: ["symbol", "timeframe"], properties: { symbol, timeframe } },
  VariantBody: variantSchema,
  RetentionRules: retentionRulesSchema,
  PlanFile: planFileSchema,
  AlertSetup: alertSetupSchema,
  VenueFaults: venueFaultsSchema,
  SweepSetup: withoutSource(sweepRequestSchema),
  WalkForwardSetup: withoutSource(walkForwardRequestSchema),
};
