/** What a watch does of itself where something has gone wrong, as its options say. */
import type { WatchOptions } from "@plan-tester/contract";
import { type EventReport, OTHER_TAG } from "@plan-tester/core";
import { messageOf } from "../../text.ts";
import { errorEvent, type NewEvent } from "./watch-texts.ts";

/** What it needs of its watch. */
export interface PolicyWatch {
  readonly options: () => WatchOptions;
  readonly nowMs: () => number;
  readonly isFlat: () => boolean;
  readonly hasEnded: () => boolean;
  readonly tell: (...events: readonly NewEvent[]) => void;
  readonly end: (reason: string) => void;
  readonly flatten: () => Promise<void>;
  /** Closes what something else than the plan has opened. */
  readonly closeOthers: () => Promise<unknown>;
}

export class FailurePolicy {
  readonly #watch: PolicyWatch;

  constructor(watch: PolicyWatch) {
    this.#watch = watch;
  }

  /** What is open is closed. */
  async close(reason: string): Promise<void> {
    if (this.#watch.isFlat()) return;
    this.#watch.tell(errorEvent(this.#watch.nowMs(), `${reason}: what is open is closed`, "policy"));
    await this.#watch.flatten();
  }

  /** The plan started again while something was open. */
  async restarted(): Promise<void> {
    if (this.#watch.options().onRestart === "flatten") await this.close("the plan started again with something open");
  }

  /** The line is there again after it was broken for long. */
  async lineIsBack(): Promise<void> {
    const { onLineLost, lineSeconds } = this.#watch.options();
    if (onLineLost === "flatten") await this.close(`the line was broken for over ${lineSeconds} s`);
  }

  reported({ event }: EventReport): void {
    if (event.kind === "opened" && event.lot.tag === OTHER_TAG) this.#unknown(event.symbol, event.lot);
    if (event.kind === "ended" && event.order.state === "refused" && !this.#watch.hasEnded()) this.#refused(event.order);
  }

  #refused({ note, intent, id }: Extract<EventReport["event"], { kind: "ended" }>["order"]): void {
    const { options, tell, nowMs, end } = this.#watch;
    const { onEntryRefused, onExitRefused } = options();
    if (intent !== "exit") {
      if (onEntryRefused === "stop") end(`the venue refused an entry: ${note}`);
      return;
    }
    const words = `the venue refused exit ${id}: ${note}`;
    if (onExitRefused === "flatten") void this.close(words);
    else tell(errorEvent(nowMs(), words, "policy"));
  }

  #unknown(symbol: string, { side, quantity, entryPrice }: Extract<EventReport["event"], { kind: "opened" }>["lot"]): void {
    const { options, tell, nowMs } = this.#watch;
    const what = `${side > 0 ? "long" : "short"} ${quantity} ${symbol} at ${entryPrice} was opened under this watch's name, and not by its plan`;
    const isClosed = options().onUnknown === "flatten";
    const becomes = isClosed ? "it is closed at the next price" : "it is taken as the watch's own, without a stop";
    tell({ ...errorEvent(nowMs(), `${what}: ${becomes}`, "policy"), cause: "by hand" });
    if (isClosed) void this.#closeOthers();
  }

  async #closeOthers(): Promise<void> {
    const { closeOthers, tell, nowMs } = this.#watch;
    try {
      await closeOthers();
    } catch (error) {
      tell(errorEvent(nowMs(), `not closed: ${messageOf(error)} Close it by hand.`, "policy"));
    }
  }
}
