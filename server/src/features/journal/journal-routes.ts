import { check, type Rename, renameSchema, type VersionCreate, versionCreateSchema } from "@plan-tester/contract";
import { Router } from "express";
import type { Journal } from "./journal.ts";

export function journalRoutes(journal: Journal): Router {
  const router = Router();
  router.get("/journal", async (_request, response) => void response.json(await journal.trials("")));
  router.get("/plans/:id/journal", async (request, response) => void response.json(await journal.trials(request.params.id)));
  router.get("/plans/:id/trials", async (request, response) => void response.json(await journal.context(request.params.id)));
  router.get("/plans/:id/versions", async (request, response) => void response.json(await journal.versions(request.params.id)));
  router.post(
    "/plans/:id/versions",
    async (request, response) =>
      void response
        .status(201)
        .json(await journal.keepVersion(request.params.id, check<VersionCreate>(versionCreateSchema, request.body, "the version"))),
  );
  router.get("/versions/:id", async (request, response) => void response.json(await journal.version(request.params.id)));
  router.put("/versions/:id", async (request, response) => {
    await journal.version(request.params.id);
    await journal.rename(request.params.id, check<Rename>(renameSchema, request.body, "the name").name);
    response.json(await journal.version(request.params.id));
  });
  return router;
}
