/** What a plan may take, and what is said when it takes more. */
import { amount } from "@plan-tester/core";
import { bytesOf } from "./child/shared-memory.ts";

/** Address space for data of a plan process, bytes, for each plan that runs in it at once. */
export const DATA_BYTES = 1_500_000_000;
/** Why a plan was ended whose own values and lists took too much. */
export const HEAP_IS_FULL = "it took more memory than a plan may have. Keep less per bar: rolling values rather than growing lists";
/** Where a column of so many bytes is small, it is not columns that fill the memory. */
const LARGE_COLUMN_BYTES = 1_000_000;
const BYTES_OF_A_VALUE = 8;

const megabytes = (bytes: number): string => `${amount(bytes / 1e6)} MB`;

/** Bars that a plan process holds, and what was computed on them. */
export interface HeldBars {
  readonly count: number;
  readonly bytes: number;
  readonly studyBytes: number;
}

export const heldBarsOf = (series: { readonly time: Float64Array }, studyBytes = 0): HeldBars => ({
  count: series.time.length,
  bytes: bytesOf(series),
  studyBytes,
});

/** Why a plan ran out of memory, and what would help; begins in the middle of a sentence. */
export function memoryWords(held: Iterable<HeldBars>): string {
  let [count, bytes, studyBytes] = [0, 0, 0];
  for (const bars of held) {
    count += bars.count;
    bytes += bars.bytes;
    studyBytes += bars.studyBytes;
  }
  if (count * BYTES_OF_A_VALUE < LARGE_COLUMN_BYTES) return HEAP_IS_FULL;
  const studies = studyBytes > 0 ? `${megabytes(studyBytes)} of studies and conditions` : "studies and conditions";
  const each = `${megabytes(count * BYTES_OF_A_VALUE)} for each`;
  return `it took more memory than a plan may have (${megabytes(DATA_BYTES)}): ${megabytes(bytes)} of bars (${amount(count)}) and ${studies} on them, ${each}. Choose a shorter period, a longer timeframe or fewer studies`;
}
