/** Plain data of which the threads of a process share the large parts. */

const KINDS = [Float64Array, Int32Array, Uint8Array] as const;
type Numbers = InstanceType<(typeof KINDS)[number]>;

const isNumbers = (value: unknown): value is Numbers => KINDS.some((kind) => value instanceof kind);

/** The same data with its typed arrays, also those of objects in it, in memory that all threads see. What is there already stays. */
export function inSharedMemory<T>(value: T): T {
  if (isNumbers(value)) return sharedNumbers(value) as T;
  if (typeof value !== "object" || value === null || Array.isArray(value)) return value;
  return Object.fromEntries(Object.entries(value).map(([name, part]) => [name, inSharedMemory(part)])) as T;
}

/** Room for so many numbers in such memory. */
export const sharedColumn = (length: number): Float64Array => new Float64Array(new SharedArrayBuffer(length * 8));

function sharedNumbers(values: Numbers): Numbers {
  if (values.buffer instanceof SharedArrayBuffer) return values;
  const Kind = values.constructor as new (memory: SharedArrayBuffer) => Numbers;
  const shared = new Kind(new SharedArrayBuffer(values.byteLength));
  shared.set(values);
  return shared;
}

/** Bytes of the typed arrays in it. */
export function bytesOf(value: unknown): number {
  if (isNumbers(value)) return value.byteLength;
  if (typeof value !== "object" || value === null || Array.isArray(value)) return 0;
  return Object.values(value).reduce((sum: number, part) => sum + bytesOf(part), 0);
}
