/** Requests that run a plan's text get the modules it imports put behind it, so that what runs is what is kept. */
import { linkModules } from "@plan-tester/runner";
import type { RequestHandler } from "express";
import type { PlanRepository } from "./plan-repository.ts";

/** The text with the workspace's modules that it imports. */
export const linkFromWorkspace = (plans: PlanRepository, source: string): Promise<string> =>
  linkModules(source, (name) => plans.moduleSource(name));

export const linkSource =
  (plans: PlanRepository): RequestHandler =>
  async (request, _response, next) => {
    const body = request.body as { source?: unknown; runs?: unknown } | undefined;
    const several: readonly { source?: unknown }[] = Array.isArray(body?.runs) ? body.runs : [];
    if (request.method === "POST")
      for (const part of [body, ...several])
        if (typeof part?.source === "string") part.source = await linkFromWorkspace(plans, part.source);
    next();
  };
