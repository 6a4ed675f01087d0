/**
 * Typed arrays in one response: a JSON header (length-prefixed, padded to 8 bytes), then the columns end to end.
 *
 *   uint32 header length | header JSON | padding | column 0 | column 1 | ...
 */
export interface PackedColumn {
  readonly name: string;
  readonly values: Float64Array;
}

export interface Packed<Meta> {
  readonly meta: Meta;
  readonly columns: Readonly<Record<string, Float64Array>>;
}

const PREFIX = 4;
const padded = (length: number): number => Math.ceil(length / 8) * 8;

export function packColumns(meta: unknown, columns: readonly PackedColumn[]): Uint8Array {
  const header = new TextEncoder().encode(
    JSON.stringify({ meta, columns: columns.map(({ name, values }) => ({ name, length: values.length })) }),
  );
  const start = padded(PREFIX + header.length);
  const bytes = new Uint8Array(start + columns.reduce((sum, { values }) => sum + values.byteLength, 0));
  new DataView(bytes.buffer).setUint32(0, header.length, true);
  bytes.set(header, PREFIX);
  let at = start;
  for (const { values } of columns) {
    bytes.set(new Uint8Array(values.buffer, values.byteOffset, values.byteLength), at);
    at += values.byteLength;
  }
  return bytes;
}

export function unpackColumns<Meta>(buffer: ArrayBuffer): Packed<Meta> {
  const headerLength = new DataView(buffer).getUint32(0, true);
  const header = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, PREFIX, headerLength))) as {
    meta: Meta;
    columns: { name: string; length: number }[];
  };
  let at = padded(PREFIX + headerLength);
  const columns: Record<string, Float64Array> = {};
  for (const { name, length } of header.columns) {
    columns[name] = new Float64Array(buffer, at, length);
    at += length * 8;
  }
  return { meta: header.meta, columns };
}
