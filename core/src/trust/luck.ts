/** The luck test: what the same search finds on markets without memory (`surrogate.ts`), and what to expect of its best. */
import { mean } from "../figures/statistics.ts";

export interface Luck {
  /** Markets without memory that were searched. */
  readonly markets: number;
  /** Of them those on which the best was as good or better. */
  readonly asGood: number;
  /** (1 + asGood) / (1 + markets): Davison & Hinkley 1997, ch. 4; Phipson & Smyth 2010. */
  readonly p: number;
  /** The same by a Gumbel distribution fitted to the best ones by their moments; null from 99 markets on, and where they don't vary. */
  readonly smooth: number | null;
  /** What luck alone finds, on average: in the unit of `best`. */
  readonly luck: number;
  /** The best less what luck alone finds. */
  readonly expected: number;
}

const EULER = 0.5772156649015329;
/** From so many on the count itself is fine enough. */
export const MANY_MARKETS = 99;

/** @param best the largest Sharpe ratio of the search @param found that on each market without memory; null for none */
export function luckOf(best: number, found: readonly number[]): Luck | null {
  const markets = found.length;
  if (markets === 0) return null;
  const asGood = found.filter((ratio) => ratio >= best).length;
  const luck = mean(found)!;
  let variance = 0;
  for (const ratio of found) variance += (ratio - luck) ** 2 / Math.max(1, markets - 1);
  const scale = (Math.sqrt(variance) * Math.sqrt(6)) / Math.PI;
  const smooth = markets >= MANY_MARKETS || !(scale > 0) ? null : -Math.expm1(-Math.exp(-(best - (luck - EULER * scale)) / scale));
  return { markets, asGood, p: (1 + asGood) / (1 + markets), smooth, luck, expected: best - luck };
}
