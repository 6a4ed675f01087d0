import { check, type Rename, renameSchema, type VersionCreate, versionCreateSchema } from "@plan-tester/contract";
import { Router } from "express";
import type { Journal } from "./journal.ts";
import type { VersionRepository } from "./versions.ts";

export function journalRoutes(journal: Journal, versions: VersionRepository): Router {
  const router = Router();
  router.get("/plans/:id/journal", async (request, response) => void response.json(await journal.trials(request.params.id)));
  router.get("/plans/:id/trials", async (request, response) => void response.json(await journal.context(request.params.id)));
  router.get("/plans/:id/versions", async (request, response) => void response.json(await versions.list(request.params.id)));
  router.post(
    "/plans/:id/versions",
    async (request, response) =>
      void response
        .status(201)
        .json(await versions.keep(request.params.id, check<VersionCreate>(versionCreateSchema, request.body, "the version"))),
  );
  router.get("/versions/:id", async (request, response) => void response.json(await versions.get(request.params.id)));
  router.put("/versions/:id", async (request, response) => {
    await versions.get(request.params.id);
    await versions.rename(request.params.id, check<Rename>(renameSchema, request.body, "the name").name);
    response.json(await versions.get(request.params.id));
  });
  return router;
}
