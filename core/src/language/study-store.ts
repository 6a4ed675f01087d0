/**
 * Computed columns of one bar series, by the text that names them. A store outlives a run: the variants of a sweep and
 * the runs of an editing session read the same columns. On a live feed the series grows and `refresh` computes every
 * column anew, in the order in which they were first asked for.
 */
import type { BarSeries } from "../market/bars.ts";
import { giveColumn } from "../studies/column-pool.ts";
import type { ColumnValues } from "../studies/definition.ts";

export interface NumberEntry {
  readonly key: string;
  values: Float64Array;
  first: number;
  readonly compute: (bars: BarSeries) => ColumnValues;
}

/** A condition over all bars: by a bit for each bar, or by the bars on which it holds. One is made from the other when asked for. */
export type FlagValues = { readonly first: number } & ({ readonly bits: Uint8Array } | { readonly hits: Int32Array });

export interface FlagEntry {
  readonly key: string;
  values: FlagValues;
  first: number;
  bits: Uint8Array | null;
  hits: Int32Array | null;
  length: number;
  readonly compute: (bars: BarSeries) => FlagValues;
}

function setFlags(entry: FlagEntry, values: FlagValues, length: number): void {
  entry.values = values;
  entry.first = values.first;
  entry.bits = "bits" in values ? values.bits : null;
  entry.hits = "hits" in values ? values.hits : null;
  entry.length = length;
}

/** Bars on which one column crosses another. */
export interface Crossings {
  readonly up: Int32Array;
  readonly down: Int32Array;
}

/** Columns kept beyond one run, in bytes; past it the oldest go once no run uses them. */
const KEEP_BYTES = 160 * 1024 * 1024;

export class StudyStore {
  bars: BarSeries;
  readonly #numbers = new Map<string, NumberEntry>();
  readonly #flags = new Map<string, FlagEntry>();
  /** Crossings of two columns, both ways: a plan that asks for one mostly asks for the other too. */
  readonly #crossings = new Map<string, Crossings>();
  #bytes = 0;

  constructor(bars: BarSeries) {
    this.bars = bars;
  }

  number(key: string, compute: (bars: BarSeries) => ColumnValues): NumberEntry {
    const known = this.#numbers.get(key);
    if (known) return known;
    const { values, first } = compute(this.bars);
    const entry: NumberEntry = { key, values, first, compute };
    this.#numbers.set(key, entry);
    this.#bytes += values.byteLength;
    return entry;
  }

  flag(key: string, compute: (bars: BarSeries) => FlagValues): FlagEntry {
    const known = this.#flags.get(key);
    if (known) return known;
    const values = compute(this.bars);
    const entry: FlagEntry = { key, values, first: 0, bits: null, hits: null, length: 0, compute };
    setFlags(entry, values, this.bars.length);
    this.#flags.set(key, entry);
    this.#bytes += this.bars.length;
    return entry;
  }

  crossings(left: NumberEntry, right: NumberEntry, compute: () => Crossings): Crossings {
    const key = `${left.key}|${right.key}`;
    const known = this.#crossings.get(key);
    if (known) return known;
    const made = compute();
    this.#crossings.set(key, made);
    return made;
  }

  /** Between runs: forgets everything once too much is held. */
  trim(): void {
    if (this.#bytes > KEEP_BYTES) this.clear();
  }

  /** Forgets everything and gives its memory back: no run, column or result of this store may be used after it. */
  clear(): void {
    const { open, high, low, close, volume } = this.bars;
    const own = new Set([open, high, low, close, volume]);
    for (const { values } of this.#numbers.values()) if (!own.has(values)) giveColumn(values);
    this.#numbers.clear();
    this.#flags.clear();
    this.#crossings.clear();
    this.#bytes = 0;
  }

  /** The series has grown: computes every column anew. */
  refresh(bars: BarSeries): void {
    this.bars = bars;
    this.#crossings.clear();
    for (const entry of this.#numbers.values()) {
      const { values, first } = entry.compute(bars);
      entry.values = values;
      entry.first = first;
    }
    for (const entry of this.#flags.values()) setFlags(entry, entry.compute(bars), bars.length);
  }
}

/** An Int32Array of a list, copied by index: the built-in conversion goes through iterators, which are slow once frozen. */
export function toInt32(list: readonly number[]): Int32Array {
  const n = list.length;
  const array = new Int32Array(n);
  for (let i = 0; i < n; i++) array[i] = list[i]!;
  return array;
}

/** A bit for each bar. */
export function bitsOf(entry: FlagEntry): Uint8Array {
  if (entry.bits) return entry.bits;
  const bits = new Uint8Array(entry.length);
  const hits = entry.hits!;
  const n = hits.length;
  for (let k = 0; k < n; k++) bits[hits[k]!] = 1;
  entry.bits = bits;
  return bits;
}

/** Bars on which a condition holds, in order. */
export function hitsOf(entry: FlagEntry): Int32Array {
  if (entry.hits) return entry.hits;
  const bits = entry.bits!;
  const n = bits.length;
  const found: number[] = [];
  for (let i = 0; i < n; i++) if (bits[i] === 1) found.push(i);
  entry.hits = toInt32(found);
  return entry.hits;
}
