import { check, type SpeedRequest, speedSchema, type WatchRequest, watchRequestSchema } from "@plan-tester/contract";
import { Router } from "express";
import type { WatchService } from "./watch-service.ts";

export function watchRoutes(watches: WatchService): Router {
  const router = Router();
  router.get("/venue", (_request, response) => void response.json(watches.venueStatus));
  router.put(
    "/venue/speed",
    async (request, response) =>
      void response.json(await watches.setSpeed(check<SpeedRequest>(speedSchema, request.body, "the speed").speed)),
  );
  router.get("/watches", async (_request, response) => void response.json(await watches.list()));
  router.post(
    "/watches",
    async (request, response) =>
      void response.status(201).json(await watches.start(check<WatchRequest>(watchRequestSchema, request.body, "the watch"))),
  );
  router.get("/watches/:id", async (request, response) => void response.json(await watches.get(request.params.id)));
  router.post("/watches/:id/stop", async (request, response) => {
    await watches.stop(request.params.id, request.query.flatten === "yes");
    response.json({});
  });
  router.post("/watches/:id/flatten", async (request, response) => {
    await watches.flatten(request.params.id);
    response.json({});
  });
  return router;
}
