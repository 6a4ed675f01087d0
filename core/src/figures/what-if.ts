/**
 * What closed trades would have made with another stop or target: a first answer from the paths of the trades
 * themselves, without running the plan again. A stop is met where a trade's adverse excursion reaches it, a target where
 * the favourable one does. Inside one bar the stop comes first (the worse of the two).
 *
 * What it can't know: the trades that the plan would have made instead once it was flat sooner; sizes that depend on
 * equity or on the stop distance; where inside its entry bar a trade met a level. A run tells.
 */
import type { Trade } from "../engine/orders.ts";
import type { BarSeries } from "../market/bars.ts";
import type { Instrument } from "../market/instrument.ts";
import { isTradeIn } from "./trade-facts.ts";

/** Distances from the entry in ticks; null for none. */
export interface WhatIf {
  readonly stopTicks: number | null;
  readonly targetTicks: number | null;
}

export interface WhatIfTrade {
  readonly id: number;
  readonly net: number;
  /** What ended it: its own exit, or one of the two levels. */
  readonly by: "own" | "stop" | "target";
}

export interface WhatIfResult {
  readonly net: number;
  readonly wins: number;
  readonly stopped: number;
  readonly targeted: number;
  /** Deepest fall of the balance after each closed trade, money. */
  readonly closedTradeDrawdown: number;
  readonly trades: readonly WhatIfTrade[];
}

/** Excursions of a trade in ticks for one unit. */
export function excursionTicks(trade: Trade, { tickSize, pointValue }: Instrument): { adverse: number; favourable: number } {
  const perTick = trade.quantity * tickSize * pointValue;
  return { adverse: trade.mae / perTick, favourable: trade.mfe / perTick };
}

const SLACK = 1e-6;

/**
 * @param bars of the instrument that the trades are in; trades of other instruments are left as they were.
 * Costs stay those of each trade. Source of the excursions: MAE and MFE along the engine's path (R5.2).
 */
export function whatIf(trades: readonly Trade[], bars: BarSeries, instrument: Instrument, given: WhatIf): WhatIfResult {
  const out: WhatIfTrade[] = [];
  let [net, wins, stopped, targeted, balance, peak, drawdown] = [0, 0, 0, 0, 0, 0, 0];
  for (const trade of trades) {
    const changed = isTradeIn(trade, instrument) ? endedEarlier(trade, bars, instrument, given) : null;
    const result = changed ?? { id: trade.id, net: trade.net, by: "own" as const };
    out.push(result);
    net += result.net;
    if (result.net > 0) wins++;
    if (result.by === "stop") stopped++;
    if (result.by === "target") targeted++;
    balance += result.net;
    peak = Math.max(peak, balance);
    drawdown = Math.max(drawdown, peak - balance);
  }
  return { net, wins, stopped, targeted, closedTradeDrawdown: drawdown, trades: out };
}

/** A trade as it would have ended at one of the levels; null where it met neither. */
function endedEarlier(trade: Trade, bars: BarSeries, instrument: Instrument, { stopTicks, targetTicks }: WhatIf): WhatIfTrade | null {
  const { adverse, favourable } = excursionTicks(trade, instrument);
  const { side, entryPrice, entryBar, exitBar } = trade;
  const stop = stopTicks !== null && adverse >= stopTicks - SLACK ? entryPrice - side * stopTicks * instrument.tickSize : null;
  const target = targetTicks !== null && favourable >= targetTicks - SLACK ? entryPrice + side * targetTicks * instrument.tickSize : null;
  if (stop === null && target === null) return null;
  const { open, high, low } = bars;
  const slack = instrument.tickSize * SLACK;
  for (let i = entryBar; i <= exitBar; i++) {
    const [worst, best] = side > 0 ? [low[i]!, high[i]!] : [high[i]!, low[i]!];
    const isGap = i > entryBar;
    if (stop !== null && side * (worst - stop) <= slack) {
      // Case: the bar opens beyond the stop; it fills there.
      const price = isGap && side * (open[i]! - stop) < 0 ? open[i]! : stop;
      return closedAt(trade, price, "stop", instrument);
    }
    if (target !== null && side * (best - target) >= -slack) {
      const price = isGap && side * (open[i]! - target) > 0 ? open[i]! : target;
      return closedAt(trade, price, "target", instrument);
    }
  }
  // Case: a level that only the quotes of another side of the spread, or finer bars, have reached.
  return stop !== null ? closedAt(trade, stop, "stop", instrument) : closedAt(trade, target!, "target", instrument);
}

function closedAt(trade: Trade, price: number, by: "stop" | "target", { pointValue }: Instrument): WhatIfTrade {
  const moved = trade.side * (price - trade.exitPrice) * trade.quantity * pointValue;
  return { id: trade.id, net: trade.net + moved, by };
}
