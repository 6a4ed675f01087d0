/** Tables, as TypeORM entity schemas with plain row types. Long columns of numbers are blobs; what is nested is JSON text on the disk and what it is here. */
import type {
  AlertDelivery,
  BatchRequest,
  Blend,
  ChartLayout,
  HistoryThumbnail,
  ImportMapping,
  InstrumentList,
  LuckTest,
  QueuedRun,
  RunSettings,
  SourceBody,
  SourceLogEntry,
  SweepSetup,
  SweepStatus,
  TemplateField,
  TrialKind,
  VariantMarket,
  WalkForwardSetup,
  WalkForwardSummary,
  WatchEvent,
  WatchOptions,
} from "@plan-tester/contract";
import type {
  AccountReport,
  ExitKit,
  InputSpec,
  InputValues,
  Instrument,
  KitMemory,
  Mark,
  Repair,
  RunStatus,
  Trade,
} from "@plan-tester/core";
import { EntitySchema } from "typeorm";
import { documents, json, jsonOrNull } from "./documents/documents.ts";

export interface InstrumentRow {
  symbol: string;
  facts: Instrument;
  origin: "demo" | "import";
  createdMs: number;
  /** When it was put into the bin; 0 where it is not there. */
  deletedMs: number;
  /** When it was put out of the way; 0 where it is not. */
  archivedMs: number;
}

export interface InstrumentListRow extends Omit<InstrumentList, "symbols"> {
  symbols: string[];
  createdMs: number;
}

/** Facts that an instrument had until they were changed. */
export interface InstrumentVersionRow {
  id: number;
  symbol: string;
  facts: Instrument;
  untilMs: number;
}

/** A layer over the bars that were imported. */
export interface RepairRow {
  id: number;
  symbol: string;
  repair: Repair;
  reason: string;
  createdMs: number;
  /** When it was undone; 0 while it is in force. */
  undoneMs: number;
}

/** How files of a shape were read last. */
export interface ImportMappingRow {
  shape: string;
  mapping: ImportMapping;
  usedMs: number;
}

/** A mark made by hand. */
export interface MarkRow {
  id: string;
  symbol: string;
  mark: Mark;
  createdMs: number;
}

/** Where new bars of an instrument come from, and how its files are read. */
export interface SourceRow {
  id: string;
  symbol: string;
  source: SourceBody & Pick<ImportMapping, "format" | "timeframe">;
  isOn: boolean;
  /** When it was looked at last; 0 for never. */
  lookedMs: number;
  deletedMs: number;
}

/** What came of a file of a source. */
export interface SourceItemRow {
  id: number;
  sourceId: string;
  key: string;
  outcome: SourceLogEntry["outcome"];
  text: string;
  atMs: number;
}

export interface BarSetRow {
  id: number;
  symbol: string;
  timeframe: string;
  count: number;
  firstMs: number;
  lastMs: number;
  hash: string;
  hasSpread: boolean;
  createdMs: number;
  /** Hash of what repairs leave of the bars; "" where there are none in force. */
  repairedHash: string;
  /** Whether all of its chunks are written. */
  isComplete: boolean;
  /** One close a session; null until it is first asked for. */
  thumbnail: HistoryThumbnail | null;
}

export interface BarChunkRow {
  id: number;
  barSetId: number;
  seq: number;
  count: number;
  /** Columns end to end, float64. */
  data: Buffer;
}

export interface PlanRow {
  id: string;
  title: string;
  source: string;
  inputs: InputValues;
  settings: RunSettings;
  note: string;
  createdMs: number;
  updatedMs: number;
  reservedFrom: string;
  /** Counts its saves. */
  revision: number;
  /** When it was put into the bin; 0 where it is not there. */
  deletedMs: number;
}

