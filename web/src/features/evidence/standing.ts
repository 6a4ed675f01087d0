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

/** @param endMs close of the last bar of the period. */
export function standing({ trades, daily }: Pick<EvidenceView, "trades" | "daily">, endMs: number): string[] {
  const sentences: string[] = [];
  const last = trades.at(-1);
  if (last) {
    const pause = (last.exitTime - trades[0]!.entryTime) / Math.max(1, trades.length - 1);
    const silent = Math.max(0, lookedUntil(daily.dates, endMs) - last.exitTime);
    const few = trades.length < FEW_TRADES;
    const pace = few ? count(trades.length, "trade") : `trades came ${days(pause)} apart`;
    if (last.reason === "end of data") sentences.push(`Still in a position at the end; ${few ? `${pace} in all` : pace}.`);
    else if (few) sentences.push(`Only ${pace}: the last one closed ${days(silent)} before the end.`);
    else if (silent > SILENT_TIMES * pause) sentences.push(`It has stopped trading: nothing for ${days(silent)}, though ${pace}.`);
    else sentences.push(`Still trading: the last trade closed ${days(silent)} before the end, and ${pace}.`);
  }
  const equity = Array.from(daily.equity);
  const end = equity.at(-1) ?? 0;
  const peak = equity.reduce((most, value) => Math.max(most, value), Number.NEGATIVE_INFINITY);
  if (equity.length > 2) {
    const under = equity.length - 1 - equity.lastIndexOf(peak);
    sentences.push(
      under === 0
        ? "Equity ends at its peak."
        : `Equity ends ${number(peak - end)} (${percent((peak - end) / peak)}) below its peak, under water for ${count(under, "session")}.`,
    );
  }
  return sentences;
}
