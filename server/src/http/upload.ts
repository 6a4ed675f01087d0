/** Files that are sent to the server: written to its data folder as they come, and removed again once they are read. */
import { mkdir, open, rm } from "node:fs/promises";
import { join } from "node:path";
import { Transform } from "node:stream";
import { pipeline } from "node:stream/promises";
import { PlanTesterError } from "@plan-tester/core";
import type { Request } from "express";

/**
 * @param read is told with `gone` when nobody waits for its answer any more
 * @throws PlanTesterError limit for more bytes than are taken; conflict where one is being sent under the name
 */
export async function withUpload<T>(
  request: Request,
  folder: string,
  name: string,
  mostBytes: number,
  read: (file: string, gone: AbortSignal) => Promise<T>,
): Promise<T> {
  await mkdir(folder, { recursive: true });
  const file = join(folder, name);
  const own = await open(file, "wx").catch((error: NodeJS.ErrnoException) => {
    if (error.code !== "EEXIST") throw error;
    throw new PlanTesterError("conflict", "A file is being sent under this name already. Send this one under another.", { name });
  });
  const gone = new AbortController();
  const leave = (): void => gone.abort(new PlanTesterError("stopped", "The import was stopped. Nothing was changed.", {}));
  const { socket } = request;
  socket.once("close", leave);
  try {
    await pipeline(request, atMost(mostBytes), own.createWriteStream());
    return await read(file, gone.signal);
  } finally {
    socket.off("close", leave);
    await rm(file, { force: true });
  }
}

function atMost(limit: number): Transform {
  let seen = 0;
  return new Transform({
    transform(part: Buffer, _encoding, done) {
      seen += part.length;
      const words = limit >= 2 ** 30 ? `${limit / 2 ** 30} GiB` : `${limit / 2 ** 20} MiB`;
      done(seen > limit ? new PlanTesterError("limit", `The file is larger than ${words}. Split it.`, {}) : null, part);
    },
  });
}
