/**
 * Computed columns of one bar series, by the text that names them. A store outlives a run: the variants of a sweep and
 * the runs of an editing session read the same columns. On a live feed the series grows and `refresh` computes every
 * column anew, in the order in which they were first asked for.
 */
import type { BarSeries } from "../market/bars.ts";
import type { ColumnValues } from "../studies/definition.ts";

export interface NumberEntry {
  readonly key: string;
  values: Float64Array;
  first: number;
  readonly compute: (bars: BarSeries) => ColumnValues;
}

export interface FlagValues {
  /** 1 where the condition holds. */
  readonly bits: Uint8Array;
  readonly first: number;
}

export interface FlagEntry {
  readonly key: string;
  bits: Uint8Array;
  first: number;
  /** Bars where it holds, in order; made on first use. */
  hits: Int32Array | null;
  readonly compute: (bars: BarSeries) => FlagValues;
}

/** Columns kept beyond one run, in bytes; past it the oldest go once no run uses them. */
const KEEP_BYTES = 160 * 1024 * 1024;

export class StudyStore {
  bars: BarSeries;
  readonly #numbers = new Map<string, NumberEntry>();
  readonly #flags = new Map<string, FlagEntry>();
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
    const { bits, first } = compute(this.bars);
    const entry: FlagEntry = { key, bits, first, hits: null, compute };
    this.#flags.set(key, entry);
    this.#bytes += bits.byteLength;
    return entry;
  }

  /** Between runs: forgets everything once too much is held. Entries in use by a run stay alive through that run. */
  trim(): void {
    if (this.#bytes <= KEEP_BYTES) return;
    this.#numbers.clear();
    this.#flags.clear();
    this.#bytes = 0;
  }

  /** The series has grown: computes every column anew. */
  refresh(bars: BarSeries): void {
    this.bars = bars;
    for (const entry of this.#numbers.values()) {
      const { values, first } = entry.compute(bars);
      entry.values = values;
      entry.first = first;
    }
    for (const entry of this.#flags.values()) {
      const { bits, first } = entry.compute(bars);
      entry.bits = bits;
      entry.first = first;
      entry.hits = null;
    }
  }
}

/** Bars at which a condition holds, from its first full value on. */
export function hitsOf(entry: FlagEntry): Int32Array {
  if (entry.hits) return entry.hits;
  const { bits } = entry;
  let count = 0;
  for (let i = 0; i < bits.length; i++) count += bits[i]!;
  const hits = new Int32Array(count);
  let k = 0;
  for (let i = 0; i < bits.length; i++) if (bits[i] === 1) hits[k++] = i;
  entry.hits = hits;
  return hits;
}
