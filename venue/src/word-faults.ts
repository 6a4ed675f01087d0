/** Faults of the line: reports that are lost, told twice or out of order, words that come late. Orders are dealt with by the exchange. */
import { NO_FAULTS, type VenueFaults } from "@plan-tester/contract";
import { FaultCounts } from "./fault-counts.ts";
import type { VenueMessage } from "./protocol.ts";

export type LineFaults = Pick<VenueFaults, "loseReports" | "repeatReports" | "swapReports" | "delayMs">;

/** A message and the clients that it is for; null for all. */
export interface Said {
  readonly clients: readonly number[] | null;
  readonly message: VenueMessage;
}

export class WordFaults {
  readonly counts = new FaultCounts<LineFaults>(NO_FAULTS);
  /** One that is to be told behind the next. */
  #kept: Said | null = null;

  /** What is said in its place, in this order. */
  through(said: Said): readonly Said[] {
    if (said.message.type !== "report") return [said];
    const before = this.#kept;
    this.#kept = null;
    if (this.counts.takes("loseReports")) return before ? [before] : [];
    const now = this.counts.takes("repeatReports") ? [said, said] : [said];
    if (before) return [...now, before];
    if (!this.counts.takes("swapReports")) return now;
    this.#kept = said;
    return [];
  }
}
