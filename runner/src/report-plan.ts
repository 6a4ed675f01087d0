/** Runs a plan for one who hands its result on: what grows with trades, orders and bars stays bytes. */
import type { FirstFigures } from "@plan-tester/contract";
import type { InputValues } from "@plan-tester/core";
import type { Hearing, PlanProcess } from "./parent/plan-process.ts";
import { nextTaskId } from "./parent/pool.ts";
import type { AssembleMessage, FromChild, PlanDescription, ReportHead, ReportPart } from "./protocol.ts";
import { askToRun, ensureFeeds, keyed, type RunControl, type RunRequest, Told } from "./run-plan.ts";

export interface PlanReport {
  readonly description: PlanDescription;
  readonly inputs: InputValues;
  readonly head: ReportHead;
  readonly elapsedMs: number;
  /** Pieces of JSON text: an array of trades. */
  readonly trades: readonly Uint8Array[];
  /** Pieces of JSON text: `{orders, fills}`. */
  readonly orders: readonly Uint8Array[];
  /** Pieces of packed columns: equity, then each plot. */
  readonly columns: readonly Uint8Array[];
}

export interface ReportControl extends RunControl {
  /** What the run came to, as soon as that is known: the rest of the report takes about as long again. */
  readonly onFigures?: (figures: FirstFigures) => void;
}

/**
 * The same run as `runPlan`: a stop gives a partial one, and one whose process died holds what it had told.
 * @throws PlanProcessError when the plan can't be read or began nothing.
 */
export async function reportPlan(process: PlanProcess, request: RunRequest, control: ReportControl = {}): Promise<PlanReport> {
  const told = new Told();
  const parts = new Parts();
  const hearing: Hearing = { part: (part) => parts.add(part), figures: ({ figures }) => control.onFigures?.(figures) };
  try {
    return parts.report(await askToRun(process, request, control, told, "report", "report", hearing));
  } catch (error) {
    const message = told.reasonOf(error);
    const { done, trades, equity } = told;
    const report = await assemblePlan(process, request, { message, done, trades, equity });
    return { ...report, inputs: request.inputs };
  }
}

/** What a run comes to, without what grows with it: to compare it with another. */
export async function headOfPlan(process: PlanProcess, request: RunRequest): Promise<{ inputs: InputValues; head: ReportHead }> {
  return askToRun(process, request, {}, new Told(), "report", "head");
}

/** A report of a run that is put together from its trades and its equity. */
export async function assemblePlan(
  process: PlanProcess,
  { source, settings, feeds }: Omit<RunRequest, "inputs">,
  made: Pick<AssembleMessage, "message" | "done" | "trades" | "equity">,
): Promise<PlanReport> {
  const parts = new Parts();
  await ensureFeeds(process, feeds);
  const message = { type: "assemble", id: nextTaskId(), source, feeds: feeds.map(keyed), settings, ...made } as const;
  return parts.report(await process.ask(message, "report", { part: (part) => parts.add(part) }));
}

class Parts {
  readonly #parts: Readonly<Record<ReportPart, Uint8Array[]>> = { trades: [], orders: [], columns: [] };

  add({ part, bytes }: Extract<FromChild, { type: "part" }>): void {
    this.#parts[part].push(bytes);
  }

  report({ description, inputs, head, elapsedMs }: Extract<FromChild, { type: "report" }>): PlanReport {
    return { description, inputs, head, elapsedMs, ...this.#parts };
  }
}
