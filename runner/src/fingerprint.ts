/** What made a run, as a short hash: plan, inputs, data, settings and seed (R7.2). */
import { createHash } from "node:crypto";
import type { BarColumns, EngineSettings, InputValues, Instrument } from "@plan-tester/core";

export function hashText(text: string): string {
  return createHash("sha256").update(text).digest("hex");
}

export function hashBars(columns: BarColumns): string {
  const hash = createHash("sha256");
  for (const column of [columns.time, columns.open, columns.high, columns.low, columns.close, columns.volume, columns.spread])
    if (column) hash.update(new Uint8Array(column.buffer, column.byteOffset, column.byteLength));
  return hash.digest("hex");
}

/** JSON with sorted keys, so that equal things hash alike. */
function canonical(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonical).join(",")}]`;
  if (value !== null && typeof value === "object")
    return `{${Object.entries(value)
      .filter(([, v]) => v !== undefined)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([k, v]) => `${JSON.stringify(k)}:${canonical(v)}`)
      .join(",")}}`;
  return JSON.stringify(value);
}

export interface FingerprintParts {
  readonly source: string;
  readonly inputs: InputValues;
  readonly dataHash: string;
  readonly timeframe: string;
  readonly instrument: Instrument;
  readonly settings: EngineSettings;
}

/** 16 hex digits. */
export const shortHash = (value: unknown): string => hashText(canonical(value)).slice(0, 16);

/** An instrument but for what its special days are called: nothing is traded by that. */
export const unnamedDays = (instrument: Instrument): Instrument => ({
  ...instrument,
  calendar: { ...instrument.calendar, names: undefined },
});

/** 16 hex digits. */
export const fingerprintOf = ({ instrument, ...parts }: FingerprintParts): string =>
  shortHash({ ...parts, instrument: unnamedDays(instrument) });
