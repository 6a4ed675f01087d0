/** Flat regions against lonely peaks: how a figure of a sweep stands among its neighbours on the lattice. */
import { quantile } from "../figures/statistics.ts";

export interface Neighbourhood {
  /** Neighbours that are done, the setting itself left out. */
  readonly count: number;
  /** Median and least of the figure among the setting and its neighbours; null where none is done. */
  readonly median: number | null;
  readonly worst: number | null;
}

/** Above so many axes with an order only one is moved at a time: all together would be too many. */
const MOST_TOGETHER = 3;

/**
 * Finds the neighbours of settings on a lattice.
 * @param places for each setting the number of its value on each axis: setting s, axis a stands at s * axes + a. Settings
 * need not fill the lattice.
 * @param ordered whether the values of an axis have an order. Names, such as instruments, have none, and none is another's
 * neighbour.
 */
export class Lattice {
  readonly #places: Int32Array;
  readonly #axes: number;
  readonly #sizes: readonly number[];
  readonly #ordered: readonly boolean[];
  readonly #byKey = new Map<number, number>();

  constructor(places: Int32Array, sizes: readonly number[], ordered: readonly boolean[] = sizes.map(() => true)) {
    this.#ordered = ordered;
    this.#places = places;
    this.#axes = sizes.length;
    this.#sizes = sizes;
    for (let s = 0; s * this.#axes < places.length; s++) this.#byKey.set(this.#keyOf(s, null), s);
  }

  #keyOf(setting: number, shift: readonly number[] | null): number {
    let key = 0;
    for (let a = 0; a < this.#axes; a++) {
      const place = this.#places[setting * this.#axes + a]! + (shift ? shift[a]! : 0);
      if (place < 0 || place >= this.#sizes[a]!) return -1;
      key = key * this.#sizes[a]! + place;
    }
    return key;
  }

  /** Settings at most so many steps away on every axis that has an order, and the same on the others. */
  neighbours(setting: number, steps: number): number[] {
    const found: number[] = [];
    for (const shift of shiftsOf(this.#ordered, steps)) {
      const other = this.#byKey.get(this.#keyOf(setting, shift));
      if (other !== undefined && other !== setting) found.push(other);
    }
    return found;
  }

  /** @param values the figure of each setting; NaN where it is not done. Lower is better where `more` is false. */
  around(setting: number, steps: number, values: (setting: number) => number, more = true): Neighbourhood {
    const all = [setting, ...this.neighbours(setting, steps)].map(values).filter((value) => !Number.isNaN(value));
    all.sort((a, b) => a - b);
    const worst = more ? all[0] : all.at(-1);
    return { count: Math.max(0, all.length - 1), median: quantile(all, 0.5), worst: worst ?? null };
  }
}

const kept = new Map<string, readonly (readonly number[])[]>();

/** Every move of at most so many steps along the axes that have an order; with many of them on one at a time. */
function shiftsOf(ordered: readonly boolean[], steps: number): readonly (readonly number[])[] {
  const key = `${ordered.join()}:${steps}`;
  const known = kept.get(key);
  if (known) return known;
  const moves = Array.from({ length: 2 * steps + 1 }, (_none, k) => k - steps);
  const isTogether = ordered.filter(Boolean).length <= MOST_TOGETHER;
  const shifts: readonly (readonly number[])[] = isTogether
    ? ordered.reduce<number[][]>((made, isMoved) => made.flatMap((shift) => (isMoved ? moves : [0]).map((by) => [...shift, by])), [[]])
    : ordered.flatMap((isMoved, axis) =>
        isMoved ? moves.filter((by) => by !== 0).map((by) => ordered.map((_axis, a) => (a === axis ? by : 0))) : [],
      );
  kept.set(key, shifts);
  return shifts;
}
