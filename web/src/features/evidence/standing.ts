/** "Still trading? At a peak?" said in words. */
import { DAY_MS } from "@plan-tester/core";
import { count, number, percent } from "../../lib/format.ts";
import type { EvidenceView } from "../run-view/view.ts";

/** Silent for so many times its usual pause, a plan has stopped trading. */
const SILENT_TIMES = 4;

/** So few trades tell nothing of a pace. */
const FEW_TRADES = 3;

const days = (ms: number): string => (ms < 2 * DAY_MS ? count(Math.round(ms / 3_600_000), "hour") : count(Math.round(ms / DAY_MS), "day"));

/** A run that ended early - stopped, failed, ruined - looked at nothing after its last session. */
function lookedUntil(dates: readonly string[], endMs: number): number {
  const last = dates.at(-1);
  // A session may end a day after the date that it is counted under.
  return last === undefined ? endMs : Math.min(endMs, Date.parse(`${last}T00:00:00Z`) + 2 * DAY_MS);
}

type Traded = Pick<EvidenceView, "trades" | "daily">;

interface StandingFacts {
  readonly trading: "no trades" | "in a position" | "few trades" | "stopped trading" | "still trading";
  /** From one trade to the next, and since the last one closed, milliseconds. */
  readonly pauseMs: number;
  readonly silentMs: number;
  /** Equity at the end and its peak before; null of so few sessions that there is nothing to see. */
  readonly equity: { readonly end: number; readonly peak: number; readonly under: number } | null;
}

function factsOf({ trades, daily }: Traded, endMs: number): StandingFacts {
  const last = trades.at(-1);
  const pauseMs = last ? (last.exitTime - trades[0]!.entryTime) / Math.max(1, trades.length - 1) : 0;
  const silentMs = last ? Math.max(0, lookedUntil(daily.dates, endMs) - last.exitTime) : 0;
  const trading = !last
    ? "no trades"
    : last.reason === "end of data"
      ? "in a position"
      : trades.length < FEW_TRADES
        ? "few trades"
        : silentMs > SILENT_TIMES * pauseMs
          ? "stopped trading"
          : "still trading";
  const equity = Array.from(daily.equity);
  const peak = equity.reduce((most, value) => Math.max(most, value), Number.NEGATIVE_INFINITY);
  const under = equity.length - 1 - equity.lastIndexOf(peak);
  return { trading, pauseMs, silentMs, equity: equity.length > 2 ? { end: equity.at(-1)!, peak, under } : null };
}

/** In a few words, for a table: "still trading, at its peak". */
export function standingWords(traded: Traded): string {
  const { trading, equity } = factsOf(traded, Number.POSITIVE_INFINITY);
  const fall = equity ? (equity.peak - equity.end) / equity.peak : null;
  return [trading, ...(fall === null ? [] : [fall === 0 ? "at its peak" : `${percent(fall)} below its peak`])].join(", ");
}

/** @param endMs close of the last bar of the period. */
export function standing(traded: Traded, endMs: number): string[] {
  const { trades } = traded;
  const { trading, pauseMs, silentMs, equity } = factsOf(traded, endMs);
  const sentences: string[] = [];
  const few = trades.length < FEW_TRADES;
  const pace = few ? count(trades.length, "trade") : `trades came ${days(pauseMs)} apart`;
  if (trading === "in a position") sentences.push(`Still in a position at the end; ${few ? `${pace} in all` : pace}.`);
  if (trading === "few trades") sentences.push(`Only ${pace}: the last one closed ${days(silentMs)} before the end.`);
  if (trading === "stopped trading") sentences.push(`It has stopped trading: nothing for ${days(silentMs)}, though ${pace}.`);
  if (trading === "still trading") sentences.push(`Still trading: the last trade closed ${days(silentMs)} before the end, and ${pace}.`);
  if (equity) {
    const { end, peak, under } = equity;
    sentences.push(
      under === 0
        ? "Equity ends at its peak."
        : `Equity ends ${number(peak - end)} (${percent((peak - end) / peak)}) below its peak, under water for ${count(under, "session")}.`,
    );
  }
  return sentences;
}
