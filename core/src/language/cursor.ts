/**
 * Where a run stands in its bars. Columns read themselves at `index`, the last completed bar, so a plan can look back
 * but never ahead. Time and session are looked up when asked for: most handlers never do.
 */
import type { BarSeries } from "../market/bars.ts";

export class Cursor {
  index = -1;
  readonly #bars: () => BarSeries;
  #timeMs = 0;
  #isAtClose = false;
  #session = 0;
  /** The bar whose session it is; -1 when the session is set outright. */
  #bar = -1;

  constructor(bars: () => BarSeries) {
    this.#bars = bars;
  }

  /** Now, UTC milliseconds. */
  get timeMs(): number {
    return this.#isAtClose ? this.#bars().closeTime[this.index]! : this.#timeMs;
  }

  set timeMs(timeMs: number) {
    this.#timeMs = timeMs;
    this.#isAtClose = false;
  }

  /** Index of the session that now lies in. */
  get session(): number {
    return this.#bar < 0 ? this.#session : (this.#bars().session[this.#bar] ?? 0);
  }

  set session(session: number) {
    this.#session = session;
    this.#bar = -1;
  }

  /** Bar `index` is the last completed one, it is `timeMs`, in the session of bar `bar`. */
  place(index: number, timeMs: number, bar: number): void {
    this.index = index;
    this.timeMs = timeMs;
    this.#bar = bar;
  }

  /** At the close of bar `index`: the moment still belongs to the session that the bar is of. */
  placeAtClose(index: number): void {
    this.index = index;
    this.#isAtClose = true;
    this.#bar = index;
  }
}
