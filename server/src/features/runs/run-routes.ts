import { check, type KeepRequest, keepRequestSchema, type RunRequestBody, runRequestSchema } from "@plan-tester/contract";
import { Router } from "express";
import type { RunChecks } from "./run-checks.ts";
import type { RunService } from "./run-service.ts";

export function runRoutes(runs: RunService, checks: RunChecks): Router {
  const router = Router();
  router.get("/runs", async (_request, response) => void response.json(await runs.list()));
  router.post(
    "/runs",
    async (request, response) => void response.json(await runs.run(check<RunRequestBody>(runRequestSchema, request.body, "the run"))),
  );
  router.get("/runs/:id", async (request, response) => void response.json((await runs.whole(request.params.id)).evidence));
  router.get("/runs/:id/orders", async (request, response) => void response.json((await runs.whole(request.params.id)).orders));
  router.get(
    "/runs/:id/columns",
    async (request, response) =>
      void response.type("application/octet-stream").send(Buffer.from((await runs.whole(request.params.id)).columns)),
  );
  router.post("/runs/:id/stop", (request, response) => {
    runs.stop(request.params.id);
    response.status(202).json({});
  });
  router.get("/runs/:id/lines", async (request, response) => void response.json(await checks.lines(await runs.whole(request.params.id))));
  router.post(
    "/runs/:id/verify",
    async (request, response) => void response.json(await checks.verify(await runs.whole(request.params.id))),
  );
  router.post(
    "/runs/:id/look-ahead",
    async (request, response) => void response.json(await checks.lookAhead(await runs.whole(request.params.id))),
  );
  router.put(
    "/runs/:id/keep",
    async (request, response) =>
      void response.json(await runs.keep(request.params.id, check<KeepRequest>(keepRequestSchema, request.body, "the run"))),
  );
  router.delete("/runs/:id", async (request, response) => {
    await runs.delete(request.params.id);
    response.status(204).end();
  });
  return router;
}
