import { check, packColumns, type SweepRequest, sweepRequestSchema } from "@plan-tester/contract";
import { SWEEP_FIGURES } from "@plan-tester/core";
import { Router } from "express";
import { dailyRowsOf } from "./daily-rows.ts";
import type { SweepService } from "./sweep-service.ts";

const read = (body: unknown): SweepRequest => check<SweepRequest>(sweepRequestSchema, body, "the sweep");

export function sweepRoutes(sweeps: SweepService): Router {
  const router = Router();
  router.get("/sweeps", async (_request, response) => void response.json(await sweeps.list()));
  router.post("/sweeps", async (request, response) => void response.status(201).json(await sweeps.start(read(request.body))));
  router.post("/sweeps/estimate", async (request, response) => void response.json(await sweeps.estimate(read(request.body))));
  router.get("/sweeps/:id", async (request, response) => void response.json((await sweeps.get(request.params.id)).detail));
  /** The points tried, in order, and a row of figures for each; rows that are not reached yet are empty. */
  router.get("/sweeps/:id/figures", async (request, response) => {
    const { points, figures } = await sweeps.get(request.params.id);
    const columns = [
      { name: "points", values: Float64Array.from(points) },
      { name: "figures", values: figures },
    ];
    response.type("application/octet-stream").send(Buffer.from(packColumns({}, columns)));
  });
  router.post("/sweeps/:id/stop", async (request, response) => {
    await sweeps.stop(request.params.id);
    response.json({});
  });
  router.post("/sweeps/:id/pause", async (request, response) => {
    await sweeps.stop(request.params.id, "paused");
    response.json({});
  });
  router.post("/sweeps/:id/resume", async (request, response) => {
    await sweeps.resume(request.params.id);
    response.status(202).json({});
  });
  /** Daily returns in-sample, one row for each variant that is done and keeps them. */
  router.get("/sweeps/:id/daily", async (request, response) => {
    const stored = await sweeps.get(request.params.id);
    const stretches = stored.detail.request.outOfSample ? 2 : 1;
    const { settings, daily } = dailyRowsOf(stored, SWEEP_FIGURES.length * stretches);
    response
      .type("application/octet-stream")
      .send(Buffer.from(packColumns({ settings, dailyStride: stored.dailyStride }, [{ name: "daily", values: daily }])));
  });
  router.delete("/sweeps/:id", async (request, response) => {
    await sweeps.delete(request.params.id);
    response.status(204).end();
  });
  return router;
}