export interface RunRow {
  id: string;
  planId: string;
  planTitle: string;
  name: string;
  note: string;
  settings: RunSettings;
  status: RunStatus;
  createdMs: number;
  netProfit: number;
  maxDrawdown: number;
  trades: number;
  sharpe: number | null;
  profitFactor: number | null;
  spark: readonly number[];
  tags: readonly string[];
  /** Runs that were asked for together; empty for one by itself. */
  batch: string;
  /** Set where it is stitched from the windows of a walk-forward. */
  walkForwardId: string;
  symbol: string;
  timeframe: string;
  winRate: number | null;
  averageTrade: number | null;
  returnToDrawdown: number | null;
  totalReturn: number | null;
  /** When it was put into the bin; 0 where it is not there. */
  deletedMs: number;
  /** Whether its name was given by hand. */
  isNamed: boolean;
  /** When it was last set beside others; 0 for never. */
  comparedMs: number;
}

/** A source that a plan had, once for each text. */
export interface PlanVersionRow {
  id: string;
  planId: string;
  createdMs: number;
  name: string;
  hash: string;
  source: string;
  inputs: InputValues;
  settings: RunSettings;
}

export interface VariantRow {
  id: string;
  planId: string;
  createdMs: number;
  name: string;
  inputs: InputValues;
  kit: ExitKit | null;
  market: VariantMarket | null;
}

/** An exit kit of the workspace's library. */
export interface KitRow {
  id: string;
  name: string;
  description: string;
  kit: ExitKit;
  createdMs: number;
  updatedMs: number;
}

/** Something that was tried with a plan, and what came of it. */
export interface TrialRow {
  id: number;
  planId: string;
  createdMs: number;
  kind: TrialKind;
  runId: string;
  versionId: string;
  inputs: InputValues;
  settings: RunSettings;
  changes: readonly string[];
  variants: number;
  /** Independent settings that they amount to; null where it is not known. */
  independent: number | null;
  status: string;
  netProfit: number | null;
  maxDrawdown: number | null;
  trades: number | null;
  sharpe: number | null;
}

export interface RunPartRow {
  runId: string;
  part: string;
  seq: number;
  /** A piece of the part, compressed by itself. */
  bytes: Buffer;
}

/** A fact about the workspace as a whole, by its name. */
export interface WorkspaceRow {
  name: string;
  value: string;
}

/** A run in the background, and how far it has come. */
export interface QueuedRunRow {
  seq: number;
  id: string;
  shown: QueuedRun;
  request: BatchRequest["runs"][number];
  tag: string;
}

/** The last draft run of a plan. */
export interface DraftRunRow {
  planId: string;
  runId: string;
}

export interface SweepRow {
  id: string;
  planId: string;
  planTitle: string;
  source: string;
  request: SweepSetup;
  inputSpecs: readonly InputSpec[];
  status: SweepStatus;
  variants: number;
  done: number;
  failed: number;
  /** Variants that there is room for: at most, while a search goes on. */
  room: number;
  /** Of every so many variants daily returns are kept; 0 where none are. */
  dailyStride: number;
  createdMs: number;
  elapsedMs: number;
  error: string;
  /** When it was put into the bin; 0 where it is not there. */
  deletedMs: number;
}

/** Rows of some variants of a sweep. */
export interface SweepPieceRow {
  sweepId: string;
  seq: number;
  /** Packed columns, compressed. */
  bytes: Buffer;
}

export interface WatchRow {
  id: string;
  planId: string;
  planTitle: string;
  source: string;
  inputs: InputValues;
  settings: RunSettings;
  state: string;
  endReason: string;
  createdMs: number;
  name: string;
  options: Partial<WatchOptions>;
  isPaused: boolean;
  /** Number of the last report of the venue that is in the journal. */
  lastReport: number;
  /** Of the venue's process that told it. */
  epoch: string;
  /** The account as the venue told it last; null before it has. */
  held: AccountReport | null;
  /** What the limits of its kit have counted; null before there is something. */
  kit: readonly KitMemory[] | null;
  /** What takes over when nothing is open; null where nothing waits. */
  pending: Pick<WatchRow, "source" | "inputs"> | null;
  /** Hash of the plan's text that is not wanted; "" for none. */
  declined: string;
}

