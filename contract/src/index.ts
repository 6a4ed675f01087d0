/** The contract between server, web, command line and venue: types and the schemas they are derived from. */

export { aimOf, plainAim } from "./aim.ts";
export * from "./alerts.ts";
export type * from "./api.ts";
export { type Packed, type PackedColumn, packColumns, unpackColumns } from "./binary.ts";
export * from "./blends.ts";
export { LEAST_POSITIVE, MOST } from "./bounds.ts";
export * from "./bundles.ts";
export { readSheet, sheetOf } from "./check-sheet.ts";
export { readConstraint } from "./constraint.ts";
export { evidenceDocument } from "./evidence-document.ts";
export * from "./faults.ts";
export { readInstrument } from "./instrument-file.ts";
export { kitSchema } from "./kit-schema.ts";
export { isLocalHost } from "./local-host.ts";
export { type Coverage, type Days, daysOf, MOVING_PERIOD, MOVING_UNITS, type MovingUnit } from "./moving-period.ts";
export { runOrdersOf } from "./order-body.ts";
export { isInForce, type MadeRepair, type RepairBody, repairBodySchema } from "./repairs.ts";
export type { Replies } from "./replies.ts";
export {
  addressOf,
  type BodyOf,
  checkShape,
  errorsOf,
  type ParamsOf,
  paramsIn,
  type QueryOf,
  queryFrom,
  type Route,
  statusOf,
} from "./route.ts";
export { type CallOf, REQUEST_SHAPES, type ReplyOf, ROUTE_NAMES, ROUTES, type RouteName, type RouteOf } from "./routes.ts";
export { sheetIn, textOfSheet } from "./rule-sheets.ts";
export { type DocumentParts, type RunDocument, runDocument } from "./run-document.ts";
export { costsOfRun, engineSettings } from "./run-settings.ts";
export * from "./schemas.ts";
export {
  marketsOf,
  runOfVariant,
  SYMBOL_AXIS,
  settingSpecs,
  TIMEFRAME_AXIS,
  type VariedSettings,
  withSettings,
} from "./setting-axes.ts";
export { accountLimitsWords, settingLabel, valueWords } from "./setting-words.ts";
export { hasSheet, withoutSheet } from "./sheet-line.ts";
export { sheetSchema } from "./sheet-schema.ts";
export { SKELETON } from "./skeleton.ts";
export {
  countVariants,
  NO_VARIANT,
  type SweepScope,
  sweepSpace,
  VariantSpace,
  valuesOf,
} from "./sweep-space.ts";
export { check, prepareSchemas } from "./validate.ts";
export { settingsOfVariant, withUnits } from "./variants.ts";
export { countWindows } from "./walk-windows.ts";
