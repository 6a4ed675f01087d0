/** A line to the venue that is broken: told at once in the log, and as an alert once it lasts. */
export class BrokenLine {
  readonly #lasts: (seconds: number) => void;
  #sinceMs = 0;
  #timer: NodeJS.Timeout | null = null;
  /** Whether it has lasted: then its end is told as well. */
  hasLasted = false;

  /** @param lasts told once when it has lasted for the given time */
  constructor(lasts: (seconds: number) => void) {
    this.#lasts = lasts;
  }

  broke(seconds: number): void {
    if (this.#sinceMs > 0) return;
    this.#sinceMs = Date.now();
    this.#timer = setTimeout(() => {
      this.hasLasted = true;
      this.#lasts(seconds);
    }, seconds * 1000);
    this.#timer.unref();
  }

  /** It is there again. @returns whether it had lasted */
  mended(): boolean {
    const { hasLasted } = this;
    this.close();
    return hasLasted;
  }

  close(): void {
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
    this.#sinceMs = 0;
    this.hasLasted = false;
  }
}
