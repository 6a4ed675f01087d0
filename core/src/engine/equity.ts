/** Where a run's equity goes as its bars go by: a column for a run that is looked at, stretches for one that is not. */

/** Bars come in order, each once. Money is account currency. */
export interface EquityRecord {
  /** The same equity at the closes of bars [from, to): nothing is open. */
  flat(value: number, from: number, to: number): void;
  /** base + perPrice x close at the closes of bars [from, to): a position that does not change. */
  held(base: number, perPrice: number, from: number, to: number): void;
  /** Equity at the close of bar i. */
  at(i: number, value: number): void;
}

/** The stretches in which equity came: of bars [from, to) it is base + perPrice x close; where perPrice is 0 it stays the same. */
export class EquityStretches implements EquityRecord {
  count = 0;
  /** Room for stretches: reading a typed array's length is slow once prototypes are frozen. */
  #room = 256;
  /** Of each stretch: its end, its base, its money for a price of 1. It begins where the one before it ends. */
  ends = new Int32Array(this.#room);
  bases = new Float64Array(this.#room);
  perPrices = new Float64Array(this.#room);

  /** Forgets all, and keeps the memory for another run. */
  clear(): void {
    this.count = 0;
  }

  flat(value: number, from: number, to: number): void {
    this.held(value, 0, from, to);
  }

  at(i: number, value: number): void {
    this.held(value, 0, i, i + 1);
  }

  /** Pieces of one position are one stretch, though handlers that wait for a close cut it. */
  held(base: number, perPrice: number, from: number, to: number): void {
    if (to <= from) return;
    const last = this.count - 1;
    if (last >= 0 && this.bases[last] === base && this.perPrices[last] === perPrice) {
      this.ends[last] = to;
      return;
    }
    if (this.count === this.#room) this.#grow();
    this.ends[this.count] = to;
    this.bases[this.count] = base;
    this.perPrices[this.count] = perPrice;
    this.count++;
  }

  #grow(): void {
    const { ends, bases, perPrices } = this;
    this.#room *= 2;
    this.ends = new Int32Array(this.#room);
    this.bases = new Float64Array(this.#room);
    this.perPrices = new Float64Array(this.#room);
    this.ends.set(ends);
    this.bases.set(bases);
    this.perPrices.set(perPrices);
  }
}

/** A call of the built-in fill costs more than a short stretch does. */
const SHORT_STRETCH = 96;

/** Equity at the close of each bar, and in which stretches it came. */
export class EquityColumn implements EquityRecord {
  readonly values: Float64Array;
  readonly stretches = new EquityStretches();
  readonly #close: Float64Array;

  /** `values` is as long as `close`. */
  constructor(values: Float64Array, close: Float64Array) {
    this.values = values;
    this.#close = close;
  }

  flat(value: number, from: number, to: number): void {
    this.stretches.flat(value, from, to);
    const { values } = this;
    if (to - from > SHORT_STRETCH) values.fill(value, from, to);
    else for (let i = from; i < to; i++) values[i] = value;
  }

  held(base: number, perPrice: number, from: number, to: number): void {
    this.stretches.held(base, perPrice, from, to);
    const { values } = this;
    const close = this.#close;
    for (let i = from; i < to; i++) values[i] = base + perPrice * close[i]!;
  }

  at(i: number, value: number): void {
    this.stretches.at(i, value);
    this.values[i] = value;
  }
}

/** Leaves out the bars that are there for warm-up: what it hands on begins with the period. */
export class PeriodRecord implements EquityRecord {
  readonly #inner: EquityRecord;
  readonly #lead: number;

  /** @param lead bars ahead of the period. */
  constructor(inner: EquityRecord, lead: number) {
    this.#inner = inner;
    this.#lead = lead;
  }

  flat(value: number, from: number, to: number): void {
    const lead = this.#lead;
    if (to > lead) this.#inner.flat(value, Math.max(from, lead) - lead, to - lead);
  }

  held(base: number, perPrice: number, from: number, to: number): void {
    const lead = this.#lead;
    if (to > lead) this.#inner.held(base, perPrice, Math.max(from, lead) - lead, to - lead);
  }

  at(i: number, value: number): void {
    if (i >= this.#lead) this.#inner.at(i - this.#lead, value);
  }
}