export interface WatchTradeRow {
  id: number;
  watchId: string;
  exitMs: number;
  net: number;
  trade: Trade;
  /** Number of the venue's report that told it; 0 for one of an earlier version. */
  report: number;
}

export interface WatchEventRow extends WatchEvent {
  watchId: string;
}

export interface AlertSecretRow {
  channelId: string;
  secret: string;
}

export interface AlertDeliveryRow extends AlertDelivery {
  /** What templates may name. */
  readonly fields: Readonly<Record<TemplateField, string>>;
}

const text = { type: "text" } as const;
const int = { type: "integer" } as const;
const real = { type: "real" } as const;
const blob = { type: "blob" } as const;

export const InstrumentEntity = new EntitySchema<InstrumentRow>({
  name: "instrument",
  columns: {
    deletedMs: { ...int, default: 0 },
    archivedMs: { ...int, default: 0 },
    symbol: { ...text, primary: true },
    facts: documents("instrument"),
    origin: text,
    createdMs: int,
  },
});

export const InstrumentListEntity = new EntitySchema<InstrumentListRow>({
  name: "instrument_list",
  columns: { id: { ...text, primary: true }, name: text, symbols: json, createdMs: int },
});

export const InstrumentVersionEntity = new EntitySchema<InstrumentVersionRow>({
  name: "instrument_version",
  columns: { id: { ...int, primary: true, generated: "increment" }, symbol: text, facts: documents("instrument"), untilMs: int },
  indices: [{ name: "instrument_version_symbol", columns: ["symbol"] }],
  foreignKeys: [
    {
      ...{ name: "instrument_version_instrument", target: "instrument", columnNames: ["symbol"], referencedColumnNames: ["symbol"] },
      onDelete: "CASCADE",
    },
  ],
});

export const RepairEntity = new EntitySchema<RepairRow>({
  name: "repair",
  columns: {
    id: { ...int, primary: true, generated: "increment" },
    symbol: text,
    repair: json,
    reason: text,
    createdMs: int,
    undoneMs: int,
  },
  indices: [{ name: "repair_symbol", columns: ["symbol"] }],
  foreignKeys: [
    { name: "repair_instrument", target: "instrument", columnNames: ["symbol"], referencedColumnNames: ["symbol"], onDelete: "CASCADE" },
  ],
});

export const ImportMappingEntity = new EntitySchema<ImportMappingRow>({
  name: "import_mapping",
  columns: { shape: { ...text, primary: true }, mapping: json, usedMs: int },
});

export const ChartLayoutEntity = new EntitySchema<ChartLayout>({
  name: "chart_layout",
  columns: { id: { ...text, primary: true }, name: text, studies: json, changedMs: int },
});

export const MarkEntity = new EntitySchema<MarkRow>({
  name: "mark",
  columns: { id: { ...text, primary: true }, symbol: text, mark: json, createdMs: int },
  indices: [{ name: "mark_symbol", columns: ["symbol"] }],
  foreignKeys: [
    { name: "mark_instrument", target: "instrument", columnNames: ["symbol"], referencedColumnNames: ["symbol"], onDelete: "CASCADE" },
  ],
});

export const SourceEntity = new EntitySchema<SourceRow>({
  name: "source",
  columns: {
    id: { ...text, primary: true },
    symbol: text,
    source: json,
    isOn: { type: "boolean" },
    lookedMs: int,
    deletedMs: { ...int, default: 0 },
  },
  foreignKeys: [
    { name: "source_instrument", target: "instrument", columnNames: ["symbol"], referencedColumnNames: ["symbol"], onDelete: "CASCADE" },
  ],
});

export const SourceItemEntity = new EntitySchema<SourceItemRow>({
  name: "source_item",
  columns: {
    id: { ...int, primary: true, generated: "increment" },
    ...{ sourceId: text, key: text, outcome: text, text, atMs: int },
  },
  indices: [{ name: "source_item_key", columns: ["sourceId", "key"] }],
  foreignKeys: [
    { name: "source_item_source", target: "source", columnNames: ["sourceId"], referencedColumnNames: ["id"], onDelete: "CASCADE" },
  ],
});

