/** One plan on a live feed: the same host as in a backtest, fed bar by bar, with its orders sent out as commands. */
import { type BarSeries, dueTimeIn, nominalMs, PlanHost, type RunStatus, resolveInputs, StudyStore, specsOf } from "@plan-tester/core";
import type { FromChild, LiveAccountMessage, LiveCommand, LiveStartMessage } from "../protocol.ts";
import { AccountMirror } from "./mirror.ts";
import { currentLine, failureOf, guard, type LoadedPlan, loadPlan } from "./sandbox.ts";

export class LiveSession {
  readonly #id: number;
  readonly #send: (message: FromChild) => void;
  readonly #plan: LoadedPlan;
  readonly #host: PlanHost;
  readonly #mirror: AccountMirror;
  readonly #symbol: string;
  #series: BarSeries;
  #commands: LiveCommand[] = [];
  #logSent = 0;
  /** Clock actions already done, by session date and index. */
  readonly #done = new Set<string>();
  #status: RunStatus = "partial";

  constructor(message: LiveStartMessage, send: (message: FromChild) => void) {
    this.#id = message.id;
    this.#send = send;
    this.#series = message.series;
    this.#symbol = message.instrument.symbol;
    this.#plan = loadPlan(message.source);
    const declared = this.#plan.instantiate();
    const inputs = resolveInputs(specsOf(declared.inputs), message.inputs);
    guard.restart();
    this.#mirror = new AccountMirror(
      message.instrument,
      message.account,
      (command) => this.#commands.push(command),
      () => {
        const { close, length, timeframe } = this.#series;
        const { index, timeMs } = this.#host?.cursor ?? { index: 0, timeMs: 0 };
        return { barIndex: index, timeMs, price: close[length - 1]!, barMs: nominalMs(timeframe) };
      },
    );
    this.#host = new PlanHost({
      plan: declared,
      freshPlan: this.#plan.instantiate,
      inputs,
      feeds: [{ instrument: message.instrument, store: new StudyStore(message.series), broker: this.#mirror }],
      settings: message.settings,
      sourceLine: currentLine,
    });
    this.#place();
    // Case: what the clock already passed today must not fire on arrival.
    this.#host.clockActions.forEach((action, i) => {
      const { session, sessions } = this.#series;
      const s = session[this.#series.length - 1]!;
      if (dueTimeIn(this.#series, s, action) <= this.#host.cursor.timeMs) this.#done.add(`${sessions.dates[s]}:${i}`);
    });
    this.#flush();
  }

  bar(series: BarSeries): void {
    const before = this.#series;
    this.#act(() => {
      this.#series = series;
      this.#host.extend(series);
      const last = series.length - 1;
      const newSession =
        before.session[before.length - 1] !== undefined &&
        series.sessions.dates[series.session[last]!] !== before.sessions.dates[before.session[before.length - 1]!];
      this.#place();
      this.#mirror.expireAt(last);
      if (newSession) this.#host.runEvent("sessionOpen");
      this.#clockActions(this.#host.cursor.timeMs);
      this.#host.runBarClose();
      if (series.closeTime[last]! >= series.sessions.closeMs[series.session[last]!]!) this.#host.runEvent("sessionClose");
    });
  }

  clock(timeMs: number): void {
    this.#act(() => {
      this.#host.cursor.timeMs = timeMs;
      this.#clockActions(timeMs);
    });
  }

  account(message: LiveAccountMessage): void {
    this.#act(() => {
      this.#mirror.apply(message.account, message.ended, this.#host.cursor.index);
      for (const fill of message.fills) this.#host.filled(fill, this.#symbol);
      for (const trade of message.trades) this.#host.closed(trade);
      for (const order of message.ended) this.#host.ended(order, this.#symbol);
    });
  }

  #place(): void {
    const last = this.#series.length - 1;
    this.#host.place(last, this.#series.closeTime[last]!, last);
  }

  #clockActions(timeMs: number): void {
    const { sessions } = this.#series;
    const s = this.#host.cursor.session;
    this.#host.clockActions.forEach((action, i) => {
      const key = `${sessions.dates[s]}:${i}`;
      if (this.#done.has(key) || !(timeMs >= dueTimeIn(this.#series, s, action))) return;
      this.#done.add(key);
      this.#host.runClockAction(action);
    });
  }

  #act(action: () => void): void {
    if (this.#status === "failed") return;
    guard.restart();
    try {
      action();
      this.#flush();
    } catch (error) {
      this.#status = "failed";
      const { index, timeMs } = this.#host.cursor;
      this.#send({ type: "live", id: this.#id, commands: [], log: this.#newLines(), failure: failureOf(error, this.#plan, index, timeMs) });
    }
  }

  #newLines() {
    const lines = this.#host.lines.slice(this.#logSent);
    this.#logSent = this.#host.lines.length;
    return lines;
  }

  #flush(): void {
    const commands = this.#commands;
    this.#commands = [];
    this.#send({ type: "live", id: this.#id, commands, log: this.#newLines(), failure: null });
  }
}
