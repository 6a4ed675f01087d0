/** What is doubtful about the bars that a run was made on: what its trades touched, what was repaired, which facts were changed since. */
import type { MadeRepair, Market, RunEvidence } from "@plan-tester/contract";
import { type Finding, nominalMs, repairWords } from "@plan-tester/core";
import { count, HERE, signedMoney, timeAt } from "../../lib/format.ts";
import type { Surrounding } from "./surroundings.ts";

type OfRun = Pick<RunEvidence, "settings" | "trades" | "createdMs">;

/** Trades that were open in, or next to, a doubtful stretch. @param findings by time */
function touched({ settings: { symbol, timeframe }, trades }: OfRun, findings: readonly Finding[]) {
  const barMs = nominalMs(timeframe);
  return trades.filter(
    (trade) =>
      trade.symbol === symbol && findings.some(({ fromMs, toMs }) => fromMs < trade.exitTime + barMs && toMs > trade.entryTime - barMs),
  );
}

export function dataDoubts(
  run: OfRun,
  market: Market | undefined,
  findings: readonly Finding[],
  repairs: readonly MadeRepair[],
  zone: string,
): Surrounding[] {
  const found: Surrounding[] = [];
  const { symbol } = run.settings;
  const doubtful = touched(run, findings);
  if (doubtful.length > 0) {
    const left = run.trades.filter((trade) => !doubtful.includes(trade)).reduce((sum, { net }) => sum + net, 0);
    const kinds = [
      ...new Set(findings.filter((finding) => touched({ ...run, trades: doubtful }, [finding]).length > 0).map(({ kind }) => kind)),
    ];
    found.push({
      code: "doubtful bars",
      text: `${count(doubtful.length, "trade")} touched doubtful bars of ${symbol}`,
      advice: `They are about a ${kinds.join(", a ")}, the first on ${timeAt(doubtful[0]!.entryTime, zone)}. Without these trades the net profit is ${signedMoney(left)}. Markets lists what is doubtful, shows it on the chart, and lets you repair it.`,
    });
  }
  const inForce = repairs.filter(({ createdMs, undoneMs }) => createdMs <= run.createdMs && (undoneMs === 0 || undoneMs > run.createdMs));
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
