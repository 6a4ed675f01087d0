/**
 * Typed arrays in one response: a JSON header (length-prefixed, padded to 8 bytes), then the columns end to end,
 * each padded to 8 bytes.
 *
 *   uint32 header length | header JSON | padding | column 0 | column 1 | ...
 */
export interface PackedColumn {
  readonly name: string;
  readonly values: Float64Array | Uint8Array;
}

export interface Packed<Meta> {
  readonly meta: Meta;
  readonly columns: Readonly<Record<string, Float64Array>>;
  /** Columns of small whole numbers, 0 to 255. */
  readonly bytes: Readonly<Record<string, Uint8Array>>;
}

interface ColumnHead {
  readonly name: string;
  readonly length: number;
  /** Left out for 64-bit floating point. */
  readonly type?: "u8";
}

const PREFIX = 4;
const padded = (length: number): number => Math.ceil(length / 8) * 8;

export function packColumns(meta: unknown, columns: readonly PackedColumn[]): Uint8Array {
  const header = new TextEncoder().encode(
    JSON.stringify({
      meta,
      columns: columns.map(
        ({ name, values }): ColumnHead => ({
          name,
          length: values.length,
          ...(values instanceof Uint8Array ? { type: "u8" } : {}),
        }),
      ),
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
  const bytes: Record<string, Uint8Array> = {};
  for (const { name, length, type } of header.columns) {
    if (type === "u8") bytes[name] = new Uint8Array(buffer, at, length);
    else columns[name] = new Float64Array(buffer, at, length);
    at += padded(type === "u8" ? length : length * 8);
  }
  return { meta: header.meta, columns, bytes };
}