export const BarSetEntity = new EntitySchema<BarSetRow>({
  name: "bar_set",
  columns: {
    id: { ...int, primary: true, generated: "increment" },
    symbol: text,
    timeframe: text,
    count: int,
    firstMs: int,
    lastMs: int,
    hash: text,
    hasSpread: { type: "boolean" },
    createdMs: int,
    repairedHash: { ...text, default: "" },
    isComplete: { type: "boolean", default: true },
    thumbnail: { ...json, nullable: true },
  },
  indices: [{ name: "bar_set_symbol", columns: ["symbol"] }],
  foreignKeys: [
    { name: "bar_set_instrument", target: "instrument", columnNames: ["symbol"], referencedColumnNames: ["symbol"], onDelete: "CASCADE" },
  ],
});

export const BarChunkEntity = new EntitySchema<BarChunkRow>({
  name: "bar_chunk",
  columns: { id: { ...int, primary: true, generated: "increment" }, barSetId: int, seq: int, count: int, data: blob },
  indices: [{ name: "bar_chunk_place", columns: ["barSetId", "seq"], unique: true }],
  foreignKeys: [
    { name: "bar_chunk_set", target: "bar_set", columnNames: ["barSetId"], referencedColumnNames: ["id"], onDelete: "CASCADE" },
  ],
});

export const PlanEntity = new EntitySchema<PlanRow>({
  name: "plan",
  columns: {
    deletedMs: { ...int, default: 0 },
    id: { ...text, primary: true },
    title: text,
    source: text,
    inputs: json,
    settings: documents("settings"),
    note: text,
    createdMs: int,
    updatedMs: int,
    reservedFrom: { ...text, default: "" },
    revision: { ...int, default: 0 },
  },
});

export const RunEntity = new EntitySchema<RunRow>({
  name: "run",
  columns: {
    deletedMs: { ...int, default: 0 },
    isNamed: { type: "boolean", default: true },
    comparedMs: { ...int, default: 0 },
    id: { ...text, primary: true },
    planId: text,
    planTitle: text,
    name: text,
    note: text,
    settings: documents("settings"),
    status: text,
    createdMs: int,
    netProfit: real,
    maxDrawdown: real,
    trades: int,
    sharpe: { ...real, nullable: true },
    profitFactor: { ...real, nullable: true },
    spark: json,
    tags: { ...json, default: "[]" },
    batch: { ...text, default: "" },
    walkForwardId: { ...text, default: "" },
    symbol: { ...text, default: "" },
    timeframe: { ...text, default: "" },
    winRate: { ...real, nullable: true },
    averageTrade: { ...real, nullable: true },
    returnToDrawdown: { ...real, nullable: true },
    totalReturn: { ...real, nullable: true },
  },
  indices: [
    { name: "run_created", columns: ["createdMs"] },
    { name: "run_plan", columns: ["planId", "createdMs"] },
    { name: "run_batch", columns: ["batch"] },
  ],
});

export const RunPartEntity = new EntitySchema<RunPartRow>({
  name: "run_part",
  columns: { runId: { ...text, primary: true }, part: { ...text, primary: true }, seq: { ...int, primary: true }, bytes: blob },
});

export const WorkspaceEntity = new EntitySchema<WorkspaceRow>({
  name: "workspace",
  columns: { name: { ...text, primary: true }, value: text },
});

export const QueuedRunEntity = new EntitySchema<QueuedRunRow>({
  name: "queued_run",
  columns: { seq: { ...int, primary: true, generated: "increment" }, id: text, shown: json, request: json, tag: text },
  indices: [{ name: "queued_run_id", columns: ["id"], unique: true }],
});

export const DraftRunEntity = new EntitySchema<DraftRunRow>({
  name: "draft_run",
  columns: { planId: { ...text, primary: true }, runId: text },
});

