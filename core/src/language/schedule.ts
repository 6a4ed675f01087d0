/** Which handlers are due on which bar, without asking every handler on every bar. */

export type Handler = () => void;

interface Entry {
  readonly handler: Handler;
  /** Bars on which it is due in order, or null for every bar. */
  readonly hits: Int32Array | null;
  /** Number of hits; reading a typed array's length is slow once prototypes are frozen. */
  readonly count: number;
  next: number;
}

export class Schedule {
  readonly #entries: Entry[] = [];
  readonly #length: number;
  #every = false;

  constructor(length: number) {
    this.#length = length;
  }

  get isEmpty(): boolean {
    return this.#entries.length === 0;
  }

  /** Adds a handler; handlers of one bar run in the order in which they were added (R2.5). */
  add(handler: Handler, hits: Int32Array | null): void {
    this.#entries.push({ handler, hits, count: hits ? hits.length : 0, next: 0 });
    if (!hits) this.#every = true;
  }

  /** The first bar at or after `from` on which a handler is due. `from` never goes back. */
  next(from: number): number {
    if (this.#every) return from;
    let earliest = this.#length;
    const entries = this.#entries;
    for (let k = 0; k < entries.length; k++) {
      const entry = entries[k]!;
      const hits = entry.hits!;
      while (entry.next < entry.count && hits[entry.next]! < from) entry.next++;
      if (entry.next < entry.count && hits[entry.next]! < earliest) earliest = hits[entry.next]!;
    }
    return earliest;
  }

  run(barIndex: number): void {
    const entries = this.#entries;
    for (let k = 0; k < entries.length; k++) {
      const entry = entries[k]!;
      if (!entry.hits) entry.handler();
      else {
        while (entry.next < entry.count && entry.hits[entry.next]! < barIndex) entry.next++;
        if (entry.hits[entry.next] === barIndex) entry.handler();
      }
    }
  }
}
