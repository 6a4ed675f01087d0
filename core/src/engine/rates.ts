/** Rates between the money of instruments and that of the account, where closes of another instrument give them. */
import type { Book } from "./book.ts";

/** How a currency becomes account money. */
export interface RateSource {
  /** Feed whose closes give the rate. */
  readonly feed: number;
  readonly inverse: boolean;
}

/** Every book's rate becomes that of the last closes; before there is one it stays. @param rates of each book, null where it is fixed */
export function applyRates(rates: readonly (RateSource | null)[], books: readonly Book[]): void {
  for (let k = 0; k < rates.length; k++) {
    const source = rates[k];
    if (!source) continue;
    const { mark } = books[source.feed]!;
    if (Number.isFinite(mark)) books[k]!.rate = source.inverse ? 1 / mark : mark;
  }
}
