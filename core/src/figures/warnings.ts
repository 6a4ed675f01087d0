/** What makes a result weak, said before how good it is. Each with the reason, the size and what to do. */
import { LIMIT_NAMES, type LimitHit } from "../engine/account-limits.ts";
import type { Trade } from "../engine/orders.ts";
import { amount } from "./amount.ts";
import type { Refusals } from "./refusals.ts";
import type { StopDistances } from "./stop-distances.ts";
import type { TradeFigures } from "./trade-figures.ts";

export interface Warning {
  readonly code:
    | "ruin"
    | "account limit"
    | "refused"
    | "no warm-up"
    | "no trades"
    | "few trades"
    | "path-dependent"
    | "no costs"
    | "one trade"
    | "cost heavy"
    | "stop in noise"
    | "stop without a cap"
    | "open at end"
    | "partial"
    | "log full"
    | "finer missing";
  readonly text: string;
  readonly advice: string;
}

/** Fewer trades than this leave the mean within a wide band whatever it is. */
const FEW_TRADES = 30;

export interface WarningFacts {
  readonly figures: TradeFigures;
  readonly trades: readonly Trade[];
  readonly costsAreZero: boolean;
  readonly partial: boolean;
  /** Session date on which the account was wiped out, or null. */
  readonly ruin: string | null;
  /** Limits of the account that were hit, in order of time. */
  readonly limits: readonly (Pick<LimitHit, "limit" | "act"> & { readonly date: string })[];
  readonly refused: Refusals;
  /** Of the plan's own instrument; null where no stop was known, or its money is not the account's. */
  readonly stops: StopDistances | null;
  /** Studies that never had a full value, by timeframe: bars that they need and bars that there are. Empty where all had. */
  readonly neverFull: readonly { readonly timeframe: string; readonly needed: number; readonly bars: number }[];
  readonly droppedLogLines: number;
  readonly finerMissing: number;
}

/** Fewer stops than this tell nothing. */
const FEW_STOPS = 10;
/** A stop so many times as far as the middle one has no limit. */
const UNCAPPED_TIMES = 4;

/** A distance in price to three digits. */
const distance = (value: number): string => String(Number(value.toPrecision(3)));

const times = (count: number, one: string): string => `${amount(count)} ${one}${count === 1 ? "" : "s"}`;

export function warningsOf(facts: WarningFacts): Warning[] {
  const { figures, trades, costsAreZero, partial, ruin, refused, droppedLogLines, finerMissing } = facts;
  const warnings: Warning[] = [];
  const add = (code: Warning["code"], text: string, advice: string): void => void warnings.push({ code, text, advice });
  if (ruin)
    add(
      "ruin",
      `The account was wiped out on ${ruin}`,
      "Figures that rest on returns are undefined after that. Trade less, or set a margin that refuses what equity can't carry.",
    );
  for (const name of ["dailyLoss", "drawdown"] as const) {
    const hits = facts.limits.filter(({ limit }) => limit === name);
    const [first] = hits;
    if (!first) continue;
    const isForGood = hits.some(({ act }) => act === "stop");
    add(
      "account limit",
      `The account's ${LIMIT_NAMES[name]} was hit ${hits.length === 1 ? `on ${first.date}` : `${times(hits.length, "time")}, first on ${first.date}`}`,
      isForGood
        ? "Nothing was traded after that: figures over the rest of the period are those of an account that stood still."
        : "Entries of those sessions were cancelled or refused. The log says what was lost each time.",
    );
  }
  if (refused.count > 0)
    add(
      "refused",
      `${times(refused.count, "order")} never worked: refused, or not sent`,
      refused.ofReason === refused.count
        ? `The reason: ${refused.reason}`
        : `The commonest reason (${times(refused.ofReason, "time")}): ${refused.reason}`,
    );
  if (partial)
    add("partial", "The run did not reach its end", "Figures cover only the part that was done. Run it again to the end before judging.");
  const isNeverFull = facts.neverFull.length > 0;
  if (isNeverFull)
    add(
      "no warm-up",
      "The plan never acted: its studies had no full value before the period was over",
      `${facts.neverFull.map(({ timeframe, needed, bars }) => `They need ${amount(needed)} bars of ${timeframe}, and there are ${amount(bars)}`).join(". ")}. Begin the period earlier, or shorten the studies.`,
    );
  if (figures.trades === 0 && !isNeverFull)
    add(
      "no trades",
      "No trade was made",
      refused.count > 0 ? "Mend what refuses its orders first." : "Look at the chart with the plan's own studies, or widen the conditions.",
    );
  else if (figures.trades > 0 && figures.trades < FEW_TRADES)
    add(
      "few trades",
      `Only ${figures.trades} trade${figures.trades === 1 ? "" : "s"}`,
      `Under ${FEW_TRADES} trades chance decides the averages. Test a longer period or more instruments.`,
    );
  if (figures.pathDependentTrades > 0)
    add(
      "path-dependent",
      `${figures.pathDependentTrades} trade${figures.pathDependentTrades === 1 ? " depends" : "s depend"} on the path inside a bar (±${amount(figures.pathAtStake)})`,
      "Their result depends on whether high or low came first. Use finer-bar paths, or wider exits.",
    );
  const { stops } = facts;
  if (stops && stops.count >= FEW_STOPS && stops.nearer > stops.count / 2)
    add(
      "stop in noise",
      `${amount(stops.nearer)} of ${times(stops.count, "stop")} ${stops.nearer === 1 ? "was" : "were"} nearer than an ordinary bar is high (${distance(stops.ordinaryRange)})`,
      "Noise takes such a stop out, and what happens inside a bar decides. Use finer bars, or a stop of several bars' range.",
    );
  if (stops && stops.count >= FEW_STOPS && stops.farthest > UNCAPPED_TIMES * stops.middle)
    add(
      "stop without a cap",
      `The farthest stop was ${distance(stops.farthest)} away, ${Math.round(stops.farthest / stops.middle)} times the middle one (${distance(stops.middle)})`,
      "A stop that follows price or volatility needs an upper limit, or a size that follows from the risk.",
    );
  if (costsAreZero && figures.trades > 0)
    add("no costs", "No costs are counted", "Choose market costs in the run's sentence: every real trade pays them.");
  const best = trades.reduce((most, trade) => Math.max(most, trade.net), 0);
  if (figures.netProfit > 0 && best >= figures.netProfit / 2 && figures.trades > 1)
    add(
      "one trade",
      `One trade made ${Math.round((100 * best) / figures.netProfit)} % of the profit`,
      "Without it the result would be another one. Look at that trade before trusting the rest.",
    );
  if (figures.costShare !== null && figures.netProfit > 0 && figures.costShare > 0.5)
    add(
      "cost heavy",
      `Costs take ${Math.round(figures.costShare * 100)} % of the result before costs`,
      "A little more slippage than assumed turns it into a loss.",
    );
  if (figures.openAtEnd > 0)
    add(
      "open at end",
      `${figures.openAtEnd} position${figures.openAtEnd === 1 ? "" : "s"} still open at the end of the data (${amount(figures.openAtEndNet)})`,
      "Marked out at the last close without exit costs.",
    );
  if (finerMissing > 0) add("finer missing", `${finerMissing} bars had no finer bars`, "The assumed path was used inside them.");
  if (droppedLogLines > 0) add("log full", `${droppedLogLines} log lines were dropped`, "Log less on every bar.");
  return warnings;
}
