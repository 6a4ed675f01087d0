/**
 * Computed columns of one bar series, by the text that names them. A store outlives a run: the variants of a sweep and
 * the runs of an editing session read the same columns. On a live feed the series grow and `refreshStores` goes on
 * with every column, in the order in which they were first asked for.
 *
 * Each entry keeps the entries it is made of and the formula over them, so that it can also be computed on a few bars of
 * its own with a bar that is still forming (`forming.ts`).
 */
import type { BarSeries } from "../market/bars.ts";
import { resample } from "../market/resample.ts";
import { giveColumn } from "../studies/column-pool.ts";
import type { ColumnValues } from "../studies/definition.ts";
import { apart, ColumnMemory, newPlaces, startAt, within } from "../studies/growth.ts";

/** A condition over all bars: by a bit for each bar, or by the bars on which it holds. One is made from the other when asked for. */
export type FlagValues = { readonly first: number } & ({ readonly bits: Uint8Array } | { readonly hits: Int32Array });

export type Entry = NumberEntry | FlagEntry;
export type NumberFormula = (bars: BarSeries, parts: readonly Entry[]) => ColumnValues;
export type FlagFormula = (bars: BarSeries, parts: readonly Entry[]) => FlagValues;

export interface NumberEntry {
  readonly kind: "number";
  readonly key: string;
  /** Entries of all stores in the order in which they were made: each is made of earlier ones. */
  readonly sequence: number;
  values: Float64Array;
  first: number;
  /** Bars back beyond which nothing changes its value any more (to 1e-12), itself included. */
  readonly settle: number;
  readonly parts: readonly Entry[];
  readonly formula: NumberFormula;
  /** Of a series that grows. */
  memory?: ColumnMemory;
}

export interface FlagEntry {
  readonly kind: "flag";
  readonly key: string;
  readonly sequence: number;
  first: number;
  bits: Uint8Array | null;
  hits: Int32Array | null;
  length: number;
  readonly settle: number;
  readonly parts: readonly Entry[];
  readonly formula: FlagFormula;
  memory?: ColumnMemory;
}

export function setFlags(entry: FlagEntry, values: FlagValues, length: number): void {
  entry.first = values.first;
  entry.bits = "bits" in values ? values.bits : null;
  entry.hits = "hits" in values ? values.hits : null;
  entry.length = length;
}

/** Bars of history that an entry needs: its own on top of the longest of its parts. */
export function settleOf(own: number, parts: readonly Entry[]): number {
  let most = 1;
  for (const part of parts) most = Math.max(most, part.settle);
  return own + most;
}

/** Bars on which one column crosses another. */
export interface Crossings {
  readonly up: Int32Array;
  readonly down: Int32Array;
}

/**
 * Where whole columns, conditions and longer bars are shared with others that work on the same bars. Who is told that nobody
 * has what a key names makes it, and then either gives it or says that nothing came of it; others who want it wait for that.
 */
export interface ColumnExchange {
  /** What the key names, or null when the caller is to make it. */
  take<T extends object>(key: string): T | null;
  /** Answers it as everybody sees it from now on. */
  give<T extends object>(key: string, made: T): T;
  /** It could not be made. */
  fail(key: string): void;
  /** The exchange of the same bars in a higher timeframe. */
  within(timeframe: string): ColumnExchange;
}

/** Of two series as they were when it was made. */
interface Alignment {
  readonly bars: BarSeries;
  readonly others: BarSeries;
  readonly memory: ColumnMemory;
  readonly map: Int32Array;
}

/** Marks the key of what is made for one run, and so is nothing to others. */
export const ONE_RUN = "#";

/** Prices are bars and numbers cost nothing. */
const isShareable = (key: string): boolean => key.includes("(") && !key.includes(ONE_RUN);

/** A condition over fewer bars is found sooner than asked for. */
const CONDITION_BARS = 100_000;

/** Entries made so far, in all stores. */
let made = 0;

/** Columns kept beyond one run, in bytes; past it the oldest go once no run uses them. */
const KEEP_BYTES = 160 * 1024 * 1024;

export class StudyStore {
  bars: BarSeries;
  readonly #numbers = new Map<string, NumberEntry>();
  readonly #flags = new Map<string, FlagEntry>();
  /** Crossings of two columns, both ways: a plan that asks for one mostly asks for the other too. */
  readonly #crossings = new Map<string, Crossings>();
  /** The same bars in higher timeframes, by timeframe. */
  readonly #higher = new Map<string, StudyStore>();
  readonly #alignments = new Map<StudyStore, Alignment>();
  /** Whether bars have been completed since it was made. */
  #isGrowing = false;
  #bytes = 0;

  /** Of the columns that are kept. */
  get bytes(): number {
    return this.#bytes;
  }

  readonly #exchange: ColumnExchange | null;
  readonly #onComputed: () => void;

  /** @param onComputed called after each column, which can take long */
  constructor(bars: BarSeries, exchange: ColumnExchange | null = null, onComputed: () => void = () => undefined) {
    this.bars = bars;
    this.#exchange = exchange;
    this.#onComputed = onComputed;
  }

  number(key: string, own: number, parts: readonly Entry[], formula: NumberFormula): NumberEntry {
    const known = this.#numbers.get(key);
    if (known) return known;
    const make = (): ColumnValues => formula(this.bars, parts);
    const { values, first } = isShareable(key) ? this.#shared(key, make) : make();
    const entry: NumberEntry = {
      kind: "number",
      key,
      sequence: ++made,
      values,
      first,
      settle: settleOf(own, parts),
      parts,
      formula,
    };
    this.#numbers.set(key, entry);
    this.#bytes += values.byteLength;
    this.#onComputed();
    return entry;
  }

