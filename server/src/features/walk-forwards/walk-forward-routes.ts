import { check, type WalkForwardRequest, walkForwardRequestSchema } from "@plan-tester/contract";
import { Router } from "express";
import type { WalkForwardService } from "./walk-forward-service.ts";

export function walkForwardRoutes(walks: WalkForwardService): Router {
  const router = Router();
  router.get("/walk-forwards", async (_request, response) => void response.json(await walks.list()));
  router.post(
    "/walk-forwards",
    async (request, response) =>
      void response
        .status(201)
        .json(await walks.start(check<WalkForwardRequest>(walkForwardRequestSchema, request.body, "the walk-forward"))),
  );
  router.get("/walk-forwards/:id", async (request, response) => void response.json(await walks.get(request.params.id)));
  router.post("/walk-forwards/:id/stop", (request, response) => {
    walks.stop(request.params.id);
    response.status(202).json({});
  });
  router.delete("/walk-forwards/:id", async (request, response) => {
    await walks.delete(request.params.id);
    response.status(204).end();
  });
  return router;
}