export const SweepEntity = new EntitySchema<SweepRow>({
  name: "sweep",
  columns: {
    deletedMs: { ...int, default: 0 },
    id: { ...text, primary: true },
    planId: text,
    planTitle: text,
    source: text,
    request: documents("sweep request"),
    inputSpecs: json,
    status: text,
    variants: int,
    done: int,
    failed: { ...int, default: 0 },
    room: { ...int, default: 0 },
    dailyStride: { ...int, default: 0 },
    createdMs: int,
    elapsedMs: int,
    error: text,
  },
  indices: [{ name: "sweep_created", columns: ["createdMs"] }],
});

export const SweepPieceEntity = new EntitySchema<SweepPieceRow>({
  name: "sweep_piece",
  columns: { sweepId: { ...text, primary: true }, seq: { ...int, primary: true }, bytes: blob },
});

export interface LuckTestRow extends LuckTest {
  sweepId: string;
}

export const LuckTestEntity = new EntitySchema<LuckTestRow>({
  name: "luck_test",
  columns: {
    ...{ sweepId: { ...text, primary: true }, status: text, asked: int, best: real, ratios: json, elapsedMs: int, error: text },
  },
});

export const WatchEntity = new EntitySchema<WatchRow>({
  name: "watch",
  columns: {
    id: { ...text, primary: true },
    planId: text,
    planTitle: text,
    source: text,
    inputs: json,
    settings: documents("settings"),
    state: text,
    endReason: text,
    createdMs: int,
    name: { ...text, default: "" },
    options: { ...json, default: "{}" },
    isPaused: { type: "boolean", default: false },
    lastReport: { ...int, default: 0 },
    epoch: { ...text, default: "" },
    held: { ...jsonOrNull, default: "null" },
    kit: { ...jsonOrNull, default: "null" },
    pending: { ...jsonOrNull, default: "null" },
    declined: { ...text, default: "" },
  },
});

export const WatchEventEntity = new EntitySchema<WatchEventRow>({
  name: "watch_event",
  columns: {
    id: { ...int, primary: true, generated: "increment" },
    ...{ watchId: text, timeMs: int, kind: text, text: text },
    atMs: { ...int, default: 0 },
    by: { ...text, default: "" },
    level: { ...text, default: "" },
    cause: { ...text, default: "" },
  },
  indices: [{ name: "watch_event_watch", columns: ["watchId", "id"] }],
  foreignKeys: [
    { name: "watch_event_watch_fk", target: "watch", columnNames: ["watchId"], referencedColumnNames: ["id"], onDelete: "CASCADE" },
  ],
});

export const WatchTradeEntity = new EntitySchema<WatchTradeRow>({
  name: "watch_trade",
  columns: {
    id: { ...int, primary: true, generated: "increment" },
    watchId: text,
    exitMs: int,
    net: real,
    trade: json,
    report: { ...int, default: 0 },
  },
  indices: [{ name: "watch_trade_watch", columns: ["watchId", "id"] }],
  foreignKeys: [
    { name: "watch_trade_watch_fk", target: "watch", columnNames: ["watchId"], referencedColumnNames: ["id"], onDelete: "CASCADE" },
  ],
});

export const AlertSecretEntity = new EntitySchema<AlertSecretRow>({
  name: "alert_secret",
  columns: { channelId: { ...text, primary: true }, secret: text },
});

export const AlertDeliveryEntity = new EntitySchema<AlertDeliveryRow>({
  name: "alert_delivery",
  columns: {
    id: { ...int, primary: true, generated: "increment" },
    ...{ atMs: int, watchId: text, watchName: text, event: text, level: text, text, fields: json },
    ...{ channelId: text, channelName: text, state: text, tries: int, outcome: text, doneMs: int },
  },
  indices: [
    { name: "alert_delivery_state", columns: ["state", "id"] },
    { name: "alert_delivery_watch", columns: ["watchId", "id"] },
  ],
});

