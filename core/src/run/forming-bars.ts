/** Keeps the bar that is forming while a plan acts inside the bar, and tells the plan each price (R2.4). */
import type { Book } from "../engine/book.ts";
import type { PlanHost } from "../language/host.ts";
import type { BarSeries } from "../market/bars.ts";

/** The listener for one instrument's price: it moves the forming bar, then the plan's `on.price` handlers run. */
export function trackForming(host: PlanHost, k: number, book: Book, bars: BarSeries): (price: number) => void {
  const scope = host.scopeOfFeed(k);
  let bar = -1;
  const forming = { time: 0, open: 0, high: 0, low: 0, close: 0, volume: 0 };
  return (price) => {
    const i = book.barIndex;
    if (i !== bar) {
      bar = i;
      forming.time = bars.time[i]!;
      forming.open = forming.high = forming.low = price;
      // What will have been traded by the close is not known inside the bar.
      forming.volume = 0;
    }
    if (price > forming.high) forming.high = price;
    if (price < forming.low) forming.low = price;
    forming.close = price;
    if (i <= host.firstBars[k]!) return;
    scope.forming = forming;
    if (k === 0) host.place(i - 1, book.timeMs, i);
    host.price(k, price);
    scope.forming = null;
  };
}
