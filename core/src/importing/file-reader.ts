/** What reads a file by its layout. */
import { CsvBarReader, type ParsedBars } from "./csv-bars.ts";
import { CsvTickReader } from "./csv-ticks.ts";
import { type CsvLayout, isOfTicks } from "./file-layout.ts";
import type { Room } from "./row-blocks.ts";

export interface FileReader {
  feed(part: Uint8Array): void;
  /** Asked for once. */
  finish(): ParsedBars;
}

/**
 * @param timeframe of the bars; ticks become bars of a minute
 * @param room for bars, where it is known how many there may be
 * @throws PlanTesterError bad-input for a zone that is none
 */
export const readerOf = (layout: CsvLayout, timeframe: string, room: Partial<Room> = {}): FileReader =>
  isOfTicks(layout) ? new CsvTickReader(layout) : new CsvBarReader(layout, timeframe, room);
