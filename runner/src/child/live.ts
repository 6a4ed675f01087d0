/** One plan on a live feed, in its process: the venue's words in, the commands of its handlers and what they left behind out. */
import { type ChartNote, LiveRun, type Order, type PlanCommand, type PlanFailure, resolveInputs, specsOf, viewOf } from "@plan-tester/core";
import type {
  AskFor,
  FromChild,
  HeldOrder,
  LiveMode,
  LiveSettleMessage,
  LiveStartMessage,
  LiveViewMessage,
  LiveWordMessage,
  Send,
} from "../protocol.ts";
import { currentLine, failureOf, guard, type LoadedPlan, loadPlan } from "./sandbox.ts";

/** Kept for the chart. */
const MAX_NOTES = 500;

type Live = Extract<FromChild, { type: "live" }>;

/** Starts a plan, or says how many bars it takes to warm its studies. */
export function startLive(message: LiveStartMessage, sessions: Map<number, LiveSession>, send: Send): void {
  const session = new LiveSession(message, send);
  const { feeds, id } = message;
  const needed = session.barsNeeded;
  if (feeds.some(({ history, hasMore }) => hasMore && history.length < needed)) return void send({ type: "live-needs", id, bars: needed });
  sessions.set(id, session);
  session.begin();
}

export class LiveSession {
  readonly #id: number;
  readonly #send: Send;
  readonly #plan: LoadedPlan;
  readonly #run: LiveRun;
  readonly #patienceMs: number;
  #noEntries: string;
  #askFor: AskFor;
  readonly #isResumed: boolean;
  #held: HeldOrder[] = [];
  #notes: ChartNote[] = [];
  #ageMs = 0;
  #hasFailed = false;
  /** What was told last of the kit's counts, as text. */
  #kit = "";

  constructor(message: LiveStartMessage, send: Send) {
    this.#id = message.id;
    this.#send = send;
    this.#patienceMs = message.patienceMs;
    this.#noEntries = message.noEntries;
    this.#askFor = message.askFor;
    this.#isResumed = message.isResumed;
    this.#plan = loadPlan(message.source);
    guard.restart();
    const plan = this.#plan.instantiate();
    this.#run = new LiveRun({
      plan,
      freshPlan: this.#plan.instantiate,
      inputs: resolveInputs(specsOf(plan.inputs), message.inputs),
      feeds: message.feeds,
      settings: message.settings,
      nowMs: message.nowMs,
      account: message.account,
      lastReport: message.lastReport,
      kitMemory: message.kit,
      sourceLine: currentLine,
      retries: message.retries,
      mustAsk: ({ intent }) => this.#askFor === "everything" || (this.#askFor === "entries" && intent !== "exit"),
      onUnconfirmed: (order, symbol, reason) => this.#held.push({ symbol, order, reason, cause: "connection" }),
      gate: (order, symbol) => (order.intent === "exit" ? "" : this.#hold(order, symbol)),
    });
  }

  get barsNeeded(): number {
    return this.#run.host.barsNeeded;
  }

  /** Why an entry is not sent now, or "". One that is held back is told. */
  #hold(order: Order, symbol: string): string {
    const refusal = this.#refusal();
    if (!refusal) return "";
    this.#held.push({ symbol, order, ...refusal });
    return refusal.reason;
  }

  #refusal(): Pick<HeldOrder, "reason" | "cause"> | null {
    if (this.#noEntries) return { reason: this.#noEntries, cause: "mode" };
    if (this.#isResumed && !this.#run.hasStarted)
      return { reason: "the watch was resumed: entries of its start are not sent again", cause: "restart" };
    if (this.#ageMs <= this.#patienceMs) return null;
    const age = `the bar is ${seconds(this.#ageMs)} old, of the venue's clock`;
    return { reason: `${age}; the watch takes entries up to ${seconds(this.#patienceMs)} (R8.3)`, cause: "lag" };
  }

  begin(): void {
    this.#act(() => this.#run.begin());
  }

  hear({ before, word, ageMs, speed, sentMs }: LiveWordMessage): void {
    this.#ageMs = ageMs + Math.max(0, Date.now() - sentMs) * speed;
    this.#act(() => [...before, word].flatMap((said) => this.#run.hear(said)));
  }

  mode({ noEntries, askFor, retries }: LiveMode): void {
    this.#noEntries = noEntries;
    this.#askFor = askFor;
    this.#run.retries.limits = retries;
  }

  settle({ orderId, isAccepted, note }: LiveSettleMessage): void {
    this.#act(() => this.#run.settle(orderId, isAccepted, note));
  }

  /** What a chart of it shows. */
  view({ lookedAt }: LiveViewMessage): void {
    const view = this.#hasFailed ? null : viewOf(this.#run, lookedAt);
    void this.#send({ type: "live-viewed", id: this.#id, view, notes: this.#notes });
  }

  end(): void {
    this.#act(() => this.#run.end());
  }

  /** After a failure it answers with nothing: what waits for it goes on. */
  #act(action: () => readonly PlanCommand[]): void {
    if (this.#hasFailed) return this.#answer([], null);
    guard.restart();
    try {
      this.#answer(action(), null);
    } catch (error) {
      this.#hasFailed = true;
      const { index, timeMs } = this.#run.host.cursor;
      // What its handlers had asked for before is asked for.
      this.#answer(this.#run.takeCommands(), failureOf(error, this.#plan, index, timeMs));
    }
  }

  #answer(commands: readonly PlanCommand[], failure: PlanFailure | null): void {
    const { host } = this.#run;
    const { lines: log, notes, fills, trades } = host.drain();
    if (notes.length > 0) this.#notes = [...this.#notes, ...notes].slice(-MAX_NOTES);
    const figures = [...host.ownFigures.values()];
    const held = this.#held;
    this.#held = [];
    const answer: Live = {
      ...{ type: "live", id: this.#id, commands, log, notes, fills, trades, figures, failure },
      ...{ asked: this.#run.mirror.asked, held, wantsPrice: host.wantsPrice, ageMs: this.#ageMs },
      quietUntilMs: this.#run.quietUntilMs,
      kit: this.#kitChange(),
    };
    void this.#send(answer);
  }

  #kitChange(): Live["kit"] {
    const { kitMemory } = this.#run.host;
    const text = kitMemory ? JSON.stringify(kitMemory) : "";
    if (text === this.#kit) return null;
    this.#kit = text;
    return kitMemory;
  }
}

function seconds(ms: number): string {
  if (ms < 120_000) return `${Math.round(ms / 1000)} s`;
  return ms < 7_200_000 ? `${Math.round(ms / 60_000)} min` : `${Math.round(ms / 3_600_000)} h`;
}