export const PlanVersionEntity = new EntitySchema<PlanVersionRow>({
  name: "plan_version",
  columns: {
    id: { ...text, primary: true },
    planId: text,
    createdMs: int,
    name: text,
    hash: text,
    source: text,
    inputs: json,
    settings: documents("settings"),
  },
  indices: [{ name: "plan_version_text", columns: ["planId", "hash"], unique: true }],
});

export const VariantEntity = new EntitySchema<VariantRow>({
  name: "variant",
  columns: {
    id: { ...text, primary: true },
    planId: text,
    createdMs: int,
    name: text,
    inputs: json,
    kit: jsonOrNull,
    market: { ...jsonOrNull, default: "null" },
  },
  indices: [{ name: "variant_plan", columns: ["planId", "createdMs"] }],
});

export const KitEntity = new EntitySchema<KitRow>({
  name: "kit",
  columns: { id: { ...text, primary: true }, name: text, description: text, kit: json, createdMs: int, updatedMs: int },
});

export interface BlendRow extends Omit<Blend, "fingerprint"> {
  /** When it was put into the bin; 0 where it is not there. */
  deletedMs: number;
}

export const BlendEntity = new EntitySchema<BlendRow>({
  name: "blend",
  columns: {
    deletedMs: { ...int, default: 0 },
    ...{ id: { ...text, primary: true }, name: text, note: text, setup: json, revision: int, createdMs: int, updatedMs: int },
  },
});

export const TrialEntity = new EntitySchema<TrialRow>({
  name: "trial",
  columns: {
    id: { ...int, primary: true, generated: "increment" },
    planId: text,
    createdMs: int,
    kind: text,
    runId: text,
    versionId: text,
    inputs: json,
    settings: documents("settings"),
    changes: json,
    variants: int,
    independent: { ...real, nullable: true },
    status: text,
    netProfit: { ...real, nullable: true },
    maxDrawdown: { ...real, nullable: true },
    trades: { ...int, nullable: true },
    sharpe: { ...real, nullable: true },
  },
  indices: [{ name: "trial_plan", columns: ["planId", "id"] }],
});

/** How far a walk-forward has come. */
export type WalkForwardState = Pick<WalkForwardSummary, "windows" | "total" | "variants" | "runId" | "efficiency">;

export interface WalkForwardRow {
  id: string;
  planId: string;
  planTitle: string;
  source: string;
  request: WalkForwardSetup;
  inputSpecs: readonly InputSpec[];
  status: WalkForwardSummary["status"];
  createdMs: number;
  elapsedMs: number;
  error: string;
  /** The windows that are done, and what they came to. */
  windows: WalkForwardState;
  /** When it was put into the bin; 0 where it is not there. */
  deletedMs: number;
}

export const WalkForwardEntity = new EntitySchema<WalkForwardRow>({
  name: "walk_forward",
  columns: {
    deletedMs: { ...int, default: 0 },
    id: { ...text, primary: true },
    planId: text,
    planTitle: text,
    source: text,
    request: documents("walk-forward request"),
    inputSpecs: json,
    status: text,
    createdMs: int,
    elapsedMs: int,
    error: text,
    windows: json,
  },
  indices: [{ name: "walk_forward_created", columns: ["createdMs"] }],
});

export const ENTITIES = [
  InstrumentVersionEntity,
  RepairEntity,
  ImportMappingEntity,
  ChartLayoutEntity,
  MarkEntity,
  SourceEntity,
  SourceItemEntity,
  InstrumentEntity,
  InstrumentListEntity,
  BarSetEntity,
  BarChunkEntity,
  PlanEntity,
  RunEntity,
  RunPartEntity,
  DraftRunEntity,
  QueuedRunEntity,
  WorkspaceEntity,
  SweepEntity,
  SweepPieceEntity,
  LuckTestEntity,
  WatchEntity,
  WatchEventEntity,
  WatchTradeEntity,
  AlertSecretEntity,
  AlertDeliveryEntity,
  PlanVersionEntity,
  VariantEntity,
  KitEntity,
  BlendEntity,
  TrialEntity,
  WalkForwardEntity,
];
