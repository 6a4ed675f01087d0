/** A file of bars as far as it has to be known before it is sent: its first lines, and what they tell. */
import {
  type CsvLayout,
  isPlainText,
  type LayoutQuestion,
  PlanTesterError,
  samplePieces,
  shapeOf,
  surveyPieces,
  textOfFile,
} from "@plan-tester/core";
import type { ImportFacts } from "./import-form.tsx";

const NEWLINE = 10;
const PLAIN_FACTS = { currency: "XSC", pointValue: 1, minQuantity: 1, quantityStep: 1 };

/** So much of a file that is packed, JSON or Parquet is unpacked to look at. */
const HEAD_BYTES = 64 * 1024;

/** A plain text is looked into in several places; of anything else only the beginning is known without reading it all. */
async function piecesOf(file: File): Promise<Uint8Array[]> {
  const bytes = { byteLength: file.size, slice: (start: number, end?: number) => file.slice(start, end).arrayBuffer() };
  if (await isPlainText(bytes))
    return Promise.all(samplePieces(file.size).map(async ({ start, end }) => new Uint8Array(await bytes.slice(start, end))));
  const head: Uint8Array[] = [];
  let length = 0;
  for await (const { text } of textOfFile(bytes, HEAD_BYTES)) {
    head.push(text);
    length += text.length;
    if (length > HEAD_BYTES) break;
  }
  const joined = new Uint8Array(await new Blob(head as BlobPart[]).arrayBuffer());
  // A line that is cut is none.
  return [length <= HEAD_BYTES ? joined : joined.subarray(0, joined.lastIndexOf(NEWLINE, HEAD_BYTES) + 1)];
}

export interface ImportSample {
  /** Another file, or the same again, begins with fields of its own. */
  readonly id: string;
  readonly file: File;
  readonly rows: readonly (readonly string[])[];
  readonly text: string;
  readonly questions: readonly LayoutQuestion[];
  readonly shape: string;
}

/** What the file's own lines tell of it. */
export async function readSample(file: File): Promise<{ sample: ImportSample; format: CsvLayout; facts: ImportFacts }> {
  const survey = surveyPieces(await piecesOf(file), "UTC");
  const { layout, questions, rows, timeframe, tickSize, head } = survey;
  const symbol = file.name
    .replace(/(\.(csv|json|jsonl|ndjson|txt|parquet))?\.[^.]*$/i, "")
    .replace(/[^A-Za-z0-9]+/g, "-")
    .slice(0, 12)
    .toUpperCase();
  return {
    sample: { id: crypto.randomUUID(), file, rows: rows.slice(0, 9), text: head, questions, shape: shapeOf(survey) },
    format: layout,
    facts: { ...PLAIN_FACTS, symbol: symbol || "MINE", timeframe, tickSize },
  };
}

/**
 * Several files at once, in the order of their names: how the first looks is how all have to.
 * @throws PlanTesterError bad-input for one that looks otherwise
 */
export async function readSamples(
  picked: readonly File[],
): Promise<Awaited<ReturnType<typeof readSample>> & { readonly files: readonly File[] }> {
  const files = [...picked].sort((a, b) => a.name.localeCompare(b.name, "en", { numeric: true }));
  const [first, ...others] = files as [File, ...File[]];
  const read = await readSample(first);
  for (const file of others) {
    const { sample } = await readSample(file);
    if (sample.shape !== read.sample.shape)
      throw new PlanTesterError("bad-input", `${file.name} has other columns than ${first.name}. Import it by itself.`, {});
  }
  return { ...read, files };
}
