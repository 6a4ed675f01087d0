/** What reads a file by its layout. */
import { CsvBarReader, type ParsedBars } from "./csv-bars.ts";
import { CsvTickReader } from "./csv-ticks.ts";
import { type CsvLayout, isOfTicks } from "./file-layout.ts";

export interface FileReader {
  readonly rows: number;
  feed(part: Uint8Array): void;
  finish(): ParsedBars;
}

/** @param timeframe of the bars; ticks become bars of a minute. @throws PlanTesterError bad-input for a zone that is none */
export const readerOf = (layout: CsvLayout, timeframe: string): FileReader =>
  isOfTicks(layout) ? new CsvTickReader(layout) : new CsvBarReader(layout, timeframe);
