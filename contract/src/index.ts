/** The contract between server, web, command line and venue: types and the schemas they are derived from. */
export type * from "./api.ts";
export { type Packed, type PackedColumn, packColumns, unpackColumns } from "./binary.ts";
export { type Constraint, readConstraint } from "./constraint.ts";
export { readInstrument } from "./instrument-file.ts";
export { kitSchema } from "./kit-schema.ts";
export { engineSettings } from "./run-settings.ts";
export * from "./schemas.ts";
export { settingLabel, valueWords } from "./setting-words.ts";
export { countVariants, MOST_VARIANTS, type SweepSpace, valuesOf, variantsOf } from "./sweep-space.ts";
export { check } from "./validate.ts";
export { countWindows } from "./walk-windows.ts";
