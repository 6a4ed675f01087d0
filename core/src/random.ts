/**
 * Seeded random numbers (xoshiro128**, Blackman & Vigna 2021, seeded by splitmix32). The same seed gives the same
 * sequence on every machine. Nothing in the core draws randomness from anywhere else.
 */
export class Random {
  #a: number;
  #b: number;
  #c: number;
  #d: number;
  #spare = Number.NaN;

  constructor(seed: number) {
    let state = seed >>> 0;
    const next = (): number => {
      state = (state + 0x9e3779b9) >>> 0;
      let z = state;
      z = Math.imul(z ^ (z >>> 16), 0x85ebca6b);
      z = Math.imul(z ^ (z >>> 13), 0xc2b2ae35);
      return (z ^ (z >>> 16)) >>> 0;
    };
    this.#a = next();
    this.#b = next();
    this.#c = next();
    this.#d = next() | 1;
  }

  /** A whole number in [0, 2^32). */
  uint32(): number {
    const mixed = Math.imul(this.#b, 5);
    const result = Math.imul((mixed << 7) | (mixed >>> 25), 9) >>> 0;
    const t = this.#b << 9;
    this.#c ^= this.#a;
    this.#d ^= this.#b;
    this.#b ^= this.#c;
    this.#a ^= this.#d;
    this.#c ^= t;
    this.#d = (this.#d << 11) | (this.#d >>> 21);
    return result;
  }

  /** A number in [0, 1) with 32 bits of resolution. */
  next(): number {
    return this.uint32() / 4294967296;
  }

  /** Puts values in an order of which each is as likely (Fisher & Yates 1938, as Durstenfeld 1964). */
  shuffle(values: Float64Array): void {
    for (let i = values.length - 1; i > 0; i--) {
      const j = Math.min(i, Math.floor(this.next() * (i + 1)));
      const kept = values[i]!;
      values[i] = values[j]!;
      values[j] = kept;
    }
  }

  /** A standard normal number (polar method, Marsaglia & Bray 1964). */
  normal(): number {
    if (!Number.isNaN(this.#spare)) {
      const kept = this.#spare;
      this.#spare = Number.NaN;
      return kept;
    }
    for (;;) {
      const u = 2 * this.next() - 1;
      const v = 2 * this.next() - 1;
      const s = u * u + v * v;
      if (s > 0 && s < 1) {
        const scale = Math.sqrt((-2 * Math.log(s)) / s);
        this.#spare = v * scale;
        return u * scale;
      }
    }
  }
}

/** A 32-bit seed from text (FNV-1a), so that parts of one world can have seeds of their own. */
export function seedFrom(text: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) {
    hash ^= text.charCodeAt(i);
    hash = Math.imul(hash, 0x01000193);
  }
  return hash >>> 0;
}
