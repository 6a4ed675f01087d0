/** How the server is: asked by whoever watches over it, and shown on the page about the workspace. */
import type { Health } from "@plan-tester/contract";
import type { ProcessPool } from "@plan-tester/runner";
import type { Background } from "./background.ts";
import type { Database } from "./db/database.ts";
import { freeBytesAt } from "./db/write-failures.ts";
import type { RunQueue } from "./features/runs/run-queue.ts";
import type { WatchService } from "./features/watches/watch-service.ts";

/** Under so many bytes of room nothing is sure to be written. */
const LEAST_FREE = 50_000_000;

export interface HealthParts {
  readonly database: Database;
  readonly watches: WatchService | null;
  readonly interactive: ProcessPool;
  readonly sweepPool: ProcessPool;
  readonly queue: RunQueue;
  readonly background: Background;
}

export async function healthOf({ database, watches, interactive, sweepPool, queue, background }: HealthParts): Promise<Health> {
  const isReadable = await database.read.query("SELECT 1").then(
    () => true,
    () => false,
  );
  const freeBytes = freeBytesAt(database.file);
  const isConnected = watches?.venueStatus.connected ?? false;
  const jobs = queue.list();
  return {
    ok: isReadable && isConnected && (freeBytes === null || freeBytes >= LEAST_FREE),
    database: isReadable ? "ok" : "unreadable",
    venue: isConnected ? "connected" : "not connected",
    processes: { runs: { size: interactive.size, busy: interactive.busy }, sweeps: { size: sweepPool.size, busy: sweepPool.busy } },
    freeBytes,
    queue: {
      waiting: jobs.filter(({ state }) => state === "waiting").length,
      running: jobs.filter(({ state }) => state === "running").length,
    },
    troubles: background.troubles,
  };
}
