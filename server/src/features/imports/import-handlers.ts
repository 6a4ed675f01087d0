import { createWriteStream } from "node:fs";
import { mkdir, rm } from "node:fs/promises";
import { join } from "node:path";
import { Transform } from "node:stream";
import { pipeline } from "node:stream/promises";
import { PlanTesterError } from "@plan-tester/core";
import type { HandlersOf } from "../../http/serve.ts";
import type { ImportService } from "./import-service.ts";

const MAX_BYTES = 2 * 1024 * 1024 * 1024;

export function importHandlers(imports: ImportService, dataFolder: string): HandlersOf<"importBars" | "deleteMarket"> {
  return {
    async importBars({ params: { id }, query: { spec } }, request) {
      const folder = join(dataFolder, "incoming");
      await mkdir(folder, { recursive: true });
      const file = join(folder, `${id}.csv`);
      try {
        await pipeline(request, atMost(MAX_BYTES), createWriteStream(file));
        return await imports.import(id, file, spec);
      } finally {
        await rm(file, { force: true });
      }
    },
    deleteMarket: ({ params }) => imports.delete(params.symbol),
  };
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
