/** Where a run's equity goes as its bars go by: a column for a run that is looked at, sums for one that is not. */

/** Bars come in order, each once. Money is account currency. */
export interface EquityRecord {
  /** The same equity at the closes of bars [from, to): nothing is open. */
  flat(value: number, from: number, to: number): void;
  /** base + perPrice x close at the closes of bars [from, to): a position that does not change. */
  held(base: number, perPrice: number, from: number, to: number): void;
  /** Equity at the close of bar i. */
  at(i: number, value: number): void;
}

/** A call of the built-in fill costs more than a short stretch does. */
const SHORT_STRETCH = 96;

/** Equity at the close of each bar. */
export class EquityColumn implements EquityRecord {
  readonly values: Float64Array;
  readonly #close: Float64Array;

  /** `values` is as long as `close`. */
  constructor(values: Float64Array, close: Float64Array) {
    this.values = values;
    this.#close = close;
  }

  flat(value: number, from: number, to: number): void {
    const { values } = this;
    if (to - from > SHORT_STRETCH) values.fill(value, from, to);
    else for (let i = from; i < to; i++) values[i] = value;
  }

  held(base: number, perPrice: number, from: number, to: number): void {
    const { values } = this;
    const close = this.#close;
    for (let i = from; i < to; i++) values[i] = base + perPrice * close[i]!;
  }

  at(i: number, value: number): void {
    this.values[i] = value;
  }
}
