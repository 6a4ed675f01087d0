/** What can be told of a file of bars before it is read: layout, timeframe, tick size, and what has to be asked. */
import { refuseOtherFiles } from "./csv-lines.ts";
import { type CsvLayout, isOfTicks } from "./file-layout.ts";
import { readerOf } from "./file-reader.ts";
import { guessLayout } from "./guess-layout.ts";
import type { LayoutGuess } from "./layout-question.ts";
import { guessTimeframe } from "./spacing.ts";
import { guessTickSize } from "./tick-size.ts";

const PIECE_BYTES = 32 * 1024;

export interface FileSurvey extends LayoutGuess {
  readonly timeframe: string;
  readonly tickSize: number;
  /** The first lines, whole. */
  readonly head: string;
}

/**
 * @param head the first lines of the file, whole
 * @param zone of times that name none
 * @param later lines from elsewhere in the file
 * @throws PlanTesterError bad-input as of `guessLayout`
 */
function surveyFile(head: string, zone: string, later = ""): FileSurvey {
  const guess = guessLayout(head, zone, later);
  return { ...guess, ...barFacts(head, guess.layout), head };
}

/** What the bars themselves tell, read with a layout. */
export function barFacts(head: string, layout: CsvLayout): Pick<FileSurvey, "timeframe" | "tickSize"> {
  const reader = readerOf(layout, "1m");
  reader.feed(new TextEncoder().encode(head));
  const { columns } = reader.finish();
  return { timeframe: isOfTicks(layout) ? "1m" : guessTimeframe(columns.time), tickSize: guessTickSize(columns) };
}

/** Where to look into a file of so many bytes: its head, and pieces from the middle and the end. */
export function samplePieces(size: number): { readonly start: number; readonly end: number }[] {
  const headEnd = Math.min(size, 2 * PIECE_BYTES);
  if (headEnd === size) return [{ start: 0, end: size }];
  const starts = [0.25, 0.5, 0.75].map((share) => Math.floor(size * share)).filter((start) => start > headEnd);
  return [0, ...starts, Math.max(headEnd, size - PIECE_BYTES)].map((start) => ({
    start,
    end: Math.min(size, start === 0 ? headEnd : start + PIECE_BYTES),
  }));
}

/**
 * Surveys a file by its pieces; lines that they cut are left out.
 * @param pieces the bytes at each of `samplePieces(size)`
 * @throws PlanTesterError bad-input for what is no text
 */
export function surveyPieces(pieces: readonly Uint8Array[], zone: string): FileSurvey {
  refuseOtherFiles(pieces[0]!);
  const decoder = new TextDecoder();
  const [head = "", ...later] = pieces.map((bytes) => decoder.decode(bytes));
  const upToLastLine = (text: string): string => text.slice(0, text.lastIndexOf("\n") + 1) || text;
  const wholeLines = later
    .map((text, i) => (i === later.length - 1 ? text : upToLastLine(text)))
    .map((text) => text.slice(text.indexOf("\n") + 1));
  return surveyFile(later.length > 0 ? upToLastLine(head) : head, zone, wholeLines.join("\n"));
}
