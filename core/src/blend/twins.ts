/** Members of a blend that are nearly the same: they add size, and no spread of risk. */
import type { Trade } from "../engine/orders.ts";
import { correlation } from "./correlation.ts";

/** From this correlation of daily results on two members count as twins. */
export const TWIN_CORRELATION = 0.8;
/** From this share of entries at the same place on they do so too. */
export const TWIN_ENTRIES = 0.5;

export interface TwinQuestion {
  /** Daily results. */
  readonly daily: Float64Array;
  readonly trades: readonly Pick<Trade, "symbol" | "side" | "entryTime" | "exitTime">[];
}

export interface Twins {
  readonly a: number;
  readonly b: number;
  /** Of daily results, on days on which either moved; null where there are too few. */
  readonly correlation: number | null;
  /** Share of the entries of the one with fewer that lie inside a trade of the other, on the same instrument and side. */
  readonly shared: number;
}

export function findTwins(members: readonly TwinQuestion[]): Twins[] {
  return members.flatMap((one, a) =>
    members.slice(a + 1).flatMap((other, k): Twins[] => {
      const days = [...one.daily.keys()].filter((d) => one.daily[d] !== 0 || other.daily[d] !== 0);
      const found = { a, b: a + 1 + k, correlation: correlation(one.daily, other.daily, days), shared: sharedEntries(one, other) };
      return (found.correlation ?? 0) >= TWIN_CORRELATION || found.shared >= TWIN_ENTRIES ? [found] : [];
    }),
  );
}

function sharedEntries({ trades: a }: Pick<TwinQuestion, "trades">, { trades: b }: Pick<TwinQuestion, "trades">): number {
  const [few, many] = a.length <= b.length ? [a, b] : [b, a];
  if (few.length === 0) return 0;
  const placed = [...many].sort((x, y) => x.entryTime - y.entryTime);
  let [shared, from] = [0, 0];
  for (const trade of [...few].sort((x, y) => x.entryTime - y.entryTime)) {
    // Trades may overlap, so one that has ended is passed over only at the front.
    while (from < placed.length && placed[from]!.exitTime < trade.entryTime) from++;
    for (let k = from; k < placed.length && placed[k]!.entryTime <= trade.entryTime; k++) {
      const other = placed[k]!;
      if (other.symbol !== trade.symbol || other.side !== trade.side || other.exitTime <= trade.entryTime) continue;
      shared++;
      break;
    }
  }
  return shared / few.length;
}
