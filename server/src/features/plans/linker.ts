/** Plans' texts get the modules of the workspace that they import put behind them, so that what runs is what is kept. */
import { linkModules } from "@plan-tester/runner";
import type { WorkThread } from "../../work/work-thread.ts";
import type { PlanRepository } from "./plan-repository.ts";

export class Linker {
  readonly #plans: PlanRepository;
  readonly #thread: WorkThread;

  constructor(plans: PlanRepository, thread: WorkThread) {
    this.#plans = plans;
    this.#thread = thread;
  }

  /** @throws PlanTesterError bad-plan when a module is not there. */
  link(source: string): Promise<string> {
    return linkModules(
      source,
      (name) => this.#plans.moduleSource(name),
      (text) => this.#thread.importsOf(text),
    );
  }

  /** A request with its text so linked. @throws as `link`. */
  async linked<Request extends { readonly source: string }>(request: Request): Promise<Request> {
    return { ...request, source: await this.link(request.source) };
  }
}
