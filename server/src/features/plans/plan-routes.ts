import {
  check,
  type DescribeRequest,
  describeRequestSchema,
  kitSchema,
  type PlanCreate,
  type PlanUpdate,
  planCreateSchema,
  planUpdateSchema,
} from "@plan-tester/contract";
import type { ExitKit } from "@plan-tester/core";
import { Router } from "express";
import type { PlanService } from "./plan-service.ts";

export function planRoutes(plans: PlanService): Router {
  const router = Router();
  router.get("/plans", async (_request, response) => void response.json(await plans.list()));
  router.post(
    "/plans",
    async (request, response) =>
      void response.status(201).json(await plans.create(check<PlanCreate>(planCreateSchema, request.body, "the plan"))),
  );
  router.get("/modules", async (_request, response) => void response.json(await plans.modules()));
  router.get("/plans/:id", async (request, response) => void response.json(await plans.get(request.params.id)));
  router.put(
    "/plans/:id",
    async (request, response) =>
      void response.json(await plans.update(request.params.id, check<PlanUpdate>(planUpdateSchema, request.body, "the plan"))),
  );
  router.delete("/plans/:id", async (request, response) => {
    await plans.delete(request.params.id);
    response.status(204).end();
  });
  // A kit from a file, with its defaults filled in, or what is wrong with it.
  router.post("/kits/read", (request, response) => void response.json(check<ExitKit>(kitSchema, request.body, "the exit kit")));
  router.post(
    "/describe",
    async (request, response) =>
      void response.json(await plans.describe(check<DescribeRequest>(describeRequestSchema, request.body, "the request").source)),
  );
  return router;
}
