/** Commands that put a run in doubt: does it reproduce, and does it know only what it could? */
import type { RunDocument } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import {
  checkPlanLookAhead,
  describePlan,
  fingerprintOf,
  hashText,
  PlanProcess,
  type RunRequest,
  resultHashOf,
  runPlan,
} from "@plan-tester/runner";
import { firstFieldDifference } from "./compare-documents.ts";
import { documentOf } from "./document.ts";
import { readJson, readPlan } from "./files.ts";
import { inputsOf } from "./options.ts";
import { print } from "./output.ts";
import { loadData, type RunOptions, settingsOf } from "./run-options.ts";

/** @throws PlanTesterError bad-input for what is no run document. */
function readRun(file: string): RunDocument {
  const run = readJson(file, "run") as Partial<RunDocument> | null;
  const isWhole = [run?.fills, run?.trades, run?.equity].every(Array.isArray);
  if (typeof run?.fingerprint !== "string" || typeof run.resultHash !== "string" || !run.settings || !run.inputs || !isWhole)
    throw new PlanTesterError("bad-input", `"${file}" is not a run document: give what backtest --json printed.`, {});
  return run as RunDocument;
}

/** What the numbers of a document hash to: whether they are still those that it was made with. */
function hashOfDocument({ status, fills, trades, equity }: RunDocument): string {
  return resultHashOf({
    status,
    fills: fills.map((fill) => ({ ...fill, side: fill.side === "buy" ? 1 : -1 })),
    trades: trades.map((trade) => ({
      ...trade,
      side: trade.side === "long" ? 1 : -1,
      entryTime: Date.parse(trade.entryTime ?? ""),
      exitTime: Date.parse(trade.exitTime ?? ""),
    })),
    equity: Float64Array.from(equity),
  });
}

/**
 * Runs again with the inputs and settings of a run document and compares every field; differs in one line when anything is
 * not the same.
 */
export async function verify(options: RunOptions & { run: string }): Promise<void> {
  const known = readRun(options.run);
  const {
    symbol: _symbol,
    timeframe: _timeframe,
    ...settings
  } = known.settings as RunRequest["settings"] & { symbol: string; timeframe: string };
  const { feeds, hash, notices } = await loadData(options, settings.path === "finer");
  const source = await readPlan(options.plan);
  const worker = new PlanProcess();
  try {
    const outcome = await runPlan(worker, { source, inputs: known.inputs, settings, feeds });
    const { instrument, data } = feeds[0]!;
    const fingerprint = fingerprintOf({
      source: hashText(source),
      inputs: outcome.inputs,
      dataHash: hash,
      timeframe: data.series.timeframe,
      instrument,
      settings,
    });
    const made = documentOf({ source, outcome, feeds, settings, fingerprint, dataHash: hash, notices });
    // As JSON has it: what is undefined is left out.
    const again = JSON.parse(JSON.stringify(made)) as RunDocument;
    const problem =
      hash !== known.dataHash
        ? "the bars are not those of the run"
        : fingerprint !== known.fingerprint
          ? "the plan, its inputs, its settings or the instrument are not those of the run"
          : numbersProblem(known, again);
    print(
      problem
        ? `differs: ${problem}\n`
        : `verified: ${fingerprint} came to ${known.resultHash} again, every number of the document is the same\n`,
    );
    if (problem) process.exitCode = 1;
  } finally {
    worker.kill("done");
  }
}

/** What is wrong with the numbers of a document, or "". */
function numbersProblem(known: RunDocument, again: RunDocument): string {
  const difference = firstFieldDifference(known, again);
  if (!difference) return "";
  const { path, document, again: other } = difference;
  const words = (value: unknown): string => (value === undefined ? "missing" : JSON.stringify(value).slice(0, 80));
  const why =
    hashOfDocument(known) === known.resultHash && known.resultHash !== again.resultHash
      ? "the same plan, inputs, data and settings came to another result"
      : "the document was changed after it was made, or made by another version";
  return `${path} is ${words(document)} in the document and ${words(other)} run again: ${why}`;
}

/** Compares the plan with itself on bars that have another future: what differs sees ahead. */
export async function checkLookAhead(options: RunOptions): Promise<void> {
  const { feeds } = await loadData(options, options.path === "finer");
  const settings = settingsOf(options, feeds);
  const source = await readPlan(options.plan);
  const worker = new PlanProcess();
  try {
    const inputs = inputsOf(options.input, (await describePlan(worker, source)).inputs);
    const { cuts, difference } = await checkPlanLookAhead(worker, { source, inputs, settings, feeds });
    if (!difference) {
      print(`no look-ahead: compared at ${cuts.length} places, the same whatever comes after them\n`);
      return;
    }
    const { what, barIndex, timeMs, line, bars, whole, other } = difference;
    const at = Number.isFinite(timeMs) ? ` (${new Date(timeMs).toISOString()})` : "";
    print(
      `looks ahead: the first ${what} that differs is at bar ${barIndex}${at}${line > 0 ? `, line ${line}` : ""}\n  as it is:                           ${whole || "nothing"}\n  with another future after bar ${String(bars - 1).padEnd(5)} ${other || "nothing"}\n`,
    );
    process.exitCode = 1;
  } finally {
    worker.kill("done");
  }
}
