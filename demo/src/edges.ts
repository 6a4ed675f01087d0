/**
 * What the injected edges are worth: one sensible rule for each, worked out on the minutes themselves, with the instrument's
 * own costs. Rules know nothing of the generator's inner state.
 */
import { type BarSeries, type Instrument, mean, sampleDeviation } from "@plan-tester/core";

export interface EdgeRule {
  readonly symbol: string;
  readonly what: string;
  /** Net log return of each session, for one unit of notional. */
  readonly returns: (bars: BarSeries, costs: number) => Float64Array;
}

/** What one side of a trade costs, as a share of the price. */
export function costPerSide({ costs, tickSize, pointValue }: Instrument, price: number): number {
  const ticks = costs.spreadTicks / 2 + costs.slippageTicks;
  return (ticks * tickSize) / price + costs.commissionPerUnit / (price * pointValue) + costs.commissionPercent / 100;
}

/** First bar of each session, and one past the last bar. */
function sessionStarts({ session, length }: BarSeries): number[] {
  const starts: number[] = [];
  for (let i = 0; i < length; i++) if (i === 0 || session[i] !== session[i - 1]) starts.push(i);
  return [...starts, length];
}

/** Index in a session of the bar at so many minutes after its open; the session's end where it has none so late. */
function barAt({ time }: BarSeries, from: number, to: number, minutes: number): number {
  const wanted = time[from]! + minutes * 60_000;
  let i = Math.min(to, from + minutes);
  while (i > from && time[i - 1]! >= wanted) i--;
  return i;
}

/** A position that is looked at every so many bars: `target` answers what it should be. */
function held(bars: BarSeries, costs: number, every: number, target: (i: number, position: number) => number): Float64Array {
  const starts = sessionStarts(bars);
  const out = new Float64Array(starts.length - 1);
  let position = 0;
  for (let s = 0; s + 1 < starts.length; s++) {
    for (let i = starts[s]!; i < starts[s + 1]!; i++) {
      if (i === 0) continue;
      out[s]! += position * Math.log(bars.close[i]! / bars.close[i - 1]!);
      if ((i - starts[s]!) % every > 0) continue;
      const wanted = target(i, position);
      out[s]! -= Math.abs(wanted - position) * costs;
      position = wanted;
    }
  }
  return out;
}

/** In and out within the session: `bet` answers -1, 0 or 1 for each part of it, given in minutes after the open. */
function within(
  bars: BarSeries,
  costs: number,
  parts: readonly (readonly [from: number, to: number])[],
  bet: (part: number, open: number, from: number, to: number) => number,
): Float64Array {
  const starts = sessionStarts(bars);
  const out = new Float64Array(starts.length - 1);
  for (let s = 0; s + 1 < starts.length; s++) {
    const [open, end] = [starts[s]!, starts[s + 1]!];
    parts.forEach(([fromMinute, toMinute], part) => {
      const [from, to] = [barAt(bars, open, end, fromMinute), barAt(bars, open, end, toMinute)];
      if (from >= to) return;
      const side = bet(part, open, from, to);
      if (side !== 0) out[s]! += side * Math.log(bars.close[to - 1]! / bars.open[from]!) - 2 * costs;
    });
  }
  return out;
}

/** Fades what is farther from its average of four sessions than it mostly is, until it is back. */
function fade(bars: BarSeries, costs: number): Float64Array {
  const weight = 2 / (4 * 780 + 1);
  let [average, usual] = [Math.log(bars.close[0]!), 0.01];
  let last = 0;
  return held(bars, costs, 60, (i, position) => {
    for (; last < i; last++) average += weight * (Math.log(bars.close[last]!) - average);
    const away = Math.log(bars.close[i]!) - average;
    usual += 0.004 * (Math.abs(away) - usual);
    if (Math.abs(away) > 1.1 * usual) return -Math.sign(away);
    return position * away < 0 ? position : 0;
  });
}

/** Goes the way of two averages of a week and of five weeks, looked at once a session. */
function follow(bars: BarSeries, costs: number): Float64Array {
  let [fast, slow] = [Math.log(bars.close[0]!), Math.log(bars.close[0]!)];
  return held(bars, costs, 100_000, (i) => {
    const price = Math.log(bars.close[Math.max(0, i - 1)]!);
    fast += (2 / 6) * (price - fast);
    slow += (2 / 26) * (price - slow);
    return Math.sign(fast - slow);
  });
}

/** The sign of a half hour that moved more than it mostly does. */
function openingRun(bars: BarSeries, costs: number): Float64Array {
  let usual = 0.004;
  return within(bars, costs, [[30, 210]], (_part, open, from) => {
    const first = Math.log(bars.open[from]! / bars.open[open]!);
    const isLarge = Math.abs(first) > 1.4 * usual;
    usual += 0.05 * (Math.abs(first) - usual);
    return isLarge ? Math.sign(first) : 0;
  });
}

/** The way of the days before, where it is clear. */
function dayTrend(bars: BarSeries, costs: number): Float64Array {
  let [trend, usual] = [0, 0.001];
  return within(bars, costs, [[540, 1080]], (_part, _open, from, to) => {
    const side = Math.abs(trend) > 0.8 * usual ? Math.sign(trend) : 0;
    trend += 0.15 * (Math.log(bars.close[to - 1]! / bars.open[from]!) - trend);
    usual += 0.02 * (Math.abs(trend) - usual);
    return side;
  });
}

const byHour = (bars: BarSeries, costs: number): Float64Array =>
  within(
    bars,
    costs,
    [
      [540, 660],
      [960, 1080],
    ],
    (part) => (part === 0 ? 1 : -1),
  );

export const EDGE_RULES: readonly EdgeRule[] = [
  { symbol: "KELP", what: "fade of the average of four sessions", returns: fade },
  { symbol: "BRIN", what: "cross of averages of 5 and 25 sessions", returns: follow },
  { symbol: "TIDE", what: "long 09:00-11:00, short 16:00-18:00", returns: byHour },
  { symbol: "AUKL", what: "a large first half hour, followed to 12:30", returns: openingRun },
  { symbol: "XSC/ORM", what: "way of the days before, 07:00-16:00", returns: dayTrend },
  { symbol: "PUFN", what: "held throughout", returns: (bars, costs) => held(bars, costs, 1, () => 1) },
  { symbol: "PUFN", what: "cross of averages of 5 and 25 sessions", returns: follow },
  { symbol: "GANN", what: "fade of the average of four sessions", returns: fade },
  { symbol: "GANN", what: "cross of averages of 5 and 25 sessions", returns: follow },
  { symbol: "GANN", what: "a large first half hour, followed to 12:30", returns: openingRun },
];

/** Annual Sharpe ratio of some sessions' returns. */
export const annualSharpe = (returns: Float64Array, sessionsPerYear: number): number =>
  (mean(returns)! / sampleDeviation(returns)!) * Math.sqrt(sessionsPerYear);
