/** What comes of a file, in one line. */
import { readerOf } from "./file-reader.ts";
import { samplePieces, surveyPieces } from "./survey.ts";

const minute = (ms: number): string =>
  new Date(ms)
    .toISOString()
    .replace(/:00\.000Z$/, "Z")
    .replace(".000Z", "Z")
    .replace("T", " ");

/** Reads a file as the app does: its layout and timeframe from its own lines. */
export function outcomeOf(bytes: Uint8Array, zone = "UTC"): string {
  try {
    const pieces = samplePieces(bytes.length).map(({ start, end }) => bytes.subarray(start, end));
    const { layout, timeframe, questions } = surveyPieces(pieces, zone);
    if (questions.length > 0)
      return questions
        .map(({ about, text, answers }) => `asks ${about}: ${text} ${answers.map(({ label }) => label).join(" | ")}`)
        .join("; ");
    const reader = readerOf(layout, timeframe);
    reader.feed(bytes);
    const { columns, rejected, problems, spacing } = reader.finish();
    const { time, close, volume } = columns;
    const left = rejected === 0 ? "" : `; ${problems.map(({ line, text }) => `line ${line}: ${text}`).join("; ")}`;
    if (spacing) return `refused, line ${spacing.line}: ${spacing.text}${left}`;
    if (time.length === 0) return `refused, no bar${left}`;
    const sum = volume.reduce((total, one) => total + one, 0);
    return `${time.length} of ${timeframe}, ${minute(time[0]!)} to ${minute(time.at(-1)!)}, last ${close.at(-1)}, volume ${sum}${left}`;
  } catch (error) {
    return `refused: ${(error as Error).message}`;
  }
}
