/**
 * What a watch has asked of its account, in order and numbered. Commands that the venue has not dealt with are kept, and sent
 * again after the line was broken: the venue passes over those that it has done before, so nothing is done twice.
 */
import type { AccountReport, PlanCommand } from "@plan-tester/core";
import type { Address } from "@plan-tester/venue";
import type { VenueClient } from "./venue-client.ts";

/** In one message. */
const MOST_AT_ONCE = 1000;

export class CommandLine {
  readonly #address: Address;
  readonly #venue: Pick<VenueClient, "send">;
  #sent = 0;
  #kept: PlanCommand[] = [];

  constructor(address: Address, venue: Pick<VenueClient, "send">) {
    this.#address = address;
    this.#venue = venue;
  }

  /** Commands that the venue has not dealt with yet. */
  get waiting(): number {
    return this.#kept.length;
  }

  /** Whether the venue knows less than it had confirmed: it was killed, and has lost what it had not written down. */
  hasGoneBack({ commandsDone }: AccountReport): boolean {
    return commandsDone < this.#sent - this.#kept.length;
  }

  /** Counts on from what the venue has done: after a start. */
  begin({ commandsDone }: AccountReport): void {
    this.#sent = commandsDone;
    this.#kept = [];
  }

  send(commands: readonly PlanCommand[]): void {
    if (commands.length === 0) return;
    this.#transmit(this.#sent + 1, commands);
    this.#sent += commands.length;
    this.#kept.push(...commands);
  }

  /** The venue has done so many. */
  confirm({ commandsDone }: AccountReport): void {
    const left = this.#sent - commandsDone;
    if (left < this.#kept.length) this.#kept.splice(0, this.#kept.length - Math.max(0, left));
  }

  /** The line has been made again: what the venue has not done is sent again. */
  resend(report: AccountReport): void {
    this.confirm(report);
    this.#transmit(this.#sent - this.#kept.length + 1, this.#kept);
  }

  #transmit(first: number, commands: readonly PlanCommand[]): void {
    for (let at = 0; at < commands.length; at += MOST_AT_ONCE)
      this.#venue.send({ type: "commands", ...this.#address, first: first + at, commands: commands.slice(at, at + MOST_AT_ONCE) });
  }
}