  /** From the exchange, or made here and shown to the others. */
  #shared<T extends object>(key: string, make: () => T): T {
    const exchange = this.#exchange;
    if (!exchange) return make();
    const known = exchange.take<T>(key);
    if (known) return known;
    let made: T;
    try {
      made = make();
    } catch (error) {
      exchange.fail(key);
      throw error;
    }
    return exchange.give(key, made);
  }

  flag(key: string, own: number, parts: readonly Entry[], formula: FlagFormula): FlagEntry {
    const known = this.#flags.get(key);
    if (known) return known;
    const entry: FlagEntry = {
      kind: "flag",
      key,
      sequence: ++made,
      first: 0,
      bits: null,
      hits: null,
      length: 0,
      settle: settleOf(own, parts),
      parts,
      formula,
    };
    const make = (): FlagValues => formula(this.bars, parts);
    const isWorthAsking = this.bars.length >= CONDITION_BARS && isShareable(key);
    setFlags(entry, isWorthAsking ? this.#shared(`condition ${key}`, make) : make(), this.bars.length);
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

  /** The store of the same bars in a higher timeframe. */
  higher(timeframe: string): StudyStore {
    const known = this.#higher.get(timeframe);
    if (known) return known;
    const bars = this.#shared(`bars ${timeframe}`, () => resample(this.bars, timeframe).series);
    const made = new StudyStore(bars, this.#exchange?.within(timeframe) ?? null, this.#onComputed);
    this.#higher.set(timeframe, made);
    return made;
  }

  /** For each bar of this store the last bar of another that is completed at its close; -1 for none (R1.5). */
  alignment(other: StudyStore): Int32Array {
    const known = this.#alignments.get(other);
    if (known && known.bars === this.bars && known.others === other.bars) return known.map;
    const mine = this.bars.closeTime;
    const theirs = other.bars.closeTime;
    const [n, m] = [this.bars.length, other.bars.length];
    const memory = known?.memory ?? new ColumnMemory();
    const make = (): Int32Array => {
      const map = newPlaces(n);
      const start = startAt(0);
      let k = start > 0 ? map[start - 1]! : -1;
      for (let i = start; i < n; i++) {
        while (k + 1 < m && theirs[k + 1]! <= mine[i]!) k++;
        map[i] = k;
      }
      return map;
    };
    const map = this.#isGrowing ? within(memory, n, make) : apart(make);
    this.#alignments.set(other, { bars: this.bars, others: other.bars, memory, map });
    return map;
  }

  /** Between runs: forgets everything once too much is held. */
  trim(): void {
    let bytes = this.#bytes;
    for (const store of this.#higher.values()) bytes += store.#bytes;
    if (bytes > KEEP_BYTES) this.clear();
  }

  /** Forgets everything and gives its memory back: no run, column or result of this store may be used after it. */
  clear(): void {
    const { open, high, low, close, volume, spread } = this.bars;
    const own = new Set([open, high, low, close, volume, spread]);
    // What is shared is not this store's to give.
    for (const { values } of this.#numbers.values()) if (!own.has(values) && values.buffer instanceof ArrayBuffer) giveColumn(values);
    this.#numbers.clear();
    this.#flags.clear();
    this.#crossings.clear();
    this.#higher.clear();
    this.#alignments.clear();
    this.#bytes = 0;
  }

  /** The first bar on which every column is full. */
  get firstFull(): number {
    let first = 0;
    for (const entry of this.#numbers.values()) if (entry.first > first) first = entry.first;
    for (const entry of this.#flags.values()) if (entry.first > first) first = entry.first;
    return first;
  }

  /** Bars that matter to the last value of every column; Infinity where all do. */
  get settle(): number {
    let most = 1;
    for (const entry of this.#numbers.values()) if (entry.settle > most) most = entry.settle;
    for (const entry of this.#flags.values()) if (entry.settle > most) most = entry.settle;
    return most;
  }

  /** Stores of higher timeframes, by timeframe. */
  get higherStores(): ReadonlyMap<string, StudyStore> {
    return this.#higher;
  }

  /** Takes the place of the bars; every column is to be gone on with. */
  regrow(bars: BarSeries): readonly Entry[] {
    this.bars = bars;
    this.#isGrowing = true;
    this.#crossings.clear();
    return [...this.#numbers.values(), ...this.#flags.values()];
  }
}

/** Series have grown: goes on with every column on them, each after those it is made of, in whichever store they are. */
export function refreshStores(grown: readonly { readonly store: StudyStore; readonly bars: BarSeries }[]): void {
  const entries = grown.flatMap(({ store, bars }) => store.regrow(bars).map((entry) => ({ entry, bars })));
  entries.sort((a, b) => a.entry.sequence - b.entry.sequence);
  for (const { entry, bars } of entries) {
    entry.memory ??= new ColumnMemory();
    if (entry.kind === "flag") {
      const flags = within(entry.memory, bars.length, () => entry.formula(bars, entry.parts));
      setFlags(entry, flags, bars.length);
    } else {
      const column = within(entry.memory, bars.length, () => entry.formula(bars, entry.parts));
      Object.assign(entry, column);
    }
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
