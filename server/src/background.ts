/** The one way of work that nobody waits for: what fails is logged with what it was about, told to the open pages, and kept for /api/health. */
import type { Trouble } from "@plan-tester/contract";
import type { Logger } from "pino";
import type { EventStream } from "./http/events.ts";
import { messageOf } from "./text.ts";

/** What failed last, newest first. */
const KEPT = 20;
const RETRY_MS = 1000;

/** What a piece of work was about, for the log: a run, a sweep, a watch by its id. */
export type About = Readonly<Record<string, string>>;

export class Background {
  readonly #logger: Logger;
  readonly #events: EventStream;
  #troubles: Trouble[] = [];
  #isClosing = false;
  readonly #sleepers = new Set<() => void>();

  constructor(logger: Logger, events: EventStream) {
    this.#logger = logger;
    this.#events = events;
  }

  get troubles(): readonly Trouble[] {
    return this.#troubles;
  }

  /** @param what says what was not done, as a sentence without its full stop: "the draft of a run was not saved". */
  run(what: string, about: About, work: () => Promise<unknown>): void {
    work().catch((error: unknown) => this.report(what, about, error));
  }

  report(what: string, about: About, error: unknown): void {
    this.#logger.error({ err: error, ...about }, what);
    const trouble = { atMs: Date.now(), text: `${what[0]!.toUpperCase()}${what.slice(1)}: ${messageOf(error)}` };
    this.#troubles = [trouble, ...this.#troubles].slice(0, KEPT);
    this.#events.send({ type: "trouble", ...trouble });
  }

  /**
   * Work that must not be lost, such as the last writing of a sweep: tried again until it is done, the failure told once.
   * @returns false when the server closed before it could be done.
   */
  async insist(what: string, about: About, work: () => Promise<unknown>): Promise<boolean> {
    for (let isTold = false; ; isTold = true)
      try {
        await work();
        if (isTold) this.#logger.info(about, `after all: ${what.replace(/ (was|were) not /, " $1 ")}`);
        return true;
      } catch (error) {
        if (!isTold) this.report(`${what} yet, it is tried again`, about, error);
        if (this.#isClosing) return false;
        await this.#sleep();
      }
  }

  #sleep(): Promise<void> {
    return new Promise((resolve) => {
      const wake = (): void => {
        clearTimeout(timer);
        this.#sleepers.delete(wake);
        resolve();
      };
      const timer = setTimeout(wake, RETRY_MS);
      this.#sleepers.add(wake);
    });
  }

  /** Everything that waits is tried once more. */
  close(): void {
    this.#isClosing = true;
    for (const wake of [...this.#sleepers]) wake();
  }
}
