/** Which handlers are due on which bar, without asking every handler on every bar. */

export type Handler = () => void;

interface Entry {
  readonly handler: Handler;
  /** Bars on which it is due in order, or null for every bar. */
  readonly hits: Int32Array | null;
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
    this.#entries.push({ handler, hits, next: 0 });
    if (!hits) this.#every = true;
  }

  /** The first bar at or after `from` on which a handler is due. `from` never goes back. */
  next(from: number): number {
    if (this.#every) return from;
    let earliest = this.#length;
    for (const entry of this.#entries) {
      const hits = entry.hits!;
      while (entry.next < hits.length && hits[entry.next]! < from) entry.next++;
      if (entry.next < hits.length && hits[entry.next]! < earliest) earliest = hits[entry.next]!;
    }
    return earliest;
  }

  run(barIndex: number): void {
    for (const entry of this.#entries) {
      if (!entry.hits) entry.handler();
      else {
        while (entry.next < entry.hits.length && entry.hits[entry.next]! < barIndex) entry.next++;
        if (entry.hits[entry.next] === barIndex) entry.handler();
      }
    }
  }
}
