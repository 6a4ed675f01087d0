/** What goes into memory that threads share, and what stays as it is. */
import { expect, test } from "vitest";
import { bytesOf, inSharedMemory } from "./child/shared-memory.ts";
import { walk } from "./testing.ts";

const isShared = (values: { readonly buffer: ArrayBufferLike }): boolean => values.buffer instanceof SharedArrayBuffer;

test("typed arrays of every kind are copied, with their values, also those of objects within", () => {
  const given = { values: Float64Array.of(1.5, Number.NaN), bits: Uint8Array.of(1, 0, 1), inner: { hits: Int32Array.of(-4, 9) } };
  const shared = inSharedMemory(given);
  expect(shared).toEqual(given);
  expect([shared.values, shared.bits, shared.inner.hits].every(isShared)).toBe(true);
  expect([given.values, given.bits, given.inner.hits].some(isShared)).toBe(false);
});

test("bars come through whole: columns, sessions, names", () => {
  const bars = walk(300, 2);
  const shared = inSharedMemory(bars);
  expect(shared).toEqual(bars);
  expect([shared.time, shared.close, shared.session, shared.sessions.openMs].every(isShared)).toBe(true);
  expect(shared.sessions.dates).toBe(bars.sessions.dates);
});

test("what is shared already is not copied again", () => {
  const once = inSharedMemory({ values: Float64Array.of(3), first: 0, finer: null });
  expect(inSharedMemory(once).values).toBe(once.values);
});

test("bytes are those of the arrays, wherever they are", () => {
  expect(bytesOf({ values: new Float64Array(10), first: 3, inner: { bits: new Uint8Array(7), names: ["a", "b"] }, none: null })).toBe(87);
});
