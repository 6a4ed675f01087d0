/** Bars, and columns of studies beside them, as files, a piece at a time. Read back they are the same numbers, to the last bit. */
import { parquetWriteBuffer } from "hyparquet-writer";
import { BAR_COLUMNS, type BarColumns } from "../market/bars.ts";

export const BAR_FILES = ["csv", "jsonl", "parquet"] as const;
export type BarFile = (typeof BAR_FILES)[number];

/** A column beside those of the bars; NaN where it has no value. */
export interface NamedColumn {
  readonly name: string;
  readonly values: Float64Array;
}

const ROWS = 20_000;

const isoText = (ms: number): string => new Date(ms).toISOString();

/** The bars' own columns but for the time, and those beside them. */
export const namedColumns = (columns: BarColumns, more: readonly NamedColumn[]): NamedColumn[] => [
  ...BAR_COLUMNS.flatMap((name) => {
    const values = columns[name];
    return name === "time" || values === undefined ? [] : [{ name, values }];
  }),
  ...more,
];

const headOf = (name: string): string => (/[",\n]/.test(name) ? `"${name.replaceAll('"', '""')}"` : name);
const cellOf = (value: number): string => (Number.isNaN(value) ? "" : String(value));

/**
 * CSV with a head, or a JSON object a line; a number is the shortest text that reads back as the same one. The spread is there
 * where the bars have one; where a study has no value its field is empty, or not there.
 * @param timeText of a time in UTC milliseconds: ISO 8601 where it is left out
 */
export function* barsAsText(
  columns: BarColumns,
  form: "csv" | "jsonl",
  timeText = isoText,
  more: readonly NamedColumn[] = [],
): Generator<string> {
  const named = namedColumns(columns, more);
  const { time } = columns;
  const keys = named.map(({ name }) => JSON.stringify(name));
  if (form === "csv") yield `time,${named.map(({ name }) => headOf(name)).join(",")}\n`;
  for (let from = 0; from < time.length; from += ROWS) {
    const to = Math.min(time.length, from + ROWS);
    let text = "";
    for (let i = from; i < to; i++) {
      const at = timeText(time[i]!);
      text +=
        form === "csv"
          ? `${at},${named.map(({ values }) => cellOf(values[i]!)).join(",")}\n`
          : `{"time":"${at}"${named.map(({ values }, k) => (Number.isNaN(values[i]!) ? "" : `,${keys[k]}:${values[i]!}`)).join("")}}\n`;
    }
    yield text;
  }
}

/** As the bytes of a file. */
export function* barsAsFile(columns: BarColumns, form: BarFile, more: readonly NamedColumn[] = []): Generator<Uint8Array> {
  if (form === "parquet") return yield barsAsParquet(columns, more);
  const encoder = new TextEncoder();
  for (const text of barsAsText(columns, form, isoText, more)) yield encoder.encode(text);
}

/** A Parquet file, packed with snappy: times as timestamps of milliseconds in UTC, the rest as doubles. */
function barsAsParquet(columns: BarColumns, more: readonly NamedColumn[]): Uint8Array {
  return new Uint8Array(
    parquetWriteBuffer({
      columnData: [
        { name: "time", data: Array.from(columns.time, (ms) => new Date(ms)), type: "TIMESTAMP", nullable: false },
        ...namedColumns(columns, more).map(({ name, values }) => ({ name, data: values, type: "DOUBLE" as const, nullable: false })),
      ],
    }),
  );
}
