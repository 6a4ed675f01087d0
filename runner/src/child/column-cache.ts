/**
 * What threads of one process have computed - columns, conditions, longer bars - by a key that names bars and formula. The
 * first thread to want one is told to compute it; others wait until it is given, or until somebody else has to.
 */
import { bytesOf } from "./shared-memory.ts";

export type ColumnRequest =
  | { readonly kind: "want"; readonly key: string }
  | { readonly kind: "give"; readonly key: string; readonly made: object }
  | { readonly kind: "fail"; readonly key: string };

/** Kept, in bytes; past it the oldest go. Who has them already goes on reading them. */
const MOST_BYTES = 160 * 1024 * 1024;

export class ColumnCache {
  /** null sends the thread to compute it. */
  readonly #answer: (thread: number, key: string, made: object | null) => void;
  /** Oldest first. */
  readonly #known = new Map<string, object>();
  /** Who computes one, and who waits for it. */
  readonly #underWay = new Map<string, { owner: number; waiting: number[] }>();
  #bytes = 0;

  constructor(answer: (thread: number, key: string, made: object | null) => void) {
    this.#answer = answer;
  }

  handle(thread: number, request: ColumnRequest): void {
    if (request.kind === "want") this.#want(thread, request.key);
    else if (request.kind === "give") this.#give(request.key, request.made);
    else this.#passOn(request.key);
  }

  /** A thread has ended: what it computed, somebody else must. */
  leave(thread: number): void {
    for (const [key, work] of [...this.#underWay]) {
      work.waiting = work.waiting.filter((other) => other !== thread);
      if (work.owner === thread) this.#passOn(key);
    }
  }

  #want(thread: number, key: string): void {
    const known = this.#known.get(key);
    if (known) return this.#answer(thread, key, known);
    const work = this.#underWay.get(key);
    if (work) work.waiting.push(thread);
    else {
      this.#underWay.set(key, { owner: thread, waiting: [] });
      this.#answer(thread, key, null);
    }
  }

  #give(key: string, made: object): void {
    const work = this.#underWay.get(key);
    this.#underWay.delete(key);
    if (!this.#known.has(key)) {
      this.#known.set(key, made);
      this.#bytes += bytesOf(made);
    }
    for (const thread of work?.waiting ?? []) this.#answer(thread, key, this.#known.get(key)!);
    while (this.#bytes > MOST_BYTES && this.#known.size > 1) {
      const [oldest, gone] = this.#known.entries().next().value!;
      this.#known.delete(oldest);
      this.#bytes -= bytesOf(gone);
    }
  }

  /** Nothing came of it: the next who waits computes it. */
  #passOn(key: string): void {
    const work = this.#underWay.get(key);
    const next = work?.waiting.shift();
    if (!work || next === undefined) this.#underWay.delete(key);
    else {
      work.owner = next;
      this.#answer(next, key, null);
    }
  }
}
