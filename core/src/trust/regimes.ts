/**
 * Does a plan earn in one state of the market only? Days by thirds of the market's volatility, or of its trend, both known
 * ahead of a day's open; and whether what differs between the thirds is more than noise.
 */
import { mean } from "../figures/statistics.ts";
import { groupsApart } from "./groups-apart.ts";

export const REGIME_NAMES = { volatility: ["calm", "middling", "wild"], trend: ["sideways", "middling", "trending"] } as const;
export type RegimeKind = keyof typeof REGIME_NAMES;

export interface RegimePart {
  readonly name: string;
  readonly days: number;
  readonly trades: number;
  /** Net of its trades, money. */
  readonly net: number;
  /** Mean daily return times the sessions of a year, and the annual Sharpe ratio; null where it can't be told. */
  readonly aYear: number | null;
  readonly ratio: number | null;
}

export interface Regimes {
  readonly parts: readonly RegimePart[];
  /** How likely thirds that mean nothing differ as much; null where it is refused. */
  readonly p: number | null;
  /** Why it is refused, or "". */
  readonly problem: string;
  /** Of each day its third, 0 to 2; 255 for none. */
  readonly labels: Uint8Array;
}

export interface RegimeQuestion {
  /** Daily returns of the plan. */
  readonly returns: ArrayLike<number>;
  /** Close of the market on the same days. */
  readonly closes: ArrayLike<number>;
  /** Of each trade the day on which it began, and its net. */
  readonly trades: readonly { readonly day: number; readonly net: number }[];
  readonly sessionsPerYear: number;
}

/** Days ahead of a day that say in which state the market is. */
const LOOK_BACK = 20;
const THIRDS = 3;
const NONE = 255;
const LEAST_DAYS = 40;
const LEAST_TRADES = 10;
/** Labels are shifted by so many days at least, to either side. */
const LEAST_LAG = 10;

/** What the days ahead of a day say of the market; NaN where they are too few. */
function stateOf(closes: ArrayLike<number>, kind: RegimeKind, day: number): number {
  if (day <= LOOK_BACK) return Number.NaN;
  const moves = Array.from({ length: LOOK_BACK }, (_none, k) => closes[day - LOOK_BACK + k]! / closes[day - LOOK_BACK + k - 1]! - 1);
  const middle = mean(moves)!;
  const deviation = Math.sqrt(moves.reduce((sum, move) => sum + (move - middle) ** 2, 0) / (LOOK_BACK - 1));
  if (kind === "volatility") return deviation;
  return deviation > 0 ? Math.abs(middle * LOOK_BACK) / (deviation * Math.sqrt(LOOK_BACK)) : Number.NaN;
}

/** Thirds of the days by their state, 0 to 2; 255 for none. Days ahead of the first trade are left out. */
export function regimeLabels({ closes, trades, returns }: RegimeQuestion, kind: RegimeKind): Uint8Array {
  const labels = new Uint8Array(returns.length).fill(NONE);
  const first = trades.reduce((least, { day }) => Math.min(least, day), returns.length);
  const states: (readonly [day: number, state: number])[] = [];
  for (let day = first; day < returns.length; day++) {
    const state = stateOf(closes, kind, day);
    if (!Number.isNaN(state)) states.push([day, state]);
  }
  states.sort((a, b) => a[1] - b[1] || a[0] - b[0]);
  states.forEach(([day], rank) => {
    labels[day] = Math.floor((rank * THIRDS) / states.length);
  });
  return labels;
}

/**
 * By a test of its own: the labels shifted around the circle by every lag, so that they keep how long the market stays in a
 * state, and say nothing of these days. p = (1 + lags that do as much) / (1 + lags).
 */
export function regimesOf(question: RegimeQuestion, kind: RegimeKind): Regimes {
  const { returns, trades, sessionsPerYear } = question;
  const labels = regimeLabels(question, kind);
  const parts = REGIME_NAMES[kind].map((name, k): RegimePart => {
    const days = Array.from(labels.keys()).filter((day) => labels[day] === k);
    const own = trades.filter(({ day }) => labels[day] === k);
    const values = days.map((day) => returns[day]!);
    const middle = mean(values);
    const variance = values.reduce((sum, value) => sum + (value - (middle ?? 0)) ** 2, 0) / (values.length - 1);
    return {
      ...{ name, days: days.length, trades: own.length, net: own.reduce((sum, { net }) => sum + net, 0) },
      aYear: middle === null ? null : middle * sessionsPerYear,
      ratio: middle !== null && variance > 0 ? (middle / Math.sqrt(variance)) * Math.sqrt(sessionsPerYear) : null,
    };
  });
  const few = parts.find(({ days, trades: own }) => days < LEAST_DAYS || own < LEAST_TRADES);
  if (few)
    return {
      ...{ parts, p: null, labels },
      problem: `A third has ${few.days} days and ${few.trades} trades; ${LEAST_DAYS} days and ${LEAST_TRADES} trades are needed to tell anything.`,
    };
  const days = Array.from(labels.keys()).filter((day) => labels[day] !== NONE);
  const values = days.map((day) => returns[day]!);
  const own = Uint8Array.from(days, (day) => labels[day]!);
  const found = groupsApart(values, own, THIRDS);
  let [asMuch, lags] = [0, 0];
  for (let lag = LEAST_LAG; lag <= days.length - LEAST_LAG; lag++) {
    lags++;
    if (groupsApart(values, own, THIRDS, lag) >= found) asMuch++;
  }
  return { parts, p: (1 + asMuch) / (1 + lags), problem: "", labels };
}
