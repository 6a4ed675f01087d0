/** Commands that put a run in doubt: does it come out again, and does it know only what it could? */
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
import { readJson, readPlan } from "./files.ts";
import { inputsOf } from "./options.ts";
import { loadData, type RunOptions, settingsOf } from "./run-options.ts";

/** What a verification needs of a run document. */
interface KnownRun {
  readonly fingerprint: string;
  readonly resultHash: string;
  readonly dataHash: string;
  readonly inputs: RunRequest["inputs"];
  readonly settings: RunRequest["settings"];
}

function readRun(file: string): KnownRun {
  const run = readJson(file, "run") as Partial<KnownRun> | null;
  if (typeof run?.fingerprint !== "string" || typeof run.resultHash !== "string" || !run.settings || !run.inputs)
    throw new PlanTesterError("bad-input", `"${file}" is no run: give what backtest --json printed.`, {});
  return run as KnownRun;
}

/** Runs again with the inputs and settings of a run document; differs in one line when anything is not the same. */
export async function verify(options: RunOptions & { run: string }): Promise<void> {
  const known = readRun(options.run);
  const {
    symbol: _symbol,
    timeframe: _timeframe,
    ...settings
  } = known.settings as RunRequest["settings"] & { symbol: string; timeframe: string };
  const { feeds, hash } = loadData(options, settings.path === "finer");
  const source = await readPlan(options.plan);
  const worker = new PlanProcess();
  try {
    const { inputs, result } = await runPlan(worker, { source, inputs: known.inputs, settings, feeds });
    const { instrument, data } = feeds[0]!;
    const fingerprint = fingerprintOf({
      source: hashText(source),
      inputs,
      dataHash: hash,
      timeframe: data.series.timeframe,
      instrument,
      settings,
    });
    const problem =
      hash !== known.dataHash
        ? "the bars are not those of the run"
        : fingerprint !== known.fingerprint
          ? "the plan or the instrument is not that of the run"
          : resultHashOf(result) !== known.resultHash
            ? "the same plan, inputs, data and settings came to another result"
            : "";
    process.stdout.write(problem ? `differs: ${problem}\n` : `verified: ${fingerprint} came to ${known.resultHash} again\n`);
    if (problem) process.exitCode = 1;
  } finally {
    worker.kill("done");
  }
}

/** Compares the plan with itself on bars that have another future: what differs sees ahead. */
export async function checkLookAhead(options: RunOptions): Promise<void> {
  const { feeds } = loadData(options, options.path === "finer");
  const settings = settingsOf(options, feeds[0]!.instrument);
  const source = await readPlan(options.plan);
  const worker = new PlanProcess();
  try {
    const inputs = inputsOf(options.input, (await describePlan(worker, source)).inputs);
    const { cuts, difference } = await checkPlanLookAhead(worker, { source, inputs, settings, feeds });
    if (!difference) {
      process.stdout.write(`no look-ahead: compared at ${cuts.length} places, the same whatever comes after them\n`);
      return;
    }
    const { what, barIndex, timeMs, line, bars, whole, other } = difference;
    const at = Number.isFinite(timeMs) ? ` (${new Date(timeMs).toISOString()})` : "";
    process.stdout.write(
      `looks ahead: the first ${what} that differs is at bar ${barIndex}${at}${line > 0 ? `, line ${line}` : ""}\n  as it is:                           ${whole || "nothing"}\n  with another future after bar ${String(bars - 1).padEnd(5)} ${other || "nothing"}\n`,
    );
    process.exitCode = 1;
  } finally {
    worker.kill("done");
  }
}
