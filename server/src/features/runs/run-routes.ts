import {
  type BatchRequest,
  batchRequestSchema,
  check,
  type KeepRequest,
  keepRequestSchema,
  type LastDraft,
  type RunQuery,
  type RunRequestBody,
  runQuerySchema,
  runRequestSchema,
} from "@plan-tester/contract";
import { type Response, Router } from "express";
import type { RunChecks } from "./run-checks.ts";
import type { RunQueue } from "./run-queue.ts";
import { evidencePieces } from "./run-repository.ts";
import type { RunService } from "./run-service.ts";

/** A query of an address, whose values are all text. */
function runQueryOf(query: Record<string, unknown>): Required<RunQuery> {
  const numbers = Object.fromEntries(
    ["offset", "limit"].flatMap((name) => (typeof query[name] === "string" ? [[name, Number(query[name])]] : [])),
  );
  return check<Required<RunQuery>>(runQuerySchema, { ...query, ...numbers }, "the query");
}

/** Sends bytes as they are, piece by piece: nothing is copied into one text. */
function sendPieces(response: Response, pieces: readonly Uint8Array[], type = "application/json; charset=utf-8"): void {
  response.set({ "Content-Type": type, "Content-Length": String(pieces.reduce((sum, { length }) => sum + length, 0)) });
  for (const piece of pieces) response.write(piece);
  response.end();
}

export function runRoutes(runs: RunService, checks: RunChecks, queue: RunQueue): Router {
  const router = Router();
  router.get("/runs", async (request, response) => void response.json(await runs.list(runQueryOf({ ...request.query }))));
  router.get("/run-facets", async (_request, response) => void response.json(await runs.facets()));
  router.get("/queue", (_request, response) => void response.json(queue.list()));
  router.post(
    "/queue",
    async (request, response) =>
      void response.status(202).json({ batch: await queue.add(check<BatchRequest>(batchRequestSchema, request.body, "the batch")) }),
  );
  router.post("/queue/:id/stop", async (request, response) => {
    await queue.stop(request.params.id);
    response.status(202).json({});
  });
  router.delete("/queue", async (_request, response) => {
    await queue.clear();
    response.status(204).end();
  });
  router.post("/runs", async (request, response) => {
    const { head, trades } = await runs.run(check<RunRequestBody>(runRequestSchema, request.body, "the run"));
    sendPieces(response, evidencePieces(head, trades));
  });
  router.get("/runs/:id", async (request, response) => sendPieces(response, await runs.evidenceText(request.params.id)));
  router.get(
    "/plans/:id/last-draft",
    async (request, response) => void response.json({ runId: await runs.lastDraft(request.params.id) } satisfies LastDraft),
  );
  router.get("/runs/:id/orders", async (request, response) => sendPieces(response, await runs.part(request.params.id, "orders")));
  router.get("/runs/:id/columns", async (request, response) =>
    sendPieces(response, await runs.part(request.params.id, "columns"), "application/octet-stream"),
  );
  router.post("/runs/:id/stop", (request, response) => {
    runs.stop(request.params.id);
    response.status(202).json({});
  });
  router.get("/runs/:id/lines", async (request, response) => void response.json(await checks.lines(await runs.head(request.params.id))));
  router.get(
    "/runs/:id/strips",
    async (request, response) =>
      void response.type("application/octet-stream").send(Buffer.from(await checks.strips(await runs.head(request.params.id)))),
  );
  router.get("/runs/:id/steps", async (request, response) => {
    const { from, to } = request.query;
    response.json(await checks.steps(await runs.head(request.params.id), Number(from), Number(to)));
  });
  router.post("/runs/:id/verify", async (request, response) => void response.json(await checks.verify(await runs.head(request.params.id))));
  router.post("/runs/:id/stress", async (request, response) => void response.json(await checks.stress(await runs.head(request.params.id))));
  router.post(
    "/runs/:id/look-ahead",
    async (request, response) => void response.json(await checks.lookAhead(await runs.head(request.params.id))),
  );
  router.post("/runs/:id/look-ahead/stop", (request, response) => {
    checks.stopLookAhead(request.params.id);
    response.status(202).json({});
  });
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
