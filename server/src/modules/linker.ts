/** Plans' texts get the modules of the workspace that they import put behind them, so that what runs is what is kept. */
import { linkModules } from "@plan-tester/runner";
import type { WorkThread } from "../work/work-thread.ts";

export class Linker {
  readonly #textOf: (name: string) => Promise<string | null>;
  readonly #thread: WorkThread;

  /** @param textOf text of the module of a name; null where there is none. */
  constructor(textOf: (name: string) => Promise<string | null>, thread: WorkThread) {
    this.#textOf = textOf;
    this.#thread = thread;
  }

  /** @throws PlanTesterError bad-plan when a module is not there. */
  link(source: string): Promise<string> {
    return linkModules(source, this.#textOf, (text) => this.#thread.importsOf(text));
  }

  /** A request with its text so linked. @throws as `link`. */
  async linked<Request extends { readonly source: string }>(request: Request): Promise<Request> {
    return { ...request, source: await this.link(request.source) };
  }
}
