/** Rows of numbers as they come: where it is known how many there may be in one place, else in blocks, so that nothing is copied as they become more. */

const BLOCK = 1 << 16;

/** Makes a column of so many numbers. */
export type Allocate = (length: number) => Float64Array;

/** Where rows are to lie, and how many there may be. Memory that is not written to costs nothing. */
export interface Room {
  readonly rows: number;
  readonly allocate: Allocate;
}

export const inOwnMemory: Allocate = (length) => new Float64Array(length);
const NOTHING = new Float64Array(0);

export class RowBlocks {
  readonly #width: number;
  readonly #allocate: Allocate;
  readonly #full: Float64Array[][] = [];
  #current: Float64Array[];
  #at = 0;

  /** @param room where it is known */
  constructor(width: number, room: Partial<Room> = {}) {
    this.#width = width;
    this.#allocate = room.allocate ?? inOwnMemory;
    this.#current = this.#block(room.rows ?? BLOCK, room.rows === undefined ? inOwnMemory : this.#allocate);
  }

  /** Columns of the block in which the last row of `next` lies. */
  get columns(): readonly Float64Array[] {
    return this.#current;
  }

  /** Makes room for a row. @returns its place in `columns` */
  next(): number {
    if (this.#at === this.#current[0]!.length) {
      this.#full.push(this.#current);
      this.#current = this.#block(BLOCK, inOwnMemory);
      this.#at = 0;
    }
    return this.#at++;
  }

  /** Each column whole. The blocks of one are let go before the next is made: this can be asked for once. */
  take(): Float64Array[] {
    const last = this.#current.map((column) => column.subarray(0, this.#at));
    if (this.#full.length === 0) return last;
    const blocks = [...this.#full, last];
    const length = blocks.reduce((sum, [column]) => sum + column!.length, 0);
    return Array.from({ length: this.#width }, (_none, k) => {
      const column = this.#allocate(length);
      let at = 0;
      for (const block of blocks) {
        column.set(block[k]!, at);
        at += block[k]!.length;
        block[k] = NOTHING;
      }
      return column;
    });
  }

  #block(rows: number, allocate: Allocate): Float64Array[] {
    return Array.from({ length: this.#width }, () => allocate(rows));
  }
}
