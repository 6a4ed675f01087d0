/**
 * Typed arrays in one response: a JSON header (length-prefixed, padded to 8 bytes), then the columns end to end,
 * each padded to 8 bytes.
 *
 *   uint32 header length | header JSON | padding | column 0 | column 1 | ...
 */
export interface PackedColumn {
  readonly name: string;
  readonly values: Float64Array | Float32Array | Uint8Array;
}

export interface Packed<Meta> {
  readonly meta: Meta;
  readonly columns: Readonly<Record<string, Float64Array>>;
  /** Columns of 32-bit floating point. */
  readonly singles: Readonly<Record<string, Float32Array>>;
  /** Columns of small whole numbers, 0 to 255. */
  readonly bytes: Readonly<Record<string, Uint8Array>>;
}

interface ColumnHead {
  readonly name: string;
  readonly length: number;
  /** Left out for 64-bit floating point. */
  readonly type?: "f32" | "u8";
}

function typeOf(values: PackedColumn["values"]): Pick<ColumnHead, "type"> {
  if (values instanceof Uint8Array) return { type: "u8" };
  return values instanceof Float32Array ? { type: "f32" } : {};
}

const BYTES = { f64: 8, f32: 4, u8: 1 } as const;
const PREFIX = 4;
const padded = (length: number): number => Math.ceil(length / 8) * 8;

export function packColumns(meta: unknown, columns: readonly PackedColumn[]): Uint8Array {
  const header = new TextEncoder().encode(
    JSON.stringify({
      meta,
      columns: columns.map(({ name, values }): ColumnHead => ({ name, length: values.length, ...typeOf(values) })),
    }),
  );
  const start = padded(PREFIX + header.length);
  const bytes = new Uint8Array(start + columns.reduce((sum, { values }) => sum + padded(values.byteLength), 0));
  new DataView(bytes.buffer).setUint32(0, header.length, true);
  bytes.set(header, PREFIX);
  let at = start;
  for (const { values } of columns) {
    bytes.set(new Uint8Array(values.buffer, values.byteOffset, values.byteLength), at);
    at += padded(values.byteLength);
  }
  return bytes;
}

export function unpackColumns<Meta>(buffer: ArrayBuffer): Packed<Meta> {
  const headerLength = new DataView(buffer).getUint32(0, true);
  const header = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, PREFIX, headerLength))) as {
    meta: Meta;
    columns: ColumnHead[];
  };
  let at = padded(PREFIX + headerLength);
  const columns: Record<string, Float64Array> = {};
  const singles: Record<string, Float32Array> = {};
  const bytes: Record<string, Uint8Array> = {};
  for (const { name, length, type } of header.columns) {
    if (type === "u8") bytes[name] = new Uint8Array(buffer, at, length);
    else if (type === "f32") singles[name] = new Float32Array(buffer, at, length);
    else columns[name] = new Float64Array(buffer, at, length);
    at += padded(length * BYTES[type ?? "f64"]);
  }
  return { meta: header.meta, columns, singles, bytes };
}
