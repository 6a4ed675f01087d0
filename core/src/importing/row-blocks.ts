/** Rows of numbers as they come, in blocks: nothing is copied as they become more, and little is held twice at the end. */

const BLOCK = 1 << 16;

/** Makes a column of so many numbers. */
export type Allocate = (length: number) => Float64Array<ArrayBufferLike>;

export const inOwnMemory: Allocate = (length) => new Float64Array(length);

export class RowBlocks {
  readonly #width: number;
  readonly #full: Float64Array[][] = [];
  #current: Float64Array[];
  #at = 0;

  constructor(width: number) {
    this.#width = width;
    this.#current = this.#block();
  }

  get length(): number {
    return this.#full.length * BLOCK + this.#at;
  }

  /** Columns of the block in which the last row of `next` lies. */
  get columns(): readonly Float64Array[] {
    return this.#current;
  }

  /** Makes room for a row. @returns its place in `columns` */
  next(): number {
    if (this.#at === BLOCK) {
      this.#full.push(this.#current);
      this.#current = this.#block();
      this.#at = 0;
    }
    return this.#at++;
  }

  /** Each column whole. The blocks of one are let go before the next is made: this can be asked for once. */
  take(allocate: Allocate): Float64Array[] {
    const { length } = this;
    const blocks = [...this.#full, this.#current];
    return Array.from({ length: this.#width }, (_none, k) => {
      const column = allocate(length);
      blocks.forEach((block, at) => {
        const part = block[k]!;
        column.set(at === blocks.length - 1 ? part.subarray(0, this.#at) : part, at * BLOCK);
        block[k] = NOTHING;
      });
      return column as Float64Array;
    });
  }

  #block(): Float64Array[] {
    return Array.from({ length: this.#width }, () => new Float64Array(BLOCK));
  }
}

const NOTHING = new Float64Array(0);
