/** Plans' texts get the modules of the workspace that they import put behind them, so that what runs is what is kept. */
import { linkModules } from "@plan-tester/runner";
import type { RequestHandler } from "express";
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

  /** Requests that run a plan's text. */
  readonly handler: RequestHandler = async (request, _response, next) => {
    const body = request.body as { source?: unknown; runs?: unknown } | undefined;
    const several: readonly { source?: unknown }[] = Array.isArray(body?.runs) ? body.runs : [];
    if (request.method === "POST")
      for (const part of [body, ...several]) if (typeof part?.source === "string") part.source = await this.link(part.source);
    next();
  };
}
