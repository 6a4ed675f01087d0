/**
 * The next moment of each instrument, in a binary heap over the numbers of the instruments: earliest time first, at one
 * time by phase, within a phase in declared order. Setting a moment costs O(log n), asking for the first O(1).
 */

/** What happens at one time, in this order (R2). */
export const PHASE = { path: 0, close: 1, events: 2, open: 3 } as const;
export type Phase = (typeof PHASE)[keyof typeof PHASE];

export class MomentQueue {
  /** Reading a typed array's length is slow once prototypes are frozen. */
  readonly #count: number;
  readonly #times: Float64Array;
  readonly #phases: Uint8Array;
  readonly #heap: Int32Array;
  /** Where each instrument is in the heap. */
  readonly #place: Int32Array;

  /** @param count instruments; none of them has a moment yet. */
  constructor(count: number) {
    this.#count = count;
    this.#times = new Float64Array(count).fill(Number.POSITIVE_INFINITY);
    this.#phases = new Uint8Array(count);
    this.#heap = Int32Array.from({ length: count }, (_none, k) => k);
    this.#place = Int32Array.from(this.#heap);
  }

  get first(): number {
    return this.#heap[0]!;
  }

  timeOf(k: number): number {
    return this.#times[k]!;
  }

  phaseOf(k: number): Phase {
    return this.#phases[k] as Phase;
  }

  set(k: number, timeMs: number, phase: Phase): void {
    this.#times[k] = timeMs;
    this.#phases[k] = phase;
    this.#sink(this.#rise(this.#place[k]!));
  }

  #isBefore(a: number, b: number): boolean {
    const times = this.#times;
    if (times[a] !== times[b]) return times[a]! < times[b]!;
    const phases = this.#phases;
    return phases[a] !== phases[b] ? phases[a]! < phases[b]! : a < b;
  }

  #rise(from: number): number {
    let at = from;
    while (at > 0) {
      const parent = (at - 1) >> 1;
      if (!this.#isBefore(this.#heap[at]!, this.#heap[parent]!)) break;
      this.#swap(at, parent);
      at = parent;
    }
    return at;
  }

  #sink(from: number): void {
    const heap = this.#heap;
    const count = this.#count;
    let at = from;
    for (;;) {
      let least = at;
      for (let child = 2 * at + 1; child <= 2 * at + 2 && child < count; child++)
        if (this.#isBefore(heap[child]!, heap[least]!)) least = child;
      if (least === at) return;
      this.#swap(at, least);
      at = least;
    }
  }

  #swap(a: number, b: number): void {
    const heap = this.#heap;
    const [x, y] = [heap[a]!, heap[b]!];
    heap[a] = y;
    heap[b] = x;
    this.#place[y] = a;
    this.#place[x] = b;
  }
}
