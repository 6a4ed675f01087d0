/** Faults of the line: reports that are lost, told twice or out of order, words that come late. Orders are dealt with by the exchange. */
import { NO_FAULTS, type VenueFaults } from "@plan-tester/contract";
import type { VenueMessage } from "./protocol.ts";

export type LineFaults = Pick<VenueFaults, "loseReports" | "repeatReports" | "swapReports" | "delayMs">;

export class WordFaults {
  faults: LineFaults = NO_FAULTS;
  /** One that is to be told behind the next. */
  #kept: VenueMessage | null = null;

  /** What is said in its place, in this order. */
  through(message: VenueMessage): readonly VenueMessage[] {
    if (message.type !== "report") return [message];
    const before = this.#kept;
    this.#kept = null;
    if (this.#uses("loseReports")) return before ? [before] : [];
    const said = this.#uses("repeatReports") ? [message, message] : [message];
    if (before) return [...said, before];
    if (this.#uses("swapReports")) {
      this.#kept = message;
      return [];
    }
    return said;
  }

  #uses(name: "loseReports" | "repeatReports" | "swapReports"): boolean {
    const left = this.faults[name];
    if (left > 0) this.faults = { ...this.faults, [name]: left - 1 };
    return left > 0;
  }
}
