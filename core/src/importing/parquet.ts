/** Bars and ticks in Parquet files: read as the lines of a CSV file, so that all that is told and asked of text holds for them. */
import { gunzipSync } from "fflate";
import { type FileMetaData, parquetMetadataAsync, parquetRead, type SchemaElement } from "hyparquet";
import { PlanTesterError } from "../errors.ts";

/** A file that can be read anywhere. */
export interface FileBytes {
  readonly byteLength: number;
  slice(start: number, end?: number): ArrayBuffer | Promise<ArrayBuffer>;
}

/** Text that is told of a file at once, and the bytes of the file that have been gone through. */
export interface TextPart {
  readonly text: Uint8Array;
  readonly done: number;
}

const ROWS = 20_000;
/** A group is held whole. */
const MOST_GROUP_ROWS = 20_000_000;
const MAGIC = [0x50, 0x41, 0x52, 0x31];

export const isParquet = (head: Uint8Array): boolean => MAGIC.every((byte, i) => head[i] === byte);

const refuse = (error: unknown): never => {
  const message = error instanceof Error ? error.message : String(error);
  const codec = /unsupported compression codec: (\w+)/.exec(message)?.[1];
  throw new PlanTesterError(
    "bad-input",
    codec
      ? `The Parquet file is packed with ${codec}. Save it with snappy, gzip or without compression.`
      : `The Parquet file can't be read (${message}). Was it sent whole?`,
    {},
  );
};

/** A row group after another. @throws PlanTesterError bad-input for what is no Parquet file, or is packed in another way than snappy or gzip */
export async function* parquetText(file: FileBytes): AsyncGenerator<TextPart> {
  const metadata = await parquetMetadataAsync(file).catch(refuse);
  const columns = plainColumns(metadata);
  if (columns.length === 0) throw new PlanTesterError("bad-input", "The Parquet file has no columns of numbers, texts or times.", {});
  const encoder = new TextEncoder();
  yield { text: encoder.encode(`${columns.map(({ name }) => quoted(name)).join(",")}\n`), done: 0 };
  const rows = Number(metadata.num_rows);
  let from = 0;
  for (const group of metadata.row_groups) {
    const to = from + Number(group.num_rows);
    if (to - from > MOST_GROUP_ROWS)
      throw new PlanTesterError(
        "limit",
        `A row group of the Parquet file has ${to - from} rows; ${MOST_GROUP_ROWS} are taken. Write smaller ones.`,
        {},
      );
    const values = await valuesOf(file, metadata, columns, from, to);
    for (let at = 0; at < to - from; at += ROWS) {
      const end = Math.min(to - from, at + ROWS);
      let text = "";
      for (let i = at; i < end; i++) text += `${columns.map((column, k) => textOf(values[k]![i], column)).join(",")}\n`;
      yield { text: encoder.encode(text), done: Math.round((file.byteLength * (from + end)) / rows) };
    }
    from = to;
  }
}

/** Columns of one value a row. */
const plainColumns = ({ schema }: FileMetaData): SchemaElement[] => {
  const columns: SchemaElement[] = [];
  // The root, then its children in order; what is nested is passed over with all that is in it.
  for (let at = 1; at < schema.length; ) {
    const size = sizeOf(schema, at);
    if (size === 1 && schema[at]!.repetition_type !== "REPEATED") columns.push(schema[at]!);
    at += size;
  }
  return columns;
};

function sizeOf(schema: readonly SchemaElement[], at: number): number {
  let size = 1;
  for (let child = 0; child < (schema[at]!.num_children ?? 0); child++) size += sizeOf(schema, at + size);
  return size;
}

async function valuesOf(
  file: FileBytes,
  metadata: FileMetaData,
  columns: readonly SchemaElement[],
  rowStart: number,
  rowEnd: number,
): Promise<ArrayLike<unknown>[]> {
  const parts = new Map(columns.map(({ name }) => [name, new Array<unknown>(rowEnd - rowStart)]));
  await parquetRead({
    ...{ file, metadata, rowStart, rowEnd, columns: columns.map(({ name }) => name) },
    compressors: { GZIP: (input) => gunzipSync(input) },
    onChunk: ({ columnName, columnData, rowStart: first }) => {
      const values = parts.get(columnName);
      for (let i = 0; values && i < columnData.length; i++)
        if (first + i >= rowStart && first + i < rowEnd) values[first + i - rowStart] = columnData[i];
    },
  }).catch(refuse);
  return [...parts.values()];
}

const quoted = (text: string): string => (/[",\n\r]/.test(text) ? `"${text.replace(/["\n\r]/g, " ")}"` : text);

function textOf(value: unknown, { type, converted_type: converted, logical_type: logical }: SchemaElement): string {
  if (value === null || value === undefined) return "";
  if (value instanceof Date) {
    const text = value.toISOString();
    if (converted === "DATE" || logical?.type === "DATE") return text.slice(0, 10);
    // Case: the wall time of a place that the file does not name.
    return logical?.type === "TIMESTAMP" && !logical.isAdjustedToUTC ? text.slice(0, -1) : text;
  }
  if (typeof value === "number") return type === "FLOAT" ? shortOf(value) : String(value);
  return typeof value === "object" ? "" : quoted(String(value));
}

/** The shortest number that is the same one in 32 bits: 412.1, and not 412.1000061035156. */
function shortOf(value: number): string {
  for (let digits = 6; digits < 9; digits++) {
    const short = Number(value.toPrecision(digits));
    if (Math.fround(short) === value) return String(short);
  }
  return String(value);
}
