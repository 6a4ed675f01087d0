/** Which of the venue's numbered reports have been heard: each counts once, a missing one is asked for, lost ones are forgotten. */
import type { FollowedMessage } from "@plan-tester/venue";
import type { WatchMemory } from "./watch-types.ts";

export class HeardReports {
  /** What is written down: the last report, and the venue's process that told it. */
  readonly #memory: Pick<WatchMemory, "lastReport" | "epoch">;
  #seen = 0;
  #hasGap = false;
  /** Counts how often the venue has lost what it had told: an answer to a report of before is an answer to nothing. */
  era = 0;

  constructor(memory: Pick<WatchMemory, "lastReport" | "epoch">) {
    this.#memory = memory;
  }

  /** The last that has come, answered or not. */
  get last(): number {
    return Math.max(this.#seen, this.#memory.lastReport);
  }

  /** Whether a report is the next one, was heard before, or comes ahead of a missing one, for the first time since or again. */
  judge(number: number): "next" | "heard" | "gap" | "still a gap" {
    const { last } = this;
    if (number <= last) return "heard";
    if (number === last + 1) {
      this.#seen = number;
      return "next";
    }
    const wasGap = this.#hasGap;
    this.#hasGap = true;
    return wasGap ? "still a gap" : "gap";
  }

  /** The venue has said how things are, reports up to one included. @returns whether one was missing */
  caughtUp(lastReport: number): boolean {
    const hadGap = this.#hasGap;
    this.#hasGap = false;
    this.#seen = lastReport;
    return hadGap;
  }

  /**
   * Another process of the venue speaks: one that was killed may have told what it had not written down.
   * @returns how many reports are lost; null where it is the process of before
   */
  lost({ epoch, restored }: Pick<FollowedMessage, "epoch" | "restored">): number | null {
    if (epoch === this.#memory.epoch) return null;
    this.#memory.epoch = epoch;
    const { last } = this;
    // Case: an account that is younger than the venue's process has lost nothing with the one before.
    if (restored === null || last <= restored) return 0;
    this.#memory.lastReport = this.#seen = restored;
    this.era++;
    return last - restored;
  }
}
