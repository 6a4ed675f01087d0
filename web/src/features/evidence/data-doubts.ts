/** What is doubtful about the bars that a run was made on: what its trades touched, what was repaired, which facts were changed since. */
import { isInForce, type MadeRepair, type Market, type RunEvidence } from "@plan-tester/contract";
import { type Doubt, type Finding, nominalMs, repairWords } from "@plan-tester/core";
import { count, HERE, signedMoney, timeAt } from "../../lib/format.ts";
import type { Surrounding } from "./surroundings.ts";

type OfRun = Pick<RunEvidence, "settings" | "trades" | "createdMs">;

/** Trades that were open in, or next to, a doubtful stretch, what these were, and what all others came to. */
function touched({ settings: { symbol, timeframe }, trades }: OfRun, findings: readonly Finding[]) {
  const barMs = nominalMs(timeframe);
  const kinds = new Set<Doubt>();
  const told = { trades: 0, firstMs: 0, others: 0 };
  for (const trade of trades) {
    const about =
      trade.symbol === symbol
        ? findings.filter(({ fromMs, toMs }) => fromMs < trade.exitTime + barMs && toMs > trade.entryTime - barMs)
        : [];
    if (about.length === 0) {
      told.others += trade.net;
      continue;
    }
    for (const { kind } of about) kinds.add(kind);
    if (told.trades++ === 0) told.firstMs = trade.entryTime;
  }
  return { ...told, kinds: [...kinds] };
}

/** @param findings of the plan's own instrument, as are the repairs @param zone of its exchange */
export function dataDoubts(
  run: OfRun,
  market: Market | undefined,
  findings: readonly Finding[],
  repairs: readonly MadeRepair[],
  zone: string,
): Surrounding[] {
  const found: Surrounding[] = [];
  const { symbol } = run.settings;
  const { trades, firstMs, others, kinds } = touched(run, findings);
  if (trades > 0)
    found.push({
      code: "doubtful bars",
      text: `${count(trades, "trade")} touched doubtful bars of ${symbol}`,
      advice: `What is doubtful there: ${kinds.join(", ")}; the first of these trades began on ${timeAt(firstMs, zone)}. Without them the net profit is ${signedMoney(others)}. Markets lists what is doubtful, shows it on the chart, and lets you repair it.`,
    });
  const inForce = repairs.filter((repair) => isInForce(repair, run.createdMs));
  if (inForce.length > 0)
    found.push({
      code: "repaired bars",
      text: `Its bars have ${count(inForce.length, "repair")}`,
      advice: `Over what was imported of ${symbol}: ${inForce.map(({ repair, reason }) => `${repairWords(repair)} (${reason})`).join("; ")}.`,
    });
  const changes = market?.factsChanges.filter(({ atMs }) => atMs > run.createdMs) ?? [];
  if (changes.length > 0)
    found.push({
      code: "other facts",
      text: `Facts of ${symbol} were changed since`,
      advice: `${changes.map(({ atMs, changes: words }) => `${timeAt(atMs, HERE)}: ${words.join(", ")}`).join("; ")}. This run has those of then; a new one takes those of now.`,
    });
  return found;
}
