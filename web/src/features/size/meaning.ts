/** What a size means on an account: how likely a fall is, how it stands to growth, what it risks, what it ties up. */
import {
  compoundedFall,
  type EntryRisk,
  entryRisk,
  type GrowthSize,
  growthSize,
  type Touching,
  type Trade,
  touching,
} from "@plan-tester/core";

export interface MeaningQuestion {
  readonly trades: readonly Pick<Trade, "net" | "risk" | "entryTime" | "exitTime">[];
  readonly account: number;
  /** Times the size of the run. */
  readonly factor: number;
  /** Money of the tolerated fall. */
  readonly limit: number;
  /** How many trades are looked ahead. */
  readonly ahead: number;
}

export interface Meaning {
  /** Trades of a year at the pace of the run. */
  readonly ofYear: number;
  readonly ahead: Touching | null;
  readonly year: Touching | null;
  /** null where no trade lost. */
  readonly growth: GrowthSize | null;
  /** Deepest falls in the middle of the draws where sizes follow equity: at the factor of growth, its half, its quarter, and here. */
  readonly falls: { readonly whole: number; readonly half: number; readonly quarter: number; readonly here: number } | null;
  readonly risk: EntryRisk;
}

const YEAR_MS = 365.25 * 86_400_000;
/** No more are drawn for a year: a run that trades more often than that is told by as many. */
const MOST_A_YEAR = 5000;

export function meaningOf({ trades, account, factor, limit, ahead }: MeaningQuestion): Meaning {
  const nets = Float64Array.from(trades, ({ net }) => net);
  const span = Math.max(1, trades.at(-1)!.exitTime - trades[0]!.entryTime);
  const ofYear = Math.max(1, Math.round((trades.length * YEAR_MS) / Math.max(span, YEAR_MS / 12)));
  const growth = growthSize(nets, account);
  const fall = (size: number): number => compoundedFall(nets, account, size)!.middle;
  const question = { nets, factor, account, limit };
  return {
    ofYear,
    ahead: touching({ ...question, trades: ahead }),
    year: touching({ ...question, trades: Math.min(ofYear, MOST_A_YEAR) }),
    growth,
    falls:
      growth && growth.factor > 0
        ? { whole: fall(growth.factor), half: fall(growth.factor / 2), quarter: fall(growth.factor / 4), here: fall(factor) }
        : null,
    risk: entryRisk(trades),
  };
}
