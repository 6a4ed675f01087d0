/** What reads a file by its layout. */
import { CsvBarReader, type ParsedBars } from "./csv-bars.ts";
import { CsvTickReader } from "./csv-ticks.ts";
import { type CsvLayout, isOfTicks } from "./file-layout.ts";
import type { Allocate } from "./row-blocks.ts";

export interface FileReader {
  readonly rows: number;
  feed(part: Uint8Array): void;
  /** @param allocate where long columns are to lie. Asked for once. */
  finish(allocate?: Allocate): ParsedBars;
}

/** @param timeframe of the bars; ticks become bars of a minute. @throws PlanTesterError bad-input for a zone that is none */
export const readerOf = (layout: CsvLayout, timeframe: string): FileReader =>
  isOfTicks(layout) ? new CsvTickReader(layout) : new CsvBarReader(layout, timeframe);
