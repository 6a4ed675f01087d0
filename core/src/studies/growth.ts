/**
 * Columns of a series that grows, such as that of a live feed. A formula computes its columns from left to right, each value
 * from what is at and before its bar, so on a series of one bar more it can go on where it was: while it runs `within` its
 * memory, `newColumn` gives it the columns that it had, and `startAt` says from which bar on they are to be written. A formula
 * that heeds neither computes all bars again, which is right too, and slow.
 *
 * The last bar of a growing series is not final: it is computed again.
 */
import { takeColumn } from "./column-pool.ts";

type Values = Float64Array | Uint8Array | Int32Array;

interface Slot {
  buffer: Values;
  first: number;
}

/** What one formula keeps between its computations: its columns, in the order in which it asks for them. */
export class ColumnMemory {
  readonly #slots: Slot[] = [];
  #next = 0;
  /** Bars that the last computation was on; 0 before the first. */
  #before = 0;
  /** Numbers that a fold carries, as they were before the last bar. */
  readonly carried: number[] = [];
  /** A column is new, or begins at another bar than before, within what was final: what is kept is of no use. */
  #isVain = false;

  begin(): void {
    this.#next = 0;
    this.#isVain = false;
  }

  /** @returns whether what was computed holds */
  end(length: number): boolean {
    this.#before = this.#isVain ? 0 : length;
    return !this.#isVain;
  }

  /** The first bar that is not final. */
  get openBar(): number {
    return Math.max(0, this.#before - 1);
  }

  /** The column that was asked for at this place before, as long as the series is now: values before the open bar stand. */
  take<T extends Values>(length: number, first: number, make: (capacity: number) => T): T {
    const { openBar } = this;
    const known = this.#slots[this.#next];
    const slot = known ?? { buffer: make(capacityFor(length)), first };
    this.#slots[this.#next++] = slot;
    if (!known && openBar > 0) this.#isVain = true;
    if (length < openBar || (slot.first !== first && Math.min(slot.first, first) < openBar)) this.#isVain = true;
    slot.first = first;
    if (slot.buffer.length < length) {
      const wider = make(capacityFor(length));
      wider.set(slot.buffer.subarray(0, openBar));
      slot.buffer = wider;
    }
    return slot.buffer.subarray(0, length) as T;
  }
}

/** Room for half as much again, so that a column moves seldom. */
const capacityFor = (length: number): number => length + (length >> 1) + 64;

let memory: ColumnMemory | null = null;

/** Computes something on a series of so many bars, going on from what `kept` has of it. */
export function within<T>(kept: ColumnMemory, length: number, compute: () => T): T {
  for (;;) {
    kept.begin();
    const made = by(kept, compute);
    // Case: nothing of what is kept counts any more. It is computed from the first bar on.
    if (kept.end(length)) return made;
  }
}

/** Computes something that is no part of what goes on. */
export const apart = <T>(compute: () => T): T => by(null, compute);

function by<T>(kept: ColumnMemory | null, compute: () => T): T {
  const outer = memory;
  memory = kept;
  try {
    return compute();
  } finally {
    memory = outer;
  }
}

/** A column with NaN before `first`; the caller writes everything from `startAt(first)` on. */
export function newColumn(length: number, first: number): Float64Array {
  const end = Math.min(first, length);
  if (!memory) return takeColumn(length).fill(Number.NaN, 0, end);
  const { openBar } = memory;
  const column = memory.take(length, first, (capacity) => new Float64Array(capacity));
  return openBar < end ? column.fill(Number.NaN, openBar, end) : column;
}

/** A bit for each bar, 0 from `startAt(0)` on. */
export function newBits(length: number): Uint8Array {
  if (!memory) return new Uint8Array(length);
  const { openBar } = memory;
  return memory.take(length, 0, (capacity) => new Uint8Array(capacity)).fill(0, openBar);
}

/** A whole number for each bar; the caller writes everything from `startAt(0)` on. */
export const newPlaces = (length: number): Int32Array =>
  memory ? memory.take(length, 0, (capacity) => new Int32Array(capacity)) : new Int32Array(length);

/** The first bar whose value is to be written, of a column that is full from `first` on. */
export const startAt = (first: number): number => (memory && memory.openBar > first ? memory.openBar : first);

/** Whether bars before have been computed: each further one is to cost no more than its window. */
export const isGoingOn = (): boolean => memory !== null && memory.openBar > 0;

/** Whether the last bar of the series is not final. */
export const isGrowing = (): boolean => memory !== null;

/** Numbers that were carried to the first bar that is not final; null where the fold begins with the series. */
export const carriedBefore = (): readonly number[] | null => (isGoingOn() && memory!.carried.length > 0 ? memory!.carried : null);

/** Keeps what a fold carries: to be called before its last bar. */
export function carry(...numbers: readonly number[]): void {
  if (memory) memory.carried.splice(0, memory.carried.length, ...numbers);
}

/** The first bar from `first` on at which something holds; `length` where none does. The only thing that its formula carries. */
export function firstBar(length: number, first: number, holds: (i: number) => boolean): number {
  let i = Math.max(first, carriedBefore()?.[0] ?? 0);
  while (i < length && !holds(i)) i++;
  carry(Math.min(i, length - 1));
  return i;
}
