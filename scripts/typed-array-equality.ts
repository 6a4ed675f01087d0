/**
 * For all tests: typed arrays with the same bytes are equal. The usual comparison takes a second for a hundred thousand numbers;
 * it is left to those that differ, so that it can say where.
 */
import { expect } from "vitest";

const bytesOf = ({ buffer, byteOffset, byteLength }: NodeJS.TypedArray): Uint8Array => new Uint8Array(buffer, byteOffset, byteLength);

function sameBytes(a: unknown, b: unknown): boolean | undefined {
  if (!ArrayBuffer.isView(a) || !ArrayBuffer.isView(b) || a instanceof DataView || b instanceof DataView) return undefined;
  if (a.constructor !== b.constructor || a.byteLength !== b.byteLength) return undefined;
  return Buffer.compare(bytesOf(a as NodeJS.TypedArray), bytesOf(b as NodeJS.TypedArray)) === 0 ? true : undefined;
}

expect.addEqualityTesters([sameBytes]);
