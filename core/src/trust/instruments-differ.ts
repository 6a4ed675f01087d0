/** Does a plan earn on one instrument only, or is what differs between its instruments no more than noise? */
import { mean } from "../figures/statistics.ts";
import { Random } from "../random.ts";
import { groupsApart } from "./groups-apart.ts";

export interface InstrumentPart {
  readonly symbol: string;
  readonly trades: number;
  /** Money. */
  readonly net: number;
  /** Mean of its trades' results, in the unit of the test. */
  readonly average: number;
}

export interface InstrumentsDiffer {
  readonly parts: readonly InstrumentPart[];
  /** R where every trade had a stop, else money. */
  readonly unit: "R" | "money";
  /** How likely instruments that mean nothing differ as much; null where it is refused. */
  readonly p: number | null;
  /** Why it is refused, or "". */
  readonly problem: string;
}

/** The symbol is as a trade has it. */
interface Result {
  readonly symbol?: string | undefined;
  readonly net: number;
  readonly r: number | null;
}

const LEAST_TRADES = 10;
const DRAWS = 999;

/**
 * By a permutation of the trades among the instruments: p = (1 + draws that do as much) / 1,000 (Davison & Hinkley 1997, ch. 4).
 * null for trades of fewer than two instruments.
 */
export function instrumentsDiffer(trades: readonly Result[], seed = 1): InstrumentsDiffer | null {
  const symbols = [...new Set(trades.map(({ symbol = "" }) => symbol))];
  if (symbols.length < 2) return null;
  const unit = trades.every(({ r }) => r !== null) ? "R" : "money";
  const values = Float64Array.from(trades, ({ net, r }) => (unit === "R" ? r! : net));
  const labels = Int32Array.from(trades, ({ symbol = "" }) => symbols.indexOf(symbol));
  const parts = symbols.map((symbol, k): InstrumentPart => {
    const own = trades.filter((_trade, t) => labels[t] === k);
    return {
      ...{ symbol, trades: own.length, net: own.reduce((sum, { net }) => sum + net, 0) },
      average: mean(values.filter((_value, t) => labels[t] === k))!,
    };
  });
  const few = parts.find((part) => part.trades < LEAST_TRADES);
  if (few)
    return {
      parts,
      unit,
      p: null,
      problem: `${few.symbol} has ${few.trades} ${few.trades === 1 ? "trade" : "trades"}; ${LEAST_TRADES} of each are needed to tell anything.`,
    };
  const found = groupsApart(values, labels, symbols.length);
  const random = new Random(seed);
  let asMuch = 0;
  for (let draw = 0; draw < DRAWS; draw++) {
    random.shuffle(values);
    if (groupsApart(values, labels, symbols.length) >= found) asMuch++;
  }
  return { parts, unit, p: (1 + asMuch) / (1 + DRAWS), problem: "" };
}
