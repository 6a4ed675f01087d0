/**
 * What goes through the queue between the server and workers on other machines: batches of variants, bars under their
 * keys, and what came of it. Values travel as structured clones, so that numbers arrive to the last bit.
 */
import { deserialize, serialize } from "node:v8";
import { type EngineSettings, type ExitKit, type InputValues, type Instrument, sliceSeries } from "@plan-tester/core";
import type { DataSet, Surrogate } from "@plan-tester/runner";

export const QUEUE = "plan-tester-batches";
/** A batch whose worker has not been heard of for so long is given to another. */
export const LOCK_MS = 6_000;
export const LOOK_EVERY_MS = 2_000;
/** How often a batch may be taken over before it counts as lost. */
export const MOST_TAKEN_OVER = 5;
/** Bars stay in the queue's memory for so long after they were last wanted, seconds. */
export const BARS_KEPT = 6 * 3600;

export const barsKey = (key: string): string => `plan-tester:bars:${key}`;

/** An instrument with the key of its bars; of a market without memory the worker makes it of the bars it has. */
export interface QueuedFeed {
  readonly instrument: Instrument;
  readonly key: string;
  readonly surrogate?: Surrogate;
}

/** The key of the bars that have to be there. */
export const sentKeyOf = ({ key, surrogate }: Pick<DataSet, "key" | "surrogate">): string => surrogate?.of ?? key;

/** A batch as it travels: bars by their keys. */
export interface QueuedBatch {
  readonly source: string;
  readonly variants: readonly InputValues[];
  readonly kits: readonly (ExitKit | null)[] | null;
  readonly stretches: readonly (readonly QueuedFeed[])[];
  readonly settings: EngineSettings;
  readonly dailyOf: readonly number[];
}

/** A queue carries JSON; what it can't carry exactly goes as text. */
export interface Parcel {
  readonly packed: string;
}

export const pack = (value: unknown): Parcel => ({ packed: serialize(value).toString("base64") });
export const unpack = <T>({ packed }: Parcel): T => deserialize(Buffer.from(packed, "base64")) as T;

/** The bars of a period are a part of the whole: they travel once. */
export const packBars = ({ series, finer, whole = series }: DataSet): Buffer =>
  serialize({ whole, lead: whole.length - series.length, finer });

export function unpackBars(key: string, bytes: Buffer): DataSet {
  const { whole, lead, finer } = deserialize(bytes) as Required<Pick<DataSet, "whole" | "finer">> & { readonly lead: number };
  return { key, series: lead > 0 ? sliceSeries(whole, lead, whole.length) : whole, finer, whole };
}
