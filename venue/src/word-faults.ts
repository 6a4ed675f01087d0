/** Faults of the line: reports that are lost, told twice or out of order, words that come late. Orders are dealt with by the exchange. */
import { NO_FAULTS, type VenueFaults } from "@plan-tester/contract";
import { FaultCounts } from "./fault-counts.ts";
import type { VenueMessage } from "./protocol.ts";

export type LineFaults = Pick<VenueFaults, "loseReports" | "repeatReports" | "swapReports" | "delayMs" | "skewSeconds">;

/** A message and the clients that it is for; null for all. */
export interface Said {
  readonly clients: readonly number[] | null;
  readonly message: VenueMessage;
}

export class WordFaults {
  readonly counts = new FaultCounts<LineFaults>(NO_FAULTS);
  /** One that is to be told behind the next. */
  #kept: Said | null = null;

  /** How far the venue's clock is wrong. */
  get skewMs(): number {
    return this.counts.left.skewSeconds * 1000;
  }

  /** What is said in its place, in this order. */
  through(told: Said): readonly Said[] {
    const said = "saidMs" in told.message ? { ...told, message: { ...told.message, saidMs: told.message.saidMs + this.skewMs } } : told;
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
