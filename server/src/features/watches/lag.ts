/** How long answers of late have taken, real milliseconds. */
const KEPT = 200;

export class Lag {
  readonly #values: number[] = [];

  add(ms: number): void {
    this.#values.push(ms);
    if (this.#values.length > KEPT) this.#values.shift();
  }

  get last(): number | null {
    return this.#values.at(-1) ?? null;
  }

  /** 95 of 100 were no slower. */
  get slow(): number | null {
    if (this.#values.length === 0) return null;
    const sorted = [...this.#values].sort((a, b) => a - b);
    return sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * 0.95))]!;
  }
}
