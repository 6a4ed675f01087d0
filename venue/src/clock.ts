/** The venue's clock: which market time it is, how fast it goes, and how fast it has gone of late. Real times are milliseconds. */

/** Stretches of market time without trading that are longer than this are skipped. */
const SKIP_MS = 10 * 60_000;
/** Market time that is made up for after something took long. */
const CATCH_UP_MS = 60_000;
/** The pace is that of so much real time. */
const PACE_MS = 3000;

export class VenueTime {
  speed: number;
  holds: boolean;
  #realMs: number;
  #marketMs: number;
  readonly #passed: { readonly realMs: number; readonly marketMs: number }[] = [];
  /** Market time that was skipped does not count as gone through. */
  #skippedMs = 0;

  constructor(start: { readonly marketMs: number; readonly realMs: number; readonly speed: number; readonly holds: boolean }) {
    this.speed = start.speed;
    this.holds = start.holds;
    this.#realMs = start.realMs;
    this.#marketMs = start.marketMs;
  }

  /** The clock goes on from here. */
  #anchor(realMs: number, marketMs: number): void {
    this.#realMs = realMs;
    this.#marketMs = marketMs;
  }

  setSpeed(speed: number, realMs: number): void {
    this.#anchor(realMs, this.at(realMs));
    this.speed = speed;
    this.#passed.length = 0;
  }

  at(realMs: number): number {
    return this.#marketMs + (realMs - this.#realMs) * this.speed;
  }

  /** Real time at which a moment of the market is due. */
  dueAt(marketMs: number, realMs: number): number {
    if (marketMs - this.at(realMs) > SKIP_MS) {
      this.#skippedMs += marketMs - this.at(realMs);
      this.#anchor(realMs, marketMs);
    }
    return this.#realMs + (marketMs - this.#marketMs) / this.speed;
  }

  /** A moment has been dealt with. What that took is made up for, by a minute of the market at most. */
  passed(marketMs: number, realMs: number): void {
    if (this.at(realMs) - marketMs > CATCH_UP_MS) this.#anchor(realMs, marketMs);
    this.#passed.push({ realMs, marketMs: marketMs - this.#skippedMs });
    while (this.#passed.length > 2 && realMs - this.#passed[0]!.realMs > PACE_MS) this.#passed.shift();
  }

  /** Market time for real time of late, as it was reached. */
  get pace(): number {
    const [first, last] = [this.#passed[0], this.#passed.at(-1)];
    if (!first || !last || last.realMs - first.realMs < 200) return this.speed;
    return (last.marketMs - first.marketMs) / (last.realMs - first.realMs);
  }
}
