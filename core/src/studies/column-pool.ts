/**
 * Memory of columns that nobody needs any more, by length. A fresh column of a million values costs more to touch for
 * the first time than a study costs to compute, so a process that runs plan after plan on the same bars uses it again.
 */
const MOST_BYTES = 256 * 1024 * 1024;

const free = new Map<number, Float64Array[]>();
let bytes = 0;

/** A column of this length with anything in it. */
export function takeColumn(length: number): Float64Array {
  const found = free.get(length)?.pop();
  if (!found) return new Float64Array(length);
  bytes -= found.byteLength;
  return found;
}

/** Gives a column back. The caller and all it has shared it with must not use it again. */
export function giveColumn(column: Float64Array): void {
  if (bytes + column.byteLength > MOST_BYTES) return;
  bytes += column.byteLength;
  const list = free.get(column.length);
  if (list) list.push(column);
  else free.set(column.length, [column]);
}
