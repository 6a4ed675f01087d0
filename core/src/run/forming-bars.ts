/** Keeps the bar that is forming while a plan acts inside the bar, and tells the plan each price (R2.4). */
import type { Book } from "../engine/book.ts";
import type { PlanHost } from "../language/host.ts";
import type { FormingBar } from "../language/scope.ts";
import type { BarSeries } from "../market/bars.ts";

/** The prices so far of the bar under way, of one instrument. */
export class FormingPrices {
  readonly #bar = { time: Number.NaN, open: 0, high: 0, low: 0, close: 0, volume: 0 };

  /** Takes the next price of the bar that opens at `time` in. @returns the same object for every bar */
  take(time: number, price: number): FormingBar {
    const bar = this.#bar;
    if (bar.time !== time) {
      bar.time = time;
      bar.open = bar.high = bar.low = price;
      // What will have been traded by the close is not known inside the bar.
      bar.volume = 0;
    }
    if (price > bar.high) bar.high = price;
    if (price < bar.low) bar.low = price;
    bar.close = price;
    return bar;
  }
}

/** The listener for one instrument's price: it moves the forming bar, then the plan's `on.price` handlers run. */
export function trackForming(host: PlanHost, k: number, book: Book, bars: BarSeries): (price: number) => void {
  const scope = host.scopeOfFeed(k);
  const prices = new FormingPrices();
  return (price) => {
    const i = book.barIndex;
    const forming = prices.take(bars.time[i]!, price);
    if (i <= host.firstBars[k]!) return;
    scope.forming = forming;
    if (k === 0) host.place(i - 1, book.timeMs, i);
    host.price(k, price);
    scope.forming = null;
  };
}
