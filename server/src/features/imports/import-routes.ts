import { createWriteStream } from "node:fs";
import { mkdir, rm } from "node:fs/promises";
import { join } from "node:path";
import { Transform } from "node:stream";
import { pipeline } from "node:stream/promises";
import { check, type ImportRequest, importRequestSchema } from "@plan-tester/contract";
import { PlanTesterError } from "@plan-tester/core";
import { Router } from "express";
import type { ImportService } from "./import-service.ts";

const MOST_BYTES = 2 * 1024 * 1024 * 1024;

/** The file is the body; how to read it is JSON in the query. */
export function importRoutes(imports: ImportService, dataFolder: string): Router {
  const router = Router();
  router.post("/imports/:id", async (request, response) => {
    const { id } = request.params;
    if (!/^[A-Za-z0-9_-]{1,64}$/.test(id)) throw new PlanTesterError("bad-input", "The import's id is not a plain word.", {});
    let spec: unknown;
    try {
      spec = JSON.parse(String(request.query.spec));
    } catch {
      throw new PlanTesterError("bad-input", "The import's description is not JSON.", {});
    }
    const body = check<ImportRequest>(importRequestSchema, spec, "the import");
    const folder = join(dataFolder, "incoming");
    await mkdir(folder, { recursive: true });
    const file = join(folder, `${id}.csv`);
    try {
      await pipeline(request, atMost(MOST_BYTES), createWriteStream(file));
      response.json(await imports.import(id, file, body));
    } finally {
      await rm(file, { force: true });
    }
  });
  router.delete("/markets/:symbol", async (request, response) => {
    await imports.delete(request.params.symbol);
    response.status(204).end();
  });
  return router;
}

function atMost(limit: number): Transform {
  let seen = 0;
  return new Transform({
    transform(part: Buffer, _encoding, done) {
      seen += part.length;
      done(
        seen > limit ? new PlanTesterError("limit", `The file is larger than ${limit / 2 ** 30} GiB. Split it by years.`, {}) : null,
        part,
      );
    },
  });
}
